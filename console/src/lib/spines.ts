/** The shelf in numbers: what a spine's height and width say, and which servers stand in which bay. */

import type { ServerRow } from "../api/types";

export interface Spine {
  row: ServerRow;
  /** Items and tokens of the release that stands there: the current one, else the last deprecated one. */
  items: number;
  tokens: number;
  height: number;
  width: number;
  state: "published" | "deprecated" | "empty";
  mine: boolean;
}

export interface Bay {
  team: string;
  title: string;
  hue: number;
  spines: Spine[];
}

export const LEAST = { height: 184, width: 46 };
export const MOST = { height: 300, width: 112 };
export const HUES = 8;
const ROOMY_TEAMS = 8;
const ROOMY_SERVERS = 60;

/** Let a measure grow from the least size by equal steps, so that the largest gets the most. */
const grown = (value: number, largest: number, least: number, most: number): number =>
  Math.round(least + (largest ? (most - least) * (value / largest) : 0));

/** Arrange servers in the bays of their teams. Hues go by all teams, so that filters move none. */
export function bays(rows: ServerRow[], all: ServerRow[], mine: Set<string>): Bay[] {
  const teams = [...new Set(all.map((row) => row.team_slug))].sort();
  const largest = {
    items: Math.max(0, ...all.map(itemsOf)),
    tokens: Math.max(0, ...all.map(tokensOf)),
  };
  return teams
    .map((team, index) => {
      const own = rows.filter((row) => row.team_slug === team);
      return {
        team,
        title: own[0]?.team_title ?? team,
        hue: index % HUES,
        spines: own.map((row) => spine(row, largest, mine.has(row.slug))),
      };
    })
    .filter((bay) => bay.spines.length > 0);
}

function spine(row: ServerRow, largest: { items: number; tokens: number }, mine: boolean): Spine {
  const [items, tokens] = [itemsOf(row), tokensOf(row)];
  return {
    row,
    items,
    tokens,
    height: grown(items, largest.items, LEAST.height, MOST.height),
    width: grown(tokens, largest.tokens, LEAST.width, MOST.width),
    state: row.current_version ? "published" : row.deprecated_version ? "deprecated" : "empty",
    mine,
  };
}

const itemsOf = (row: ServerRow) => row.current_items ?? row.deprecated_items ?? 0;
const tokensOf = (row: ServerRow) => row.current_tokens ?? row.deprecated_tokens ?? 0;

/** Whether bays stand open by themselves: not where there are too many to take in. */
export const roomy = (found: Bay[]): boolean =>
  found.length <= ROOMY_TEAMS &&
  found.reduce((sum, bay) => sum + bay.spines.length, 0) <= ROOMY_SERVERS;

/** How large a slug is written on a spine, in pixels, so that all of it fits. */
export function lettering(slug: string, height: number): number {
  const room = height - 58;
  const wanted = room / (slug.length * 0.58);
  return Math.max(11, Math.min(15, Math.floor(wanted * 2) / 2));
}

export const STATES = {
  published: "published",
  "in-review": "in review",
  deprecated: "deprecated",
  suspended: "suspended",
  empty: "no release yet",
  adopted: "adopted, not reviewed",
  mine: "waits for you",
} as const;

export interface Wanted {
  name: string;
  team: string;
  state: string;
  tag: string;
  data: string;
  transport: string;
}

/** Whether a server is among those that are asked for. */
export function fits(row: ServerRow, wanted: Wanted, mine: Set<string>): boolean {
  const text = `${row.slug} ${row.title} ${row.team_title} ${row.tags.join(" ")}`.toLowerCase();
  return (
    text.includes(wanted.name.toLowerCase()) &&
    (!wanted.team || row.team_slug === wanted.team) &&
    (!wanted.tag || row.tags.includes(wanted.tag)) &&
    (!wanted.data || row.data_class === wanted.data) &&
    (!wanted.transport || row.transports.includes(wanted.transport)) &&
    (!wanted.state || isIn(row, wanted.state, mine))
  );
}

function isIn(row: ServerRow, state: string, mine: Set<string>): boolean {
  switch (state) {
    case "published":
      return row.current_version !== null;
    case "in-review":
      return row.waiting;
    case "deprecated":
      return row.current_version === null && row.deprecated_version !== null;
    case "suspended":
      return row.suspended;
    case "empty":
      return row.current_version === null && row.deprecated_version === null;
    case "adopted":
      return row.reviewed === false;
    case "mine":
      return mine.has(row.slug);
    default:
      return true;
  }
}
