import { Link } from "react-router";
import type { ServerRow } from "../../api/types";
import { itemPath } from "../../lib/text";
import { StateMark } from "../../ui/marks";
import { type Column, DataTable } from "../../ui/table";

/** The same servers as rows. */
export function ServersTable({ rows, mine }: { rows: ServerRow[]; mine: Set<string> }) {
  const columns: Column<ServerRow>[] = [
    {
      key: "server",
      title: "Server",
      value: (row) => row.slug,
      cell: (row) => (
        <>
          <Link to={`/servers/${row.slug}`} className="font-mono font-semibold">
            {row.slug}
          </Link>
          <div className="text-soft">{row.title}</div>
        </>
      ),
    },
    {
      key: "team",
      title: "Team",
      value: (row) => row.team_title,
      cell: (row) => row.team_title,
      nowrap: true,
    },
    {
      key: "version",
      title: "Current",
      value: (row) => row.current_version,
      nowrap: true,
      cell: (row) =>
        row.current_version ? (
          <Link to={itemPath(row.slug, row.current_version)} className="font-mono">
            {row.current_version}
          </Link>
        ) : (
          <span className="text-soft">none</span>
        ),
    },
    {
      key: "items",
      title: "Items",
      number: true,
      value: (row) => row.current_items,
      cell: (row) => row.current_items ?? "–",
    },
    {
      key: "tokens",
      title: "Tokens",
      number: true,
      value: (row) => row.current_tokens,
      cell: (row) => row.current_tokens?.toLocaleString("en") ?? "–",
    },
    {
      key: "data",
      title: "Data class",
      value: (row) => row.data_class,
      cell: (row) => row.data_class,
    },
    {
      key: "transport",
      title: "Transport",
      value: (row) => row.transports.join(" "),
      cell: (row) => row.transports.join(", ") || "–",
      nowrap: true,
    },
    {
      key: "state",
      title: "State",
      cell: (row) => (
        <div className="flex flex-wrap gap-x-4">
          {row.suspended ? <StateMark state="suspended" /> : null}
          {row.current_version ? <StateMark state="published" /> : null}
          {!row.current_version && row.deprecated_version ? <StateMark state="deprecated" /> : null}
          {!row.current_version && !row.deprecated_version ? <StateMark state="empty" /> : null}
          {row.waiting ? <StateMark state="in-review" /> : null}
          {row.reviewed === false ? <StateMark state="adopted" /> : null}
          {mine.has(row.slug) ? <StateMark state="mine" /> : null}
        </div>
      ),
    },
  ];
  return (
    <DataTable
      label="Servers"
      columns={columns}
      rows={rows}
      rowKey={(row) => row.slug}
      sort="server"
    />
  );
}
