import type { ServerRow } from "../src/api/types";

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
