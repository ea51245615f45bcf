/** The home page: every server a book on the shelf of its team, or a row of the table twin. */

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useMemo, useState } from "react";
import { queries } from "../../api/queries";
import type { ShelfPicture } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { useSettled } from "../../lib/settled";
import { askedOf, type Mine, type Wanted } from "../../lib/spines";
import { plural } from "../../lib/text";
import { Empty, Heading, Loaded, NoMatches } from "../../ui/parts";
import { Filters } from "./filters";
import { Legend, Shelf } from "./shelf";
import { ServersTable } from "./table";

const EnrolDialog = lazy(() => import("./enrol"));

const FILTERS = ["name", "team", "state", "tag", "data", "transport"] as const;

export function ShelfPage() {
  const [read] = useParamsOf();
  const waiting = useQuery(queries.mine()).data;
  const mine: Mine = useMemo(
    () => new Map((waiting ?? []).map((row) => [row.server, row.team])),
    [waiting],
  );
  const wanted = Object.fromEntries(FILTERS.map((one) => [one, read(one)])) as unknown as Wanted;
  const asked = askedOf({ ...wanted, name: useSettled(wanted.name, 180) });
  const found = useQuery({ ...queries.shelf(asked), placeholderData: keepPreviousData });
  return (
    <Loaded query={found}>
      {(picture) => <Servers found={picture} wanted={wanted} asked={asked} mine={mine} />}
    </Loaded>
  );
}

function Servers({
  found,
  wanted,
  asked,
  mine,
}: {
  found: ShelfPicture;
  wanted: Wanted;
  asked: ReturnType<typeof askedOf>;
  mine: Mine;
}) {
  const [read, write] = useParamsOf();
  const [enrolling, setEnrolling] = useState(false);
  const me = useQuery(queries.me());
  const asTable = read("view") === "table";
  const mayEnrol = me.data && ["submitter", "curator", "steward"].includes(me.data.role);
  return (
    <>
      <Heading
        title={`${plural(found.servers, "server")}, ${plural(found.tools, "tool")}`}
        name="Shelf"
        aside={
          <>
            <button
              type="button"
              className="button"
              onClick={() => write({ view: asTable ? null : "table", sort: null }, "push")}
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
      {found.on_shelf > 0 ? <Filters found={found} wanted={wanted} onChange={write} /> : null}
      {found.on_shelf === 0 ? (
        <Empty>
          No server is on the shelf yet. Put one there, or let a steward take in what runs today:
          tallshelf admin adopt.
        </Empty>
      ) : null}
      {found.on_shelf > 0 && found.servers === 0 ? <NoMatches /> : null}
      {found.servers > 0 ? (
        asTable ? (
          <ServersTable asked={asked} mine={mine} />
        ) : (
          <>
            <Shelf found={found} asked={asked} mine={mine} />
            <Legend />
          </>
        )
      ) : null}
      <Suspense>{enrolling ? <EnrolDialog onClose={() => setEnrolling(false)} /> : null}</Suspense>
    </>
  );
}
