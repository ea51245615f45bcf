/** The work-list of overlaps: groups of items, what speaks for one job, and what was ruled. */

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { queries } from "../../api/shelf";
import type { Me, OverlapGroup } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { paged } from "../../lib/rows";
import { itemPath, plural } from "../../lib/text";
import { SearchField, Select } from "../../ui/form";
import { Mark } from "../../ui/marks";
import { Empty, Foreign, Loaded } from "../../ui/parts";
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
  ["", "all"],
  ["same-job", "same job"],
  ["near", "near"],
] as const;
const PAGE = 20;

export function Component() {
  const [read] = useParamsOf();
  const state = read("state");
  const groups = useQuery(queries.groups(state === "all" ? "" : state || "open"));
  const me = useQuery(queries.me());
  return (
    <>
      <OverlapHeading title="Overlaps">
        Items of current releases that seem to do the same job; an agent that sees both picks at
        random.
      </OverlapHeading>
      <Loaded query={groups}>{(found) => <Groups groups={found} me={me.data ?? null} />}</Loaded>
    </>
  );
}

function Groups({ groups, me }: { groups: OverlapGroup[]; me: Me | null }) {
  const [read, write] = useParamsOf();
  const [ruling, setRuling] = useState<OverlapGroup | null>(null);
  const [cls, team, words] = [read("class"), read("team"), read("words").toLowerCase()];
  const teams = [...new Set(groups.flatMap((one) => one.teams))].sort();
  const shown = groups.filter(
    (one) =>
      (!cls || one.class === cls) &&
      (!team || one.teams.includes(team)) &&
      one.members.some((each) => `${each.server} ${each.item}`.toLowerCase().includes(words)),
  );
  const page = paged(shown, Number(read("page")), PAGE);
  return (
    <>
      <fieldset className="mb-6 grid grid-cols-2 gap-4 sm:grid-cols-4 lg:max-w-4xl">
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
          label="Team"
          choices={[["", "all"], ...teams.map((one) => [one, one] as const)]}
          value={team}
          onChange={(event) => write({ team: event.target.value, page: null })}
        />
        <SearchField
          label="Server or item"
          value={read("words")}
          onSearch={(text) => write({ words: text, page: null })}
        />
      </fieldset>
      {shown.length === 0 ? (
        <Empty>
          {groups.length === 0 ? "No overlap waits for a ruling." : "No overlap is like that."}
        </Empty>
      ) : (
        <ul className="space-y-4">
          {page.rows.map((group) => (
            <GroupSheet
              key={group.overlaps.map((one) => one.pair).join(" ")}
              group={group}
              me={me}
              onRule={() => setRuling(group)}
            />
          ))}
        </ul>
      )}
      <Pager
        label="Pages of overlaps"
        noun="group"
        page={page.page}
        pages={page.pages}
        rows={shown.length}
        onPage={(next) => write({ page: next === 1 ? null : String(next) })}
      />
      {ruling ? <RuleDialog group={ruling} onClose={() => setRuling(null)} /> : null}
    </>
  );
}

function GroupSheet({
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
  const stands = first.stands_in;
  return (
    <li className="border border-rule bg-sheet p-4 sm:p-6">
      <div className="flex flex-wrap items-baseline justify-between gap-x-6 gap-y-2">
        <h2 className="font-sans text-base font-normal">
          <Mark shape="circles" tone={group.class === "same-job" ? "amber" : "slate"}>
            {group.class === "same-job" ? "the same job" : "near"}
          </Mark>{" "}
          <span className="text-soft">
            {plural(group.members.length, "item")}, {group.score.toFixed(2)}
          </span>
        </h2>
        {curates && !group.ruling ? (
          <button type="button" className="button" data-size="small" onClick={onRule}>
            Rule on it
          </button>
        ) : null}
      </div>
      <ul className="mt-2 grid gap-x-8 gap-y-1 lg:grid-cols-2">
        {group.members.map((one) => (
          <li key={`${one.server} ${one.item}`}>
            <Link
              to={itemPath(one.server, "current", one.item)}
              className="inline-block min-h-6 font-mono wrap-anywhere"
            >
              {one.server}#<Foreign text={one.item} />
            </Link>{" "}
            <span className="text-sm text-soft">{one.team}</span>
            {group.ruling?.preferred === `${one.server}#${one.item}` ? (
              <span className="ml-2 text-sm font-semibold text-moss">preferred</span>
            ) : null}
          </li>
        ))}
      </ul>
      <div className="mt-3 grid gap-x-8 lg:grid-cols-2">
        <div>
          <p className="text-soft">What they share</p>
          <ul className="list-disc pl-5">
            {first.reasons.map((one) => (
              <li key={one}>
                <Foreign text={one} />
              </li>
            ))}
            {stands === null ? null : (
              <li>
                {first.b.server} could {stands ? "" : "not "}stand in for {first.a.server}
              </li>
            )}
          </ul>
        </div>
        <div>
          <p className="text-soft">What differs</p>
          {first.differences.length ? (
            <ul className="list-disc pl-5">
              {first.differences.map((one) => (
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
      <p className="mt-3 flex flex-wrap gap-x-6">
        {group.overlaps.slice(0, 6).map((one) => (
          <Link key={one.pair} to={sidesPath(one)} className="inline-block min-h-6">
            Side by side
            {group.overlaps.length > 1 ? `: ${one.a.server} and ${one.b.server}` : ""}
          </Link>
        ))}
      </p>
      {group.ruling ? <Ruling ruling={group.ruling} /> : null}
    </li>
  );
}
