import { useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { queries } from "../../api/shelf";
import type { ServerRow } from "../../api/types";
import { plural } from "../../lib/text";
import { Mark, StateMark } from "../../ui/marks";
import { Cell, Empty, Heading, Loaded, Table } from "../../ui/parts";

export function ServersPage() {
  const servers = useQuery(queries.servers());
  return <Loaded query={servers}>{(rows) => <Shelf rows={rows} />}</Loaded>;
}

function Shelf({ rows }: { rows: ServerRow[] }) {
  const [params, setParams] = useSearchParams();
  const wanted = params.get("name") ?? "";
  const shown = rows.filter((row) =>
    `${row.slug} ${row.title} ${row.team_title} ${row.tags.join(" ")}`
      .toLowerCase()
      .includes(wanted.toLowerCase()),
  );
  const tools = rows.reduce((sum, row) => sum + (row.current_tools ?? 0), 0);
  const teams = [...new Set(shown.map((row) => row.team_title))].sort();
  return (
    <>
      <Heading
        title={`${plural(rows.length, "server")}, ${plural(tools, "tool")}`}
        aside={
          <label>
            <span className="sr-only">Show servers whose name, team or tag contains</span>
            <input
              type="search"
              className="field"
              placeholder="Name, team or tag"
              value={wanted}
              onChange={(event) =>
                setParams(event.target.value ? { name: event.target.value } : {}, { replace: true })
              }
            />
          </label>
        }
      >
        Approved for use here, by the team that owns them.
      </Heading>
      {rows.length === 0 ? (
        <Empty>No server is on the shelf yet: tallshelf enrol puts one there.</Empty>
      ) : null}
      {rows.length > 0 && shown.length === 0 ? <Empty>No server matches “{wanted}”.</Empty> : null}
      <div className="space-y-8">
        {teams.map((team) => (
          <section key={team} aria-labelledby={`team-${team}`}>
            <h2 id={`team-${team}`} className="mb-2 text-xl">
              {team}
            </h2>
            <Table
              label={`Servers of ${team}`}
              widths={["28%", "12%", "10%", "10%", "14%", "26%"]}
              head={["Server", "Current", "Items", "Tokens", "Data class", "State"]}
            >
              {shown
                .filter((row) => row.team_title === team)
                .map((row) => (
                  <Row key={row.slug} row={row} />
                ))}
            </Table>
          </section>
        ))}
      </div>
    </>
  );
}

function Row({ row }: { row: ServerRow }) {
  return (
    <tr>
      <Cell>
        <Link to={`/servers/${row.slug}`} className="font-mono font-semibold">
          {row.slug}
        </Link>
        <div className="text-soft">{row.title}</div>
      </Cell>
      <Cell narrow>
        {row.current_version ? (
          <Link to={`/servers/${row.slug}/${row.current_version}`} className="font-mono">
            {row.current_version}
          </Link>
        ) : (
          <span className="text-soft">none yet</span>
        )}
      </Cell>
      <Cell narrow>{row.current_items ?? "–"}</Cell>
      <Cell narrow>{row.current_tokens?.toLocaleString("en") ?? "–"}</Cell>
      <Cell narrow>{row.data_class}</Cell>
      <Cell>
        <div className="flex flex-wrap gap-x-4">
          {row.suspended ? <StateMark state="suspended" /> : null}
          {row.waiting ? <StateMark state="in-review" /> : null}
          {!row.suspended && row.current_version ? <StateMark state="published" /> : null}
          {!row.suspended && !row.waiting && !row.current_version ? (
            <Mark shape="open" tone="soft">
              empty
            </Mark>
          ) : null}
        </div>
      </Cell>
    </tr>
  );
}
