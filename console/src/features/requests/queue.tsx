import { useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { queries } from "../../api/shelf";
import type { RequestRow } from "../../api/types";
import { when } from "../../lib/text";
import { Mark, StateMark } from "../../ui/marks";
import { Cell, Empty, Heading, Loaded, Table } from "../../ui/parts";

const STATES = [
  ["live", "not decided yet"],
  ["", "all"],
  ["done", "published"],
  ["declined", "declined"],
  ["taken-back", "taken back"],
] as const;

export function QueuePage() {
  const [params, setParams] = useSearchParams();
  const state = params.get("state") ?? "live";
  const requests = useQuery(queries.requests(state));
  return (
    <>
      <Heading
        title="Requests"
        aside={
          <label className="flex items-center gap-2">
            Show
            <select
              className="field"
              value={state}
              onChange={(event) => setParams({ state: event.target.value }, { replace: true })}
            >
              {STATES.map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
            </select>
          </label>
        }
      >
        What waits for you comes first.
      </Heading>
      <Loaded query={requests}>
        {(rows) =>
          rows.length === 0 ? (
            <Empty>Nothing waits.</Empty>
          ) : (
            <Table
              label="Requests"
              head={["No.", "Release", "State", "Waits for", "Due", "Asked by"]}
            >
              {rows.map((row) => (
                <Row key={row.id} row={row} />
              ))}
            </Table>
          )
        }
      </Loaded>
    </>
  );
}

function Row({ row }: { row: RequestRow }) {
  return (
    <tr>
      <Cell narrow>
        <Link to={`/requests/${row.id}`} aria-label={`Request ${row.id}`} className="font-semibold">
          {row.id}
        </Link>
      </Cell>
      <Cell>
        <span className="font-mono">
          {row.server} {row.version}
        </span>
        {row.mine ? (
          <div>
            <Mark shape="triangle" tone="amber">
              waits for you
            </Mark>
          </div>
        ) : null}
      </Cell>
      <Cell narrow>
        <StateMark state={row.state} />
      </Cell>
      <Cell>{row.waits_for.join(", ") || "–"}</Cell>
      <Cell narrow>{when(row.due_at) || "–"}</Cell>
      <Cell>{row.opened_by}</Cell>
    </tr>
  );
}
