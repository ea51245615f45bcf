/** The shelf in numbers: what a spine's height and width say, and which servers stand in which bay. */

import type { WantedServers } from "../api/queries";
import type { ServerRow, ShelfBay, ShelfPicture } from "../api/types";

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
  counts: ShelfBay;
  /** How many of its servers wait for whoever looks. */
  mine: number;
  /** Its servers; null while they are not here. */
  spines: Spine[] | null;
}

/** The servers in which something waits for whoever looks, each with its team. */
export type Mine = ReadonlyMap<string, string>;

export const LEAST = { height: 184, width: 46 };
export const MOST = { height: 300, width: 112 };
export const HUES = 8;
const ROOMY_TEAMS = 8;

/** Let a measure grow from the least size by equal steps, so that the largest gets the most. */
const grown = (value: number, largest: number, least: number, most: number): number =>
  Math.round(least + (largest ? (most - least) * (value / largest) : 0));

/** Whether all servers that are asked for came with the picture. */
export const isWhole = (found: ShelfPicture): boolean => found.rows.length === found.servers;

/** Arrange servers in the bays of their teams: those that came with the picture, or as they come for a team. */
export function bays(
  found: ShelfPicture,
  mine: Mine,
  rowsOf: (team: string) => ServerRow[] | undefined = () => undefined,
): Bay[] {
  return found.bays.map((bay) => {
    const came = isWhole(found)
      ? found.rows.filter((row) => row.team_slug === bay.team)
      : undefined;
    const rows = came ?? rowsOf(bay.team);
    const waits = rows?.map((row) => row.slug).filter((slug) => mine.has(slug));
    return {
      team: bay.team,
      title: bay.title,
      hue: bay.place % HUES,
      counts: bay,
      mine: (waits ?? [...mine.values()].filter((team) => team === bay.team)).length,
      spines: rows?.map((row) => spine(row, found.largest, mine.has(row.slug))) ?? null,
    };
  });
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
export const roomy = (found: ShelfPicture): boolean =>
  found.bays.length <= ROOMY_TEAMS && isWhole(found);

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
  "waits-for-me": "waits for you",
} as const;

export interface Wanted {
  name: string;
  team: string;
  state: string;
  tag: string;
  data: string;
  transport: string;
}

/** Return what is asked of the service for it. */
export const askedOf = (wanted: Wanted): WantedServers => ({
  q: wanted.name,
  team: wanted.team,
  state: wanted.state,
  tag: wanted.tag,
  data_class: wanted.data,
  transport: wanted.transport,
});
