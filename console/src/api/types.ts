/** What the service's API answers with; see /api/v1/openapi.json. */

export type Impact = "breaking" | "undecided" | "caution" | "compatible";
export type Level = "error" | "warning" | "note";

export interface Me {
  username: string;
  name: string;
  role: "reader" | "submitter" | "curator" | "steward" | "ci";
  teams: string[];
  desks: string[];
}

export interface Page<Row> {
  results: Row[];
  next: string | null;
}

export interface ServerRow {
  slug: string;
  title: string;
  contact: string;
  source_link: string;
  data_class: string;
  tags: string[];
  suspended: boolean;
  waiting: boolean;
  team_slug: string;
  team_title: string;
  current_version: string | null;
  current_items: number | null;
  current_tools: number | null;
  current_tokens: number | null;
}

export interface LaunchRecord {
  environment: string;
  transport: string;
  command?: string;
  args?: string[];
  package?: { name: string; version: string; integrity?: string };
  url?: string;
  env?: string[];
  headers?: string[];
}

export interface ReleaseRow {
  server: string;
  version: string;
  state: string;
  digest: string;
  snapshot_digest: string;
  origin: string;
  launch: LaunchRecord[];
  item_count: number;
  tool_count: number;
  tokens: number;
  submitted_by: string;
  submitted_at: string;
  published_at: string | null;
  ended_at: string | null;
  end_reason: string;
}

export interface Suspension {
  id: number;
  server: string;
  item: string;
  reason: string;
  by: string;
  at: string;
}

export interface ServerDetail extends ServerRow {
  releases: ReleaseRow[];
  suspensions: Suspension[];
}

export interface Connection {
  release: string;
  environment: string;
  environments: string[];
  warning: string;
  block: Record<string, unknown>;
}

export interface Line {
  name: string;
  type: string;
  required: boolean;
  description: string;
  pointer: string;
}

export interface Finding {
  rule: string;
  family: string;
  level: Level;
  item: string;
  pointer: string;
  span: [number, number] | null;
  message: string;
  fingerprint: string;
  waived: string | null;
  known: boolean;
}

export interface Item {
  item: string;
  name: string;
  kind: string;
  description: string;
  tokens: number;
  digest: string;
  parameters: Line[];
  results: Line[];
  findings: Finding[];
  declared: Record<string, unknown>;
}

export interface Items {
  server: string;
  instructions: string;
  tokens: number;
  token_method: string;
  items: Item[];
  findings: Finding[];
}

export interface Change {
  item: string;
  kind: string;
  impact: Impact;
  reach: string[];
  silent: boolean;
  folded: boolean;
  old_pointer: string | null;
  new_pointer: string | null;
  message: string;
  witness: { instance: unknown; accepted_by: "old" | "new"; refused_by: "old" | "new" } | null;
}

export interface NextVersion {
  declared: string | null;
  honest: string | null;
  is_honest: boolean;
  because: string[];
}

export interface Comparison {
  releases: { old: string; new: string };
  changes: Change[];
  next_version: NextVersion;
  untouched: number;
  not_checked: string[];
}

export interface Overlap {
  a: { server?: string; item: string };
  b: { server?: string; item: string };
  class: "same-job" | "near" | "related";
  score: number;
  reasons: string[];
}

export interface Assessment {
  passed: boolean;
  because: string[];
  not_checked: string[];
  base: string | null;
  next_version: NextVersion;
  changes: Change[] | null;
  untouched: number | null;
  findings: Finding[];
  overlaps: Overlap[] | null;
  facts: Record<string, string | number | boolean | string[] | null>;
}

export interface RequestRow {
  id: number;
  state: string;
  server: string;
  version: string;
  team: string;
  opened_by: string;
  opened_at: string;
  waits_for: string[];
  due_at: string | null;
  mine: boolean;
}

export interface RouteDesk {
  desk: string;
  title: string;
  needed: number;
  agreed: { name: string; at: string }[];
  due_at: string;
  reasons: string[];
  standing: "agreed" | "asked" | "later";
}

export interface SignOff {
  desk: string;
  name: string;
  answer: string;
  note: string;
  at: string;
  voided: boolean;
}

export interface RequestDetail extends RequestRow {
  note: string;
  release_digest: string;
  approved_by: string;
  route: RouteDesk[][];
  sign_offs: SignOff[];
  warnings: string[];
  assessment: Assessment;
  may_sign_at: string[];
  may_publish: boolean;
  may_take_back: boolean;
}

export type Answer = "agree" | "send-back" | "decline";
