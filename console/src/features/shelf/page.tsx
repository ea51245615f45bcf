/** The home page: every server a book on the shelf of its team, or a row of the table twin. */

import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { queries } from "../../api/shelf";
import type { ServerRow } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { bays, fits, type Wanted } from "../../lib/spines";
import { plural } from "../../lib/text";
import { Empty, Heading, Loaded, NoMatches } from "../../ui/parts";
import { Filters } from "./filters";
import { Legend, Shelf } from "./shelf";
import { ServersTable } from "./table";

const EnrolDialog = lazy(() => import("./enrol"));

const FILTERS = ["name", "team", "state", "tag", "data", "transport"] as const;

export function ShelfPage() {
  const servers = useQuery(queries.servers());
  const mine = useQuery(queries.mine());
  const waiting = new Set((mine.data ?? []).map((row) => row.server));
  return <Loaded query={servers}>{(rows) => <Servers rows={rows} mine={waiting} />}</Loaded>;
}

function Servers({ rows, mine }: { rows: ServerRow[]; mine: Set<string> }) {
  const [read, write] = useParamsOf();
  const [enrolling, setEnrolling] = useState(false);
  const me = useQuery(queries.me());
  const asTable = read("view") === "table";
  const wanted = Object.fromEntries(FILTERS.map((one) => [one, read(one)])) as Record<
    keyof Wanted,
    string
  >;
  const shown = rows.filter((row) => fits(row, wanted, mine));
  const tools = shown.reduce((sum, row) => sum + (row.current_tools ?? 0), 0);
  const mayEnrol = me.data && ["submitter", "curator", "steward"].includes(me.data.role);
  return (
    <>
      <Heading
        title={`${plural(shown.length, "server")}, ${plural(tools, "tool")}`}
        name="Shelf"
        aside={
          <>
            <button
              type="button"
              className="button"
              onClick={() =>
                write({ view: asTable ? null : "table", sort: null, page: null }, "push")
              }
            >
              {asTable ? "As a shelf" : "As a table"}
            </button>
            {mayEnrol ? (
              <button
                type="button"
                className="button"
                data-kind="main"
                onClick={() => setEnrolling(true)}
              >
                Put a server on the shelf
              </button>
            ) : null}
          </>
        }
      >
        {asTable
          ? "Approved for use here, by the team that owns them."
          : "The taller, the more items; the wider, the more tokens a model reads."}
      </Heading>
      {rows.length > 0 ? <Filters rows={rows} wanted={wanted} onChange={write} /> : null}
      {rows.length === 0 ? (
        <Empty>
          No server is on the shelf yet. Put one there, or let a steward take in what runs today:
          tallshelf admin adopt.
        </Empty>
      ) : null}
      {rows.length > 0 && shown.length === 0 ? <NoMatches /> : null}
      {shown.length > 0 ? (
        asTable ? (
          <ServersTable rows={shown} mine={mine} />
        ) : (
          <>
            <Shelf bays={bays(shown, rows, mine)} />
            <Legend />
          </>
        )
      ) : null}
      <Suspense>{enrolling ? <EnrolDialog onClose={() => setEnrolling(false)} /> : null}</Suspense>
    </>
  );
}
