import type { ServerRow, ShelfPicture } from "../src/api/types";

/** One row of the list of servers, as the service answers it. */
export const server = (slug: string, more: Partial<ServerRow> = {}): ServerRow => ({
  slug,
  title: slug,
  contact: "c@pellam.example",
  source_link: "",
  data_class: "internal",
  scheme: "semver",
  use: "open",
  tags: [],
  suspended: false,
  changed_at: "2030-01-31T12:00:00.000Z",
  waiting: false,
  team_slug: "berths",
  team_title: "Berths",
  current_version: "1.0.0",
  current_items: 3,
  current_tools: 3,
  current_tokens: 200,
  deprecated_version: null,
  deprecated_items: null,
  deprecated_tokens: null,
  transports: ["stdio"],
  reviewed: true,
  ...more,
});

/** The shelf as the service draws it: of these rows among all there are, with the rows where they are few. */
export function picture(rows: ServerRow[], all = rows): ShelfPicture {
  const teams = [...new Set(all.map((row) => row.team_slug))].sort();
  const most = (of: (row: ServerRow) => number | null) =>
    Math.max(0, ...all.map((row) => of(row) ?? 0));
  return {
    on_shelf: all.length,
    servers: rows.length,
    tools: 0,
    largest: {
      items: Math.max(
        most((row) => row.current_items),
        most((row) => row.deprecated_items),
      ),
      tokens: most((row) => row.current_tokens),
    },
    teams: teams.map((slug) => ({ slug, title: slug })),
    tags: [],
    bays: teams.flatMap((team, place) => {
      const own = rows.filter((row) => row.team_slug === team);
      const title = own[0]?.team_title ?? team;
      const counts = { items: own.length * 3, waiting: 0, suspended: 0, deprecated: 0 };
      const edges = own.map((row) => row.current_items ?? 0);
      return own.length ? [{ team, title, place, servers: own.length, ...counts, edges }] : [];
    }),
    rows: rows.length <= 60 ? rows : [],
  };
}
