/** The work-list of overlaps: groups of items, what speaks for one job, and what was ruled. */

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import type { Me, Overlap, OverlapGroup } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { paged } from "../../lib/rows";
import { itemPath, plural } from "../../lib/text";
import { SearchField, Select } from "../../ui/form";
import { Mark } from "../../ui/marks";
import { Empty, Foreign, Loaded, NoMatches } from "../../ui/parts";
import { Pager } from "../../ui/table";
import { OverlapHeading, sidesPath } from "./parts";
import { RuleDialog } from "./rule";
import { Ruling } from "./ruling";

const STATES = [
  ["", "without a ruling"],
  ["ruled", "ruled on"],
  ["all", "all"],
] as const;
const CLASSES = [
  ["", "same job"],
  ["near", "near"],
] as const;
const BETWEEN = [
  ["", "two servers"],
  ["true", "one server"],
] as const;
const PAGE = 20;

export function Component() {
  const [read] = useParamsOf();
  const state = read("state");
  const cls = read("class") || "same-job";
  const groups = useQuery(
    queries.groups({
      state: cls === "near" || state === "all" ? state.replace("all", "") : state || "open",
      class: cls,
      team: read("team"),
      within: read("within"),
    }),
  );
  const me = useQuery(queries.me());
  return (
    <>
      <OverlapHeading title="Overlaps">
        Servers whose current releases seem to do the same work, two by two; an agent that sees both
        picks at random. What is merely near waits for nobody.
      </OverlapHeading>
      <Loaded query={groups}>
        {(found) => (
          <Groups groups={found.groups} more={found.next !== null} me={me.data ?? null} />
        )}
      </Loaded>
    </>
  );
}

function Groups({ groups, more, me }: { groups: OverlapGroup[]; more: boolean; me: Me | null }) {
  const [read, write] = useParamsOf();
  const [ruling, setRuling] = useState<OverlapGroup | null>(null);
  const [cls, team, words] = [read("class"), read("team"), read("words").toLowerCase()];
  const teams = useQuery(queries.teams());
  const shown = groups.filter((one) =>
    one.members.some((each) => `${each.server} ${each.item}`.toLowerCase().includes(words)),
  );
  const page = paged(shown, Number(read("page")), PAGE);
  return (
    <>
      <fieldset className="mb-6 grid grid-cols-2 gap-4 sm:grid-cols-3 lg:max-w-5xl lg:grid-cols-5">
        <legend className="sr-only">Which overlaps</legend>
        <Select
          label="State"
          choices={STATES}
          value={read("state")}
          onChange={(event) => write({ state: event.target.value, page: null })}
        />
        <Select
          label="Class"
          choices={CLASSES}
          value={cls}
          onChange={(event) => write({ class: event.target.value, page: null })}
        />
        <Select
          label="Between"
          choices={BETWEEN}
          value={read("within")}
          onChange={(event) => write({ within: event.target.value, page: null })}
        />
        <Select
          label="Team"
          choices={[
            ["", "all"],
            ...(teams.data ?? []).map((one) => [one.slug, one.title] as const),
          ]}
          value={team}
          onChange={(event) => write({ team: event.target.value, page: null })}
        />
        <SearchField
          label="Server or item"
          value={read("words")}
          onSearch={(text) => write({ words: text, page: null })}
        />
      </fieldset>
      {groups.length === 0 && !read("state") && !team && !words ? (
        <Empty>No overlap waits for a ruling.</Empty>
      ) : shown.length === 0 ? (
        <NoMatches />
      ) : (
        <ul className="space-y-4">
          {page.rows.map((group) => (
            <PairSheet
              key={`${group.class} ${group.overlaps[0]?.pair}`}
              group={group}
              me={me}
              onRule={() => setRuling(group)}
            />
          ))}
        </ul>
      )}
      <Pager
        label="Pages of overlaps"
        noun="pair"
        page={page.page}
        pages={page.pages}
        rows={shown.length}
        onPage={(next) => write({ page: next === 1 ? null : String(next) })}
      />
      {more ? (
        <p className="mt-3 text-soft">
          These are the first {groups.length}; choose a team to see more of its own.
        </p>
      ) : null}
      {ruling ? <RuleDialog group={ruling} onClose={() => setRuling(null)} /> : null}
    </>
  );
}

function PairSheet({
  group,
  me,
  onRule,
}: {
  group: OverlapGroup;
  me: Me | null;
  onRule: () => void;
}) {
  const [first] = group.overlaps;
  const curates = me?.role === "curator" || me?.role === "steward";
  if (!first) return null;
  // Of a single overlap, what differs is told of its first and its second item.
  const servers =
    group.overlaps.length === 1 && first.a.server !== group.servers[0]?.server
      ? [...group.servers].reverse()
      : group.servers;
  return (
    <li className="border border-rule bg-sheet p-4 sm:p-6">
      <div className="flex flex-wrap items-baseline justify-between gap-x-6 gap-y-2">
        <h2 className="font-sans text-base font-normal">
          <Mark shape="circles" tone={group.class === "same-job" ? "amber" : "slate"}>
            {SAYS[group.class][group.servers.length === 1 ? 1 : 0]}
          </Mark>
        </h2>
        {curates && !group.ruling ? (
          <button type="button" className="button" data-size="small" onClick={onRule}>
            Rule on {group.overlaps.length === 1 ? "it" : "them"}
          </button>
        ) : null}
      </div>
      <ul className="mt-2 grid gap-x-8 gap-y-1 lg:grid-cols-2">
        {servers.map((one) => (
          <li key={one.server}>
            <Link to={`/servers/${one.server}`} className="inline-block min-h-6 font-semibold">
              {one.server}
            </Link>{" "}
            <span className="text-soft">
              {one.alike} of {plural(one.items, "item")}, {one.team}
            </span>
            {group.ruling?.preferred === one.server ? (
              <span className="ml-2 text-sm font-semibold text-moss">preferred</span>
            ) : null}
          </li>
        ))}
      </ul>
      {group.overlaps.length === 1 ? (
        <Alone overlap={first} preferred={group.ruling?.preferred ?? ""} />
      ) : (
        <Together group={group} />
      )}
      {group.ruling ? <Ruling ruling={group.ruling} /> : null}
    </li>
  );
}

const SAYS = {
  "same-job": ["the same work", "the same work twice"],
  near: ["near work", "near work twice"],
} as const;
const FEW = 6;

/** The overlaps of two servers, each with its two items; the strongest first, the rest when asked for. */
function Together({ group }: { group: OverlapGroup }) {
  const [all, setAll] = useState(false);
  const shown = all ? group.overlaps : group.overlaps.slice(0, FEW);
  const [left] = group.servers;
  return (
    <>
      <div className="mt-3 overflow-x-auto">
        <table className="w-full text-left">
          <thead>
            <tr className="text-sm text-soft">
              {group.servers.length === 2 ? (
                group.servers.map((one) => (
                  <th key={one.server} scope="col" className="py-1 pr-4 font-normal">
                    {one.server}
                  </th>
                ))
              ) : (
                <>
                  <th scope="col" className="py-1 pr-4 font-normal">
                    One
                  </th>
                  <th scope="col" className="py-1 pr-4 font-normal">
                    The other
                  </th>
                </>
              )}
              <th scope="col" className="py-1 pr-4 font-normal">
                Alike
              </th>
              <th scope="col">
                <span className="sr-only">Compare</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {shown.map((one) => {
              return (
                <tr key={one.pair} className="border-t border-rule">
                  {sidesOf(one, left?.server).map((side) => (
                    <td key={`${side.server} ${side.item}`} className="py-1 pr-4">
                      <ItemLink side={side} preferred={group.ruling?.preferred ?? ""} />
                    </td>
                  ))}
                  <td className="py-1 pr-4 tabular-nums">{one.score.toFixed(2)}</td>
                  <td className="py-1">
                    <Link to={sidesPath(one)} className="inline-block min-h-6">
                      Side by side
                    </Link>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {group.overlaps.length > FEW ? (
        <button
          type="button"
          className="button mt-3"
          data-size="small"
          aria-expanded={all}
          onClick={() => setAll(!all)}
        >
          {all ? "Show the strongest only" : `Show all ${group.overlaps.length}`}
        </button>
      ) : null}
    </>
  );
}

/** The two items of an overlap, the one of a server first. */
const sidesOf = ({ a, b }: Overlap, server: string | undefined) =>
  a.server === server ? [a, b] : [b, a];

/** The only overlap of two servers, with what its items share and what differs. */
function Alone({ overlap, preferred }: { overlap: Overlap; preferred: string }) {
  const stands = overlap.stands_in;
  return (
    <>
      <ul className="mt-2 grid gap-x-8 gap-y-1 lg:grid-cols-2">
        {[overlap.a, overlap.b].map((side) => (
          <li key={`${side.server} ${side.item}`}>
            <ItemLink side={side} preferred={preferred} whole />
          </li>
        ))}
      </ul>
      <div className="mt-3 grid gap-x-8 lg:grid-cols-2">
        <div>
          <p className="text-soft">What they share</p>
          <ul className="list-disc pl-5">
            {overlap.reasons.map((one) => (
              <li key={one}>
                <Foreign text={one} />
              </li>
            ))}
            {stands === null ? null : (
              <li>
                {overlap.b.server} could {stands ? "" : "not "}stand in for {overlap.a.server}
              </li>
            )}
          </ul>
        </div>
        <div>
          <p className="text-soft">What differs</p>
          {overlap.differences.length ? (
            <ul className="list-disc pl-5">
              {overlap.differences.map((one) => (
                <li key={one}>
                  <Foreign text={one} />
                </li>
              ))}
            </ul>
          ) : (
            <p>nothing that was looked at</p>
          )}
        </div>
      </div>
      <p className="mt-3">
        <Link to={sidesPath(overlap)} className="inline-block min-h-6">
          Side by side
        </Link>
      </p>
    </>
  );
}

function ItemLink({
  side,
  preferred,
  whole = false,
}: {
  side: Overlap["a"];
  preferred: string;
  whole?: boolean;
}) {
  const server = side.server ?? "";
  return (
    <>
      <Link
        to={itemPath(server, "current", side.item)}
        className="inline-block min-h-6 font-mono wrap-anywhere"
      >
        {whole ? `${server}#` : ""}
        <Foreign text={side.item} />
      </Link>
      {preferred === `${server}#${side.item}` ? (
        <span className="ml-2 text-sm font-semibold text-moss">preferred</span>
      ) : null}
    </>
  );
}
