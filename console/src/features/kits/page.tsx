/** Every kit: what agents and teams work with, what it takes of a model's context, and what has trouble. */

import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { Link } from "react-router";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { KitRow, ProposedKit } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { readSort, writeSort } from "../../lib/rows";
import { useSettled } from "../../lib/settled";
import { plural } from "../../lib/text";
import { type Consent, ConsentButtons, ConsentDialog } from "../../ui/answer";
import { SearchField, Select } from "../../ui/form";
import { Mark } from "../../ui/marks";
import { Code, Empty, Foreign, Heading, Loaded, NoMatches } from "../../ui/parts";
import { type Column, GrowingTable } from "../../ui/table";
import { Tabs } from "../../ui/tabs";
import { KIT_PAGES } from "./pages";

const PutDialog = lazy(() => import("./put"));

export function Component() {
  const [putting, setPutting] = useState(false);
  return (
    <>
      <Heading
        title="Kits"
        aside={
          <button
            type="button"
            className="button"
            data-kind="main"
            onClick={() => setPutting(true)}
          >
            Put a kit on the shelf
          </button>
        }
      >
        What agents and teams work with: by this the shelf knows whom a change hits.
      </Heading>
      <Tabs label="Kits" pages={KIT_PAGES} />
      <Proposals />
      <Kits />
      <Suspense>{putting ? <PutDialog onClose={() => setPutting(false)} /> : null}</Suspense>
    </>
  );
}

/** Kits that wait to be put: for a second curator, or for owners of what they use. */
function Proposals() {
  const rows = useQuery(queries.proposedKits()).data ?? [];
  return rows.map((row) => <Proposed key={row.name} row={row} />);
}

function Proposed({ row }: { row: ProposedKit }) {
  const [answer, setAnswer] = useState<Consent | null>(null);
  return (
    <section
      aria-label={
        row.raises ? `${row.name} would see ${row.data_class} data` : `${row.name} waits for owners`
      }
      className="mb-6 border-l-4 border-amber bg-amber-wash px-4 py-3"
    >
      <p className="mb-2">
        {row.by} proposes{" "}
        {row.raises ? (
          <>
            that <span className="font-mono">{row.name}</span> of {row.team} sees{" "}
            <strong>{row.data_class}</strong> data
          </>
        ) : (
          <>
            <span className="font-mono">{row.name}</span> of {row.team}
          </>
        )}
        : “<Foreign text={row.reason} />”
      </p>
      <Waits row={row} />
      <details className="mb-3">
        <summary>The kit as it would be</summary>
        <div className="mt-2">
          <Code label={`The kit ${row.name}`} text={row.text} />
        </div>
      </details>
      {row.may_answer ? (
        <ConsentButtons onAnswer={setAnswer} />
      ) : (
        <p className="text-soft">
          {row.raises ? "It waits for a second curator." : "It is put once they agree."}
        </p>
      )}
      <ConsentDialog
        what={`the kit ${row.name}`}
        answer={answer}
        onAnswer={(chosen, note) => acts.answerKit(row.name, chosen, note)}
        onClose={() => setAnswer(null)}
      />
    </section>
  );
}

/** The owners who were asked whether it may use their servers, and why it could not be put, if so. */
export function Waits({ row }: { row: Pick<ProposedKit, "waits_for" | "note"> }) {
  return (
    <>
      {row.waits_for.length ? (
        <ul className="mb-2">
          {row.waits_for.map((one) => (
            <li key={one.server}>
              <Link to={`/requests/${one.request}`}>Request {one.request}</Link> asks {one.team}{" "}
              whether it may use <span className="font-mono">{one.server}</span>.
            </li>
          ))}
        </ul>
      ) : null}
      {row.note ? (
        <p className="mb-2">
          <Foreign text={row.note} />
        </p>
      ) : null}
    </>
  );
}

const TROUBLES = [
  ["", "any"],
  ["suspended", "holds what is suspended"],
  ["ended", "holds what has ended"],
  ["budget", "over its budget"],
] as const;

/** What the service sorts by, by the columns here. */
const SORTS: Record<string, string> = {
  kit: "name",
  team: "team",
  environment: "environment",
  items: "items",
  tokens: "tokens",
  data: "data_class",
};

function Kits() {
  const [read, write] = useParamsOf();
  const teams = useQuery(queries.teams()).data ?? [];
  const [team, trouble] = [read("team"), read("trouble")];
  const name = useSettled(read("name"), 180);
  const sort = readSort(read("sort"), "kit");
  const sorted = writeSort({ ...sort, key: SORTS[sort.key] ?? "name" });
  const kits = useInfiniteQuery({
    ...queries.kits({ q: name, team, trouble, sort: sorted }),
    placeholderData: keepPreviousData,
  });
  return (
    <>
      <fieldset className="mb-6 grid grid-cols-2 items-end gap-4 sm:grid-cols-3 lg:max-w-3xl">
        <legend className="sr-only">Which kits</legend>
        <SearchField
          label="Name or title"
          value={read("name")}
          onSearch={(text) => write({ name: text })}
        />
        <Select
          label="Team"
          choices={[["", "all"], ...teams.map((one) => [one.slug, one.title] as const)]}
          value={team}
          onChange={(event) => write({ team: event.target.value })}
        />
        <Select
          label="Trouble"
          choices={TROUBLES}
          value={trouble}
          onChange={(event) => write({ trouble: event.target.value })}
        />
      </fieldset>
      <Loaded query={kits}>
        {({ pages }) => {
          const rows = pages.flatMap((page) => page.results);
          if (rows.length === 0) {
            return name || team || trouble ? (
              <NoMatches />
            ) : (
              <Empty>
                No kit is on the shelf yet. Propose one from what a host has: tallshelf kit read
                FILE.
              </Empty>
            );
          }
          return (
            <GrowingTable
              label="Kits"
              columns={COLUMNS}
              rows={rows}
              rowKey={(row) => row.name}
              sorts={Object.keys(SORTS)}
              sort="kit"
              more={kits.hasNextPage ? "More kits" : ""}
              onMore={() => kits.fetchNextPage()}
              busy={kits.isFetchingNextPage}
              stale={kits.isPlaceholderData}
            />
          );
        }}
      </Loaded>
    </>
  );
}

const COLUMNS: Column<KitRow>[] = [
  {
    key: "kit",
    title: "Kit",
    cell: (row) => (
      <>
        <Link to={`/kits/${row.name}`} className="font-mono font-semibold">
          {row.name}
        </Link>
        <div className="text-soft">{row.title}</div>
      </>
    ),
  },
  {
    key: "team",
    title: "Team",
    nowrap: true,
    cell: (row) => row.team_title,
  },
  {
    key: "environment",
    title: "Environment",
    cell: (row) => row.environment,
  },
  {
    key: "items",
    title: "Items",
    number: true,
    cell: (row) => row.held_items,
  },
  {
    key: "tokens",
    title: "Tokens",
    number: true,
    cell: (row) => (
      <>
        {row.tokens.toLocaleString("en")}
        {row.budget ? (
          <div className="text-sm text-soft">of {row.budget.toLocaleString("en")}</div>
        ) : null}
      </>
    ),
  },
  {
    key: "data",
    title: "Sees",
    cell: (row) => row.data_class,
  },
  {
    key: "trouble",
    title: "Trouble",
    cell: (row) => <Troubles row={row} />,
  },
];

function Troubles({ row }: { row: KitRow }) {
  return (
    <div className="flex flex-wrap gap-x-4">
      {row.suspended ? (
        <Mark shape="dashed" tone="brick">
          {plural(row.suspended, "server")} suspended
        </Mark>
      ) : null}
      {row.deprecated ? (
        <Mark shape="hatched" tone="soft">
          {plural(row.deprecated, "release")} ended
        </Mark>
      ) : null}
      {row.budget !== null && row.tokens > row.budget ? (
        <Mark shape="triangle" tone="amber">
          over its budget
        </Mark>
      ) : null}
    </div>
  );
}
