import { keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries, type WantedServers } from "../../api/queries";
import type { ServerRow } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { readSort, writeSort } from "../../lib/rows";
import type { Mine } from "../../lib/spines";
import { itemPath } from "../../lib/text";
import { StateMark } from "../../ui/marks";
import { Loaded } from "../../ui/parts";
import { type Column, GrowingTable } from "../../ui/table";

/** What the service sorts by, by the columns here. */
const SORTS: Record<string, string> = {
  server: "slug",
  team: "team",
  items: "items",
  tokens: "tokens",
  data: "data_class",
};

/** The same servers as rows, as many as are asked for. */
export function ServersTable({ asked, mine }: { asked: WantedServers; mine: Mine }) {
  const [read] = useParamsOf();
  const sort = readSort(read("sort"), "server");
  const sorted = writeSort({ ...sort, key: SORTS[sort.key] ?? "slug" });
  const servers = useInfiniteQuery({
    ...queries.serverRows(asked, sorted),
    placeholderData: keepPreviousData,
  });
  const columns: Column<ServerRow>[] = [
    {
      key: "server",
      title: "Server",
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
      cell: (row) => row.team_title,
      nowrap: true,
    },
    {
      key: "version",
      title: "Current",
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
      cell: (row) => row.current_items ?? "–",
    },
    {
      key: "tokens",
      title: "Tokens",
      number: true,
      cell: (row) => row.current_tokens?.toLocaleString("en") ?? "–",
    },
    {
      key: "data",
      title: "Data class",
      cell: (row) => row.data_class,
    },
    {
      key: "transport",
      title: "Transport",
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
    <Loaded query={servers}>
      {({ pages }) => (
        <GrowingTable
          label="Servers"
          columns={columns}
          rows={pages.flatMap((page) => page.results)}
          rowKey={(row) => row.slug}
          sorts={Object.keys(SORTS)}
          sort="server"
          more={servers.hasNextPage ? "More servers" : ""}
          onMore={() => servers.fetchNextPage()}
          busy={servers.isFetchingNextPage}
          stale={servers.isPlaceholderData}
        />
      )}
    </Loaded>
  );
}
