/** The overlap map: every item of the catalog as a point near what it resembles. */

import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { Link, useNavigate } from "react-router";
import { queries } from "../../api/queries";
import type { OverlapMap } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { HUES } from "../../lib/spines";
import { itemPath, plural } from "../../lib/text";
import { SearchField, Select } from "../../ui/form";
import { Empty, Loaded } from "../../ui/parts";
import { Scrolling } from "../../ui/table";
import { OverlapHeading, sidesPath } from "./parts";

type Point = OverlapMap["points"][number];

const WIDE = 1200;
const HIGH = 640;
const EDGE = 26;
const ZOOMS = [1, 1.6, 2.5, 4] as const;

export function Component() {
  const [read, write] = useParamsOf();
  const [team, server] = [read("team"), read("server")];
  const map = useQuery(queries.overlapMap(team, server));
  return (
    <>
      <OverlapHeading title="Overlap map">
        Each point is an item, near the others of its server and near what it resembles; of a large
        catalog first its teams, then the servers of one. A thick line joins what does the same job.
        The work-list has the same as a list.
      </OverlapHeading>
      {team || server ? (
        <p className="mb-3">
          {server || team}{" "}
          <button
            type="button"
            className="plain"
            onClick={() => write({ team: null, server: null, words: null }, "push")}
          >
            Whole catalog
          </button>
        </p>
      ) : null}
      <Loaded query={map}>
        {(found) =>
          found.points.length ? (
            <Drawing map={found} />
          ) : (
            <Empty>There is no current release here yet.</Empty>
          )
        }
      </Loaded>
    </>
  );
}

/** How a point is named. */
const named = (one: Point) =>
  one.item ? `${one.server}#${one.item}` : one.server ? one.server : one.team;

/** Where a point leads: into a team or a server, or to an item. */
function pathOf(one: Point): string {
  if (one.item) return itemPath(one.server, "current", one.item);
  return one.server
    ? `/overlap-map?server=${encodeURIComponent(one.server)}`
    : `/overlap-map?team=${encodeURIComponent(one.team)}`;
}

const NOUNS = { teams: "team", servers: "server", items: "item" } as const;
const SIZED = { teams: "server", servers: "item", items: "" } as const;

function Drawing({ map }: { map: OverlapMap }) {
  const [read, write] = useParamsOf();
  const [at, setAt] = useState<number | null>(null);
  const navigate = useNavigate();
  const words = read("words").toLowerCase();
  const most = Math.max(...map.points.map((one) => one.size));
  const zoom = ZOOMS.find((one) => String(one) === read("zoom")) ?? 1;
  const teams = useMemo(() => [...new Set(map.points.map((one) => one.team))].sort(), [map]);
  const places = useMemo(
    () =>
      map.points.map((one) => ({
        x: EDGE + one.x * (WIDE - 2 * EDGE),
        y: EDGE + one.y * (HIGH - 2 * EDGE),
        hue: teams.indexOf(one.team) % HUES,
      })),
    [map, teams],
  );
  const linked = useMemo(() => new Set(map.edges.flatMap((one) => [one.a, one.b])), [map]);
  const labels = useMemo(() => centres(map.points, places), [map, places]);
  const drawn = useMemo(() => (map.level === "items" ? map.edges : strongest(map.edges)), [map]);
  const shown = (one: Point) => named(one).toLowerCase().includes(words);
  const teamsThere = useQuery(queries.teams());
  const small = map.points.length > 400 ? 4 : 6;
  const radius = (one: Point) =>
    map.level === "items" ? small : small + 14 * Math.sqrt(one.size / Math.max(1, most));
  const near = at === null ? undefined : map.points[at];
  return (
    <>
      <div className="mb-3 grid max-w-3xl gap-4 sm:grid-cols-3">
        <SearchField
          label="Server or item"
          value={read("words")}
          onSearch={(text) => write({ words: text })}
        />
        <Select
          label="Team"
          choices={[
            ["", "all"],
            ...(teamsThere.data ?? []).map((one) => [one.slug, one.title] as const),
          ]}
          value={read("team")}
          onChange={(event) => write({ team: event.target.value, server: null }, "push")}
        />
        <Select
          label="Size"
          choices={ZOOMS.map((one) => [one === 1 ? "" : String(one), `${one} times`] as const)}
          value={read("zoom")}
          onChange={(event) => write({ zoom: event.target.value })}
        />
      </div>
      <p className="min-h-7" aria-live="polite">
        {near ? (
          <>
            <span className="font-mono">{named(near)}</span>{" "}
            <span className="text-soft">
              {near.server ? near.team : null}{" "}
              {SIZED[map.level] ? plural(near.size, SIZED[map.level]) : null}
            </span>
          </>
        ) : (
          <span className="text-soft">
            {plural(map.points.length, NOUNS[map.level])};{" "}
            {plural(map.edges.filter((one) => one.same_job).length, "pair")} with the same job,{" "}
            {map.edges.filter((one) => !one.same_job).length} near
            {drawn.length < map.edges.length
              ? "; the strongest lines of each are drawn, the table counts all"
              : null}
          </span>
        )}
      </p>
      <section
        aria-label="Map"
        className="max-h-[80vh] overflow-auto border border-rule bg-sheet"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
        tabIndex={0}
      >
        {/* biome-ignore lint/a11y/useSemanticElements: a group of links that is drawn */}
        <svg
          viewBox={`0 0 ${WIDE} ${HIGH}`}
          style={{ width: `${zoom * 100}%`, minWidth: "40rem" }}
          className="block"
          role="group"
          aria-label={plural(map.points.length, NOUNS[map.level])}
        >
          {labels.map((one) => (
            <text
              key={one.server}
              x={one.x}
              y={map.level === "items" ? one.y : one.y - small - 12}
              textAnchor="middle"
              className="pointer-events-none fill-soft stroke-sheet stroke-[5px] font-serif text-[13px] [paint-order:stroke]"
            >
              {one.server}
            </text>
          ))}
          {drawn.map((one) => {
            const [a, b] = [places[one.a], places[one.b]];
            const [from, to] = [map.points[one.a], map.points[one.b]];
            if (!a || !b || !from || !to) return null;
            const line = (
              <line
                key={`${one.a} ${one.b}`}
                x1={a.x}
                y1={a.y}
                x2={b.x}
                y2={b.y}
                stroke={one.same_job ? "var(--amber)" : "var(--slate)"}
                strokeWidth={
                  map.level === "items" ? (one.same_job ? 5 : 1.5) : Math.max(1, 5 * one.score ** 2)
                }
                strokeDasharray={one.ruled ? "4 4" : undefined}
                opacity={shown(from) || shown(to) ? 0.9 : 0.12}
              />
            );
            if (map.level !== "items") return line;
            const pair = sidesPath({
              a: { ...from, digest: "", basis: "" },
              b: { ...to, digest: "", basis: "" },
            });
            return (
              <Link
                key={`${one.a} ${one.b}`}
                to={pair}
                aria-label={`${from.server} ${from.item} ${one.same_job ? "does the same job as" : "is near to"} ${to.server} ${to.item}`}
              >
                {line}
              </Link>
            );
          })}
          {map.points.map((one, number) => {
            const place = places[number];
            if (!place) return null;
            return (
              // biome-ignore lint/a11y/noStaticElementInteractions: the table below is the way for the keyboard
              <circle
                key={named(one)}
                cx={place.x}
                cy={place.y}
                r={radius(one) + (linked.has(number) && map.level === "items" ? 1.5 : 0)}
                fill={`var(--hue-${place.hue})`}
                opacity={shown(one) ? 1 : 0.12}
                className="cursor-pointer"
                onMouseEnter={() => setAt(number)}
                onMouseLeave={() => setAt(null)}
                onClick={() => navigate(pathOf(one))}
              />
            );
          })}
        </svg>
      </section>
      <ul className="mt-3 flex flex-wrap gap-x-6 gap-y-1 text-sm">
        {teams.map((one, number) => (
          <li key={one} className="flex items-center gap-2">
            <svg viewBox="0 0 12 12" className="size-3" aria-hidden="true">
              <circle cx="6" cy="6" r="6" fill={`var(--hue-${number % HUES})`} />
            </svg>
            {one}
          </li>
        ))}
        <li className="text-soft">a dashed line: ruled on</li>
        <li>
          <Link to="/overlaps">As a list</Link>
        </li>
      </ul>
      {map.level === "items" ? null : <Twin map={map} shown={shown} />}
    </>
  );
}

/** The same as a table: each point, how much it holds, and to how many others it has a line. */
function Twin({ map, shown }: { map: OverlapMap; shown: (one: Point) => boolean }) {
  const lines = new Map<number, { same: number; near: number }>();
  for (const edge of map.edges) {
    for (const end of [edge.a, edge.b]) {
      const sum = lines.get(end) ?? { same: 0, near: 0 };
      sum[edge.same_job ? "same" : "near"] += edge.count;
      lines.set(end, sum);
    }
  }
  const cell = "border-b border-rule px-4 py-1";
  return (
    <div className="mt-6 max-w-3xl">
      <Scrolling label="The map as a table">
        <table className="w-full border-collapse text-left">
          <thead>
            <tr className="text-soft">
              {[
                NOUNS[map.level],
                plural(2, SIZED[map.level]).replace("2 ", ""),
                "same job",
                "near",
              ].map((head) => (
                <th key={head} scope="col" className={`${cell} border-b-2 font-medium`}>
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {map.points.map((one, number) =>
              shown(one) ? (
                <tr key={named(one)}>
                  <th scope="row" className={`${cell} font-normal`}>
                    <Link to={pathOf(one)}>{named(one)}</Link>
                  </th>
                  <td className={cell}>{one.size}</td>
                  <td className={cell}>{lines.get(number)?.same ?? 0}</td>
                  <td className={cell}>{lines.get(number)?.near ?? 0}</td>
                </tr>
              ) : null,
            )}
          </tbody>
        </table>
      </Scrolling>
    </div>
  );
}

const STRONGEST = 3;

/** The few edges of each point that count most: all of them would hide one another. */
function strongest(edges: OverlapMap["edges"]): OverlapMap["edges"] {
  const taken = new Map<number, number>();
  return edges
    .toSorted((one, other) => other.count - one.count)
    .filter((one) => {
      const ends = [one.a, one.b].map((end) => taken.get(end) ?? 0);
      if (Math.min(...ends) >= STRONGEST) return false;
      for (const end of [one.a, one.b]) taken.set(end, (taken.get(end) ?? 0) + 1);
      return true;
    });
}

/** Where the name of each server stands: above the middle of its items, while there are not too many. */
function centres(points: Point[], places: { x: number; y: number }[]) {
  const sums = new Map<string, { x: number; y: number; top: number; count: number }>();
  points.forEach((one, number) => {
    const place = places[number];
    if (!place) return;
    const name = one.server || one.team;
    const sum = sums.get(name) ?? { x: 0, y: 0, top: HIGH, count: 0 };
    sum.x += place.x;
    sum.top = Math.min(sum.top, place.y);
    sum.count += 1;
    sums.set(name, sum);
  });
  if (sums.size > 60) return [];
  return [...sums].map(([server, sum]) => ({
    server,
    x: Math.min(WIDE - 60, Math.max(60, sum.x / sum.count)),
    y: Math.max(14, sum.top - 10),
  }));
}
