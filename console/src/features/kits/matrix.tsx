/** Servers against kits: a square wherever a kit holds something of a server; the same as rows. */

import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import type { KitMatrix } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { plural } from "../../lib/text";
import { Select } from "../../ui/form";
import { Mark, StateMark } from "../../ui/marks";
import { Empty, Heading, Loaded } from "../../ui/parts";
import { type Column, DataTable } from "../../ui/table";
import { Tabs } from "../../ui/tabs";
import { KIT_PAGES } from "./pages";

type Cell = KitMatrix["cells"][number];

/** A cell is as large as what may be pressed must be. */
const CELL = 24;
const LEFT = 190;
const TOP = 176;
const LABEL = "block font-mono text-xs leading-6 no-underline hover:underline";

export function Component() {
  const [read, write] = useParamsOf();
  const team = read("team");
  const asTable = read("view") === "table";
  const found = useQuery(queries.kitMatrix(team));
  const teams = useQuery(queries.teams()).data ?? [];
  return (
    <>
      <Heading
        title="Who holds what"
        aside={
          <button
            type="button"
            className="button"
            onClick={() =>
              write({ view: asTable ? null : "table", sort: null, page: null }, "push")
            }
          >
            {asTable ? "As a picture" : "As a table"}
          </button>
        }
      >
        A square for each server that a kit holds something of.
      </Heading>
      <Tabs label="Kits" pages={KIT_PAGES} />
      <div className="mb-6 max-w-60">
        <Select
          label="Team of the kits"
          choices={[["", "all"], ...teams.map((one) => [one.slug, one.title] as const)]}
          value={team}
          onChange={(event) => write({ team: event.target.value, page: null })}
        />
      </div>
      <Loaded query={found}>
        {(matrix) =>
          matrix.cells.length === 0 ? (
            <Empty>No kit holds anything.</Empty>
          ) : asTable ? (
            <DataTable
              label="Who holds what"
              columns={COLUMNS}
              rows={matrix.cells}
              rowKey={(row) => `${row.kit} ${row.server}`}
              sort="kit"
            />
          ) : (
            <Picture matrix={matrix} />
          )
        }
      </Loaded>
    </>
  );
}

/** The picture: names of kits stay above and names of servers beside while the squares move under them. */
function Picture({ matrix }: { matrix: KitMatrix }) {
  const columnOf = new Map(matrix.kits.map((one, index) => [one.name, index]));
  const rowOf = new Map(matrix.servers.map((one, index) => [one.slug, index]));
  const width = matrix.kits.length * CELL;
  const height = matrix.servers.length * CELL;
  const words = `${plural(matrix.servers.length, "server")} against ${plural(matrix.kits.length, "kit")}; the table says the same`;
  return (
    <>
      <section
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reached by keyboard
        tabIndex={0}
        aria-label={words}
        className="grid max-h-[80vh] w-fit max-w-full overflow-auto border border-rule bg-sheet"
        style={{ gridTemplateColumns: `${LEFT}px ${width}px` }}
      >
        <div className="sticky top-0 left-0 z-10 bg-sheet" />
        <ul
          aria-label="Kits"
          className="sticky top-0 z-[5] bg-sheet"
          style={{ height: TOP, width: width }}
        >
          {matrix.kits.map((one, index) => (
            <li
              key={one.name}
              className="absolute bottom-1.5 rotate-180 whitespace-nowrap [writing-mode:vertical-rl]"
              style={{ left: index * CELL, width: CELL }}
            >
              <Link
                to={`/kits/${one.name}`}
                className={LABEL}
                title={`${one.title}, of ${one.team_slug}`}
              >
                {clipped(one.name)}
              </Link>
            </li>
          ))}
        </ul>
        <ul aria-label="Servers" className="sticky left-0 bg-sheet" style={{ width: LEFT }}>
          {matrix.servers.map((one) => (
            <li key={one.slug} className="truncate pr-2 text-right" style={{ height: CELL }}>
              <Link
                to={`/servers/${one.slug}`}
                className={LABEL}
                title={`${one.slug}, of ${one.team_slug}`}
              >
                {clipped(one.slug)}
              </Link>
            </li>
          ))}
        </ul>
        <svg width={width} height={height} role="img" aria-label={words}>
          <Lines matrix={matrix} width={width} height={height} />
          {matrix.cells.map((one) => (
            <CellShape
              key={`${one.kit} ${one.server}`}
              cell={one}
              x={(columnOf.get(one.kit) ?? 0) * CELL}
              y={(rowOf.get(one.server) ?? 0) * CELL}
            />
          ))}
        </svg>
      </section>
      <ul aria-label="Legend" className="mt-3 flex flex-wrap gap-x-6 gap-y-1 text-soft">
        <li>
          <Mark shape="square" tone="moss">
            published
          </Mark>
        </li>
        {["suspended", "deprecated", "withdrawn"].map((state) => (
          <li key={state}>
            <StateMark state={state} />
          </li>
        ))}
      </ul>
    </>
  );
}

const clipped = (name: string) => (name.length > 22 ? `${name.slice(0, 21)}…` : name);

/** Thin lines to follow with the eye; a thicker one where another team begins. */
function Lines({ matrix, width, height }: { matrix: KitMatrix; width: number; height: number }) {
  return (
    <g stroke="var(--rule)">
      {matrix.servers.map((one, index) => (
        <line
          key={one.slug}
          x1={0}
          x2={width}
          y1={index * CELL}
          y2={index * CELL}
          strokeWidth={matrix.servers[index - 1]?.team_slug === one.team_slug ? 0.5 : 1.5}
        />
      ))}
      {matrix.kits.map((one, index) => (
        <line
          key={one.name}
          x1={index * CELL}
          x2={index * CELL}
          y1={0}
          y2={height}
          strokeWidth={matrix.kits[index - 1]?.team_slug === one.team_slug ? 0.5 : 1.5}
        />
      ))}
    </g>
  );
}

function CellShape({ cell, x, y }: { cell: Cell; x: number; y: number }) {
  const words = `${cell.kit}: ${plural(cell.held_items, "item")} of ${cell.server}@${cell.version}${cell.mark ? `, ${cell.mark}` : ""}`;
  const box = { x: x + 6, y: y + 6, width: 12, height: 12 };
  return (
    <g>
      <title>{words}</title>
      {cell.mark === "" ? <rect {...box} fill="var(--moss)" /> : null}
      {cell.mark === "suspended" ? (
        <rect {...box} fill="none" stroke="var(--brick)" strokeWidth="2.5" strokeDasharray="3 2" />
      ) : null}
      {cell.mark === "deprecated" ? (
        <path
          d={`M${box.x} ${box.y}h12v12h-12z M${box.x} ${box.y + 7}l7-7 M${box.x + 1} ${box.y + 11}l10-10 M${box.x + 6} ${box.y + 12}l6-6`}
          fill="none"
          stroke="var(--soft)"
          strokeWidth="1.5"
        />
      ) : null}
      {cell.mark === "withdrawn" ? (
        <path
          d={`M${box.x + 1} ${box.y + 1}l10 10 M${box.x + 11} ${box.y + 1}l-10 10`}
          fill="none"
          stroke="var(--soft)"
          strokeWidth="2.5"
        />
      ) : null}
    </g>
  );
}

const COLUMNS: Column<Cell>[] = [
  {
    key: "kit",
    title: "Kit",
    value: (row) => row.kit,
    cell: (row) => (
      <Link to={`/kits/${row.kit}`} className="font-mono font-semibold">
        {row.kit}
      </Link>
    ),
  },
  {
    key: "server",
    title: "Server",
    value: (row) => row.server,
    cell: (row) => (
      <Link to={`/servers/${row.server}`} className="font-mono">
        {row.server}
      </Link>
    ),
  },
  { key: "version", title: "Version", value: (row) => row.version, cell: (row) => row.version },
  {
    key: "items",
    title: "Items",
    number: true,
    value: (row) => row.held_items,
    cell: (row) => row.held_items,
  },
  {
    key: "mark",
    title: "State",
    value: (row) => row.mark,
    cell: (row) => <StateMark state={row.mark || "published"} />,
  },
];
