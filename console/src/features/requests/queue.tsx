import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import type { RequestRow } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { subjectOf } from "../../lib/asks";
import { useSettled } from "../../lib/settled";
import { day, fromNow, when } from "../../lib/text";
import { SearchField, Select } from "../../ui/form";
import { Mark, StateMark } from "../../ui/marks";
import { Empty, Heading, Loaded, NoMatches } from "../../ui/parts";
import { type Column, DataTable, GrowingTable } from "../../ui/table";
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

/** Of these there are as many as are being worked on; of the others there are more each day. */
const UNDECIDED = ["", "open", "sent-back", "agreed"];

export function Component() {
  const [read] = useParamsOf();
  const undecided = UNDECIDED.includes(read("state"));
  return (
    <>
      <Heading title="Requests">
        {undecided ? "What waits for you comes first." : "The newest first."}
      </Heading>
      <Tabs label="Requests" pages={REQUEST_PAGES} />
      <Filters />
      {undecided ? <Undecided /> : <Past />}
    </>
  );
}

function Filters() {
  const [read, write] = useParamsOf();
  const kinds = useKinds();
  const teams = useQuery(queries.teams());
  const choose = (name: string) => (event: React.ChangeEvent<HTMLSelectElement>) =>
    write({ [name]: event.target.value, page: null });
  return (
    <fieldset className="mb-6 grid grid-cols-2 items-end gap-4 sm:grid-cols-3 lg:max-w-5xl lg:grid-cols-5">
      <legend className="sr-only">Which requests</legend>
      <Select label="State" choices={STATES} value={read("state")} onChange={choose("state")} />
      <SearchField
        label="Release or person"
        value={read("name")}
        onSearch={(name) => write({ name, page: null })}
      />
      <Select
        label="Asks to"
        choices={[["", "anything"], ...kinds.map((one) => [one.kind, one.verb] as const)]}
        value={read("kind")}
        onChange={choose("kind")}
      />
      <Select
        label="Team"
        choices={[["", "all"], ...(teams.data ?? []).map((one) => [one.slug, one.title] as const)]}
        value={read("team")}
        onChange={choose("team")}
      />
      {UNDECIDED.includes(read("state")) ? (
        <label className="flex min-h-10 items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-act"
            checked={read("mine") === "yes"}
            onChange={(event) => write({ mine: event.target.checked ? "yes" : null, page: null })}
          />
          Waits for me
        </label>
      ) : null}
    </fieldset>
  );
}

/** All that is not decided yet, filtered and sorted here. */
function Undecided() {
  const [read] = useParamsOf();
  const requests = useQuery(queries.liveRequests());
  const [state, kind, team] = [read("state"), read("kind"), read("team")];
  const [words, mine] = [read("name").toLowerCase().split(/\s+/), read("mine") === "yes"];
  const wanted = (row: RequestRow) =>
    words.every((word) => `${subjectOf(row)} ${row.opened_by}`.toLowerCase().includes(word)) &&
    (!state || row.state === state) &&
    (!kind || row.kind === kind) &&
    (!team || row.team === team) &&
    (!mine || row.mine);
  return (
    <Loaded query={requests}>
      {(rows) => {
        const shown = rows.filter(wanted);
        if (rows.length === 0) return <Empty>Nothing waits.</Empty>;
        if (shown.length === 0) return <NoMatches />;
        return (
          <DataTable
            label="Requests"
            columns={COLUMNS}
            rows={shown}
            rowKey={(row) => row.id}
            sort="waits"
          />
        );
      }}
    </Loaded>
  );
}

/** What was decided, newest first, as many as are asked for: the service filters. */
function Past() {
  const [read] = useParamsOf();
  const state = read("state");
  const asked = {
    state: state === "all" ? "" : state,
    kind: read("kind"),
    team: read("team"),
    q: useSettled(read("name"), 180),
  };
  const requests = useInfiniteQuery({
    ...queries.requests(asked),
    placeholderData: keepPreviousData,
  });
  return (
    <Loaded query={requests}>
      {({ pages }) => {
        const rows = pages.flatMap((page) => page.results);
        if (rows.length === 0) return <NoMatches />;
        return (
          <GrowingTable
            label="Requests"
            columns={COLUMNS}
            rows={rows}
            rowKey={(row) => row.id}
            more={requests.hasNextPage ? "Older" : ""}
            onMore={() => requests.fetchNextPage()}
            busy={requests.isFetchingNextPage}
            stale={requests.isPlaceholderData}
          />
        );
      }}
    </Loaded>
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
