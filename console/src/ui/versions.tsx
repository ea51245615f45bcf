/** Versions of a text that rules others: the house style, the routing rules. */

import { Link } from "react-router";
import type { RoutingRow, StyleRow } from "../api/types";
import { when } from "../lib/text";
import { Mark } from "./marks";
import { Foreign } from "./parts";
import type { Column } from "./table";

type VersionRow = StyleRow | RoutingRow;

export function VersionState({ state }: { state: VersionRow["state"] }) {
  const shapes = {
    "in force": ["disc", "moss"],
    proposed: ["ribbon", "amber"],
    declined: ["cross", "brick"],
    "was in force": ["open", "soft"],
  } as const;
  const [shape, tone] = shapes[state];
  return (
    <Mark shape={shape} tone={tone}>
      {state === "was in force" ? "replaced" : state}
    </Mark>
  );
}

export const versionColumns = (page: string): Column<VersionRow>[] => [
  {
    key: "version",
    title: "Version",
    value: (row) => row.version,
    cell: (row) => (
      <Link
        to={`${page}?version=${row.version}`}
        aria-label={`Version ${row.version}`}
        className="font-semibold"
      >
        {row.version}
      </Link>
    ),
  },
  {
    key: "state",
    title: "State",
    value: (row) => row.state,
    nowrap: true,
    cell: (row) => <VersionState state={row.state} />,
  },
  { key: "note", title: "Why", cell: (row) => <Foreign text={row.note} /> },
  {
    key: "by",
    title: "By",
    value: (row) => row.by,
    cell: (row) => (
      <>
        {row.by}
        {row.agreed_by ? (
          <div className="text-sm text-soft">agreed to by {row.agreed_by}</div>
        ) : null}
      </>
    ),
  },
  {
    key: "at",
    title: "At",
    value: (row) => row.at,
    nowrap: true,
    cell: (row) => when(row.at),
  },
];
