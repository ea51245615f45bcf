/** Short names for what the service answers with; the shapes are made from its OpenAPI document. */

import type { components, operations } from "./schema";

type Schemas = components["schemas"];

export type Me = Schemas["Me"];
export type Session = Schemas["Session"];
export type ServerRow = Schemas["ServerRow"];
export type ShelfPicture = Schemas["ShelfPicture"];
export type ShelfBay = Schemas["ShelfBay"];
export type ServerDetail = Schemas["ServerDetail"];
export type ServerEdit = Schemas["PatchedServerEdit"];
export type NewServer = Schemas["NewServer"];
export type LaunchRecord = Schemas["Launch"];
export type ReleaseRow = Schemas["ReleaseRow"];
export type NewRequest = Schemas["NewRequest"];
export type RequestKind = Schemas["RequestRow"]["kind"];
export type KindOfRequest = Schemas["RequestKind"];
export type ProposedKnown = Schemas["ProposedKnown"];
export type ReleaseDetail = Schemas["ReleaseDetail"];
export type CommentRow = Schemas["CommentRow"];
export type FollowUpRow = Schemas["FollowUpRow"];
export type InboxEntry = Schemas["InboxEntry"];
export type Checkpoint = Schemas["Checkpoint"];
export type Verified = Schemas["Verified"];
export type PersonRow = Schemas["PersonRow"];
export type NewPerson = Schemas["NewPerson"];
export type PersonEdit = Schemas["PatchedPersonEdit"];
export type Invited = Schemas["Invited"];
export type FollowingRow = Schemas["FollowingRow"];
export type Way = FollowingRow["how"];
export type Mail = Schemas["Mail"];
export type WebhookRow = Schemas["WebhookRow"];
export type NewWebhook = Schemas["NewWebhook"];
export type MadeWebhook = Schemas["MadeWebhook"];
export type DeliveryRow = Schemas["DeliveryRow"];
export type UserNotes = Schemas["UserNotes"];
export type UserNoteRow = Schemas["UserNoteRow"];
export type LookRow = Schemas["LookRow"];
export type DeputyRow = Schemas["DeputyRow"];
export type Suspension = Schemas["SuspensionRow"];
export type Connection = Schemas["Connection"];
export type Line = Schemas["Line"];
export type Finding = Schemas["Finding"];
export type Rule = Schemas["Rule"];
export type Item = Schemas["Item"];
export type Items = Schemas["Items"];
export type Change = Schemas["Change"];
export type ChangeGroup = Schemas["ChangeGroup"];
export type ItemChanges = Schemas["ItemChanges"];
export type Comparison = Schemas["ReleaseComparison"];
export type Overlap = Schemas["Overlap"];
export type Overlaps = Schemas["Overlaps"];
export type Assessment = Schemas["Assessment"];
export type NextVersion = Comparison["next_version"];
export type RequestRow = Schemas["RequestRow"];
export type LastLook = Schemas["LastLook"];
export type MovedLine = Schemas["MovedLine"];
export type RequestDetail = Schemas["RequestDetail"];
export type RouteDesk = Schemas["RouteDesk"];
export type SignOff = Schemas["GivenSignOff"];
export type Found = Schemas["Found"];
export type Hit = Schemas["Hit"];
export type Piece = Schemas["Piece"];
export type LedgerEntry = Schemas["EntryRow"];
export type TokenRow = Schemas["TokenRow"];
export type NewToken = Schemas["NewToken"];
export type MadeToken = Schemas["MadeToken"];
export type SessionRow = Schemas["SessionRow"];
export type Timeline = Schemas["Timeline"];
export type TimelineStep = Schemas["TimelineStep"];
export type Team = Schemas["TeamRow"];

export type OverlapGroup = Schemas["Group"];
export type PairedOverlap = Schemas["PairedOverlap"];
export type OverlapMap = Schemas["OverlapMap"];
export type OverlapGroups = Schemas["Groups"];
export type RulingRow = Schemas["RulingRow"];
export type NewRuling = Pick<Schemas["NewRuling"], "pairs" | "word" | "reason"> &
  Partial<Schemas["NewRuling"]>;
export type Routing = Schemas["Routing"];
export type RoutingRow = Schemas["RoutingRow"];
export type RoutingRehearsal = Schemas["RoutingRehearsal"];
export type DeskRow = Schemas["DeskRow"];
export type Style = Schemas["Style"];
export type StyleRow = Schemas["StyleRow"];
export type StyleEffect = Schemas["StyleEffect"];
export type Summary = Schemas["Summary"];
export type SummaryRow = Schemas["SummaryRow"];
export type Placed = Schemas["Placed"];
export type WaiverRow = Schemas["WaiverRow"];
export type NewWaiver = Schemas["NewWaiver"];

export type NoticeRow = Schemas["NoticeRow"];
export type KitRow = Schemas["KitRow"];
export type KitDetail = Schemas["KitDetail"];
export type KitBehind = Schemas["Behind"];
export type KitLock = Schemas["KitLock"];
export type LockedItem = Schemas["LockedItem"];
export type KitCheck = Schemas["KitCheck"];
export type KitPut = Schemas["KitPut"];
export type KitHit = Schemas["KitHit"];
export type KitHitItem = Schemas["KitHitItem"];
export type KitWord = KitHit["word"];
export type KitMatrix = Schemas["KitMatrix"];
export type ProposedKit = Schemas["NamedProposal"];
export type ReleaseHeld = Schemas["ReleaseHeld"];
export type Ending = Schemas["Ending"];

export type Impact = Change["impact"];
export type Level = Finding["level"];
export type Answer = SignOff["answer"];
export type Facts = Record<string, string | number | boolean | string[] | null>;

export type LedgerEvent = NonNullable<
  NonNullable<operations["list_ledger"]["parameters"]["query"]>["event"]
>;

export const DATA_CLASSES = [
  "public",
  "internal",
  "confidential",
  "restricted",
] as const satisfies readonly ServerRow["data_class"][];

export interface Page<Row> {
  results: Row[];
  next: string | null;
}
