import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../../api/shelf";
import type { RequestRow } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { subjectOf } from "../../lib/asks";
import { day, fromNow, when } from "../../lib/text";
import { SearchField, Select } from "../../ui/form";
import { Mark, StateMark } from "../../ui/marks";
import { Empty, Heading, Loaded, NoMatches } from "../../ui/parts";
import { type Column, DataTable } from "../../ui/table";
import { Tabs } from "../../ui/tabs";
import { useKinds, Verb } from "./kinds";
import { REQUEST_PAGES } from "./pages";

const STATES = [
  ["", "not decided yet"],
  ["all", "all"],
  ["open", "open"],
  ["sent-back", "sent back"],
  ["agreed", "agreed, not published"],
  ["done", "done"],
  ["declined", "declined"],
  ["taken-back", "taken back"],
] as const;

export function Component() {
  const [read, write] = useParamsOf();
  const state = read("state");
  const asked = state === "all" ? "" : state || "live";
  const requests = useQuery(queries.requests(asked));
  return (
    <>
      <Heading title="Requests">What waits for you comes first.</Heading>
      <Tabs label="Requests" pages={REQUEST_PAGES} />
      <Loaded query={requests}>
        {(rows) => (
          <Requests rows={rows}>
            <Select
              label="State"
              choices={STATES}
              value={state}
              onChange={(event) => write({ state: event.target.value, page: null })}
            />
          </Requests>
        )}
      </Loaded>
    </>
  );
}

function Requests({ rows, children }: { rows: RequestRow[]; children: React.ReactNode }) {
  const [read, write] = useParamsOf();
  const [name, team, mine] = [read("name").toLowerCase(), read("team"), read("mine") === "yes"];
  const kind = read("kind");
  const kinds = useKinds();
  const teams = [...new Set(rows.map((row) => row.team))].sort();
  const shown = rows.filter(
    (row) =>
      `${subjectOf(row)} ${row.opened_by}`.toLowerCase().includes(name) &&
      (!kind || row.kind === kind) &&
      (!team || row.team === team) &&
      (!mine || row.mine),
  );
  return (
    <>
      <fieldset className="mb-6 grid grid-cols-2 items-end gap-4 sm:grid-cols-3 lg:max-w-5xl lg:grid-cols-5">
        <legend className="sr-only">Which requests</legend>
        {children}
        <SearchField
          label="Release or person"
          value={read("name")}
          onSearch={(name) => write({ name, page: null })}
        />
        <Select
          label="Asks to"
          choices={[["", "anything"], ...kinds.map((one) => [one.kind, one.verb] as const)]}
          value={kind}
          onChange={(event) => write({ kind: event.target.value, page: null })}
        />
        <Select
          label="Team"
          choices={[["", "all"], ...teams.map((one) => [one, one] as const)]}
          value={team}
          onChange={(event) => write({ team: event.target.value, page: null })}
        />
        <label className="flex min-h-10 items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-act"
            checked={mine}
            onChange={(event) => write({ mine: event.target.checked ? "yes" : null, page: null })}
          />
          Waits for me
        </label>
      </fieldset>
      {rows.length === 0 ? (
        <Empty>Nothing waits.</Empty>
      ) : shown.length === 0 ? (
        <NoMatches />
      ) : (
        <DataTable
          label="Requests"
          columns={COLUMNS}
          rows={shown}
          rowKey={(row) => row.id}
          sort="waits"
        />
      )}
    </>
  );
}

const COLUMNS: Column<RequestRow>[] = [
  {
    key: "number",
    title: "No.",
    number: true,
    value: (row) => row.id,
    cell: (row) => (
      <Link to={`/requests/${row.id}`} aria-label={`Request ${row.id}`} className="font-semibold">
        {row.id}
      </Link>
    ),
  },
  {
    key: "what",
    title: "What",
    value: subjectOf,
    cell: (row) => (
      <>
        <span className="text-sm text-soft">
          <Verb kind={row.kind} />
        </span>{" "}
        <Link
          to={`/requests/${row.id}`}
          className="block font-mono text-ink no-underline wrap-anywhere hover:underline"
        >
          {subjectOf(row)}
        </Link>
      </>
    ),
  },
  {
    key: "waits",
    title: "Waits for",
    value: (row) => `${row.mine ? 0 : 1} ${row.opened_at}`,
    cell: (row) => (
      <>
        {row.mine ? <StateMark state="mine" /> : null}
        <div>{row.waits_for.join(", ") || (row.mine ? "" : "–")}</div>
        {row.taken_by ? <div className="text-sm text-soft">{row.taken_by} looks at it</div> : null}
        {row.moved.length ? (
          <div className="text-sm">
            <Mark shape="ring" tone="amber">
              being assessed anew
            </Mark>
            : {row.moved.join(", ")} moved
          </div>
        ) : null}
      </>
    ),
  },
  {
    key: "state",
    title: "State",
    value: (row) => row.state,
    nowrap: true,
    cell: (row) => <StateMark state={row.state} />,
  },
  {
    key: "due",
    title: "Due",
    value: (row) => row.due_at,
    nowrap: true,
    cell: (row) => <Due at={row.due_at} />,
  },
  { key: "team", title: "Team", value: (row) => row.team, nowrap: true, cell: (row) => row.team },
  {
    key: "opened",
    title: "Asked",
    value: (row) => row.opened_at,
    nowrap: true,
    cell: (row) => (
      <>
        {row.opened_by}
        <div className="text-sm text-soft">{day(row.opened_at)}</div>
      </>
    ),
  },
];

function Due({ at }: { at: string | null }) {
  if (!at) return <span className="text-soft">–</span>;
  const now = new Date();
  const words = (
    <time dateTime={at} title={when(at)}>
      {fromNow(at, now)}
    </time>
  );
  return new Date(at) < now ? (
    <Mark shape="triangle" tone="amber">
      overdue, {words}
    </Mark>
  ) : (
    words
  );
}
