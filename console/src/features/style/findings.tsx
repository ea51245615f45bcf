/** The findings of all current releases as one picture, by rule and team, which leads to the places. */

import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import type { Level, SummaryRow } from "../../api/types";
import { byRule, type RuleRow } from "../../lib/findings";
import { useParamsOf } from "../../lib/params";
import { itemPath, plural } from "../../lib/text";
import { Select } from "../../ui/form";
import { LevelMark } from "../../ui/marks";
import { Foreign, Loaded, NoMatches } from "../../ui/parts";
import { Scrolling } from "../../ui/table";
import { StyleHeading } from "./pages";

const LEVELS = [
  ["", "all"],
  ["error", "errors"],
  ["warning", "errors and warnings"],
] as const;
const COUNTED = [
  ["", "those that count"],
  ["all", "waived and known ones too"],
] as const;
const LARGEST = 34;

export function Component() {
  const summary = useQuery(queries.summary());
  return (
    <>
      <StyleHeading title="Findings in the catalog">
        What the house style says of every current release, by rule and team.
      </StyleHeading>
      <Loaded query={summary}>
        {(found) => (
          <>
            {found.progress ? (
              <p role="status" className="mb-4 text-soft">
                Findings are being made anew: {found.progress.done} of{" "}
                {plural(found.progress.total, "server")}. Until then those of before are shown.
              </p>
            ) : null}
            <Picture rows={found.results} />
          </>
        )}
      </Loaded>
    </>
  );
}

function Picture({ rows }: { rows: SummaryRow[] }) {
  const [read, write] = useParamsOf();
  const [level, counted] = [read("level"), read("counted")];
  const rules = byRule(rows, level, counted === "all");
  const teams = [...new Map(rows.map((row) => [row.team, row.team_title])).entries()].sort();
  const most = Math.max(1, ...rules.flatMap((rule) => [...rule.teams.values()]));
  return (
    <>
      <div className="mb-4 grid max-w-xl gap-4 sm:grid-cols-2">
        <Select
          label="At least"
          choices={LEVELS}
          value={level}
          onChange={(event) => write({ level: event.target.value })}
        />
        <Select
          label="Which"
          choices={COUNTED}
          value={counted}
          onChange={(event) => write({ counted: event.target.value })}
        />
      </div>
      {rules.length === 0 ? (
        <NoMatches />
      ) : (
        <div className="grid items-start gap-8 xl:grid-cols-[3fr_2fr]">
          <Scrolling label="Findings by rule and team">
            <table className="border-collapse text-left">
              <thead>
                <tr className="text-soft">
                  <th scope="col" className="border-b-2 border-rule px-4 py-2 font-medium">
                    Rule
                  </th>
                  {teams.map(([slug, title]) => (
                    <th
                      key={slug}
                      scope="col"
                      className="border-b-2 border-rule px-2 py-2 text-center font-medium"
                    >
                      {title}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {rules.map((rule) => (
                  <RuleLine key={rule.rule} rule={rule} teams={teams} most={most} />
                ))}
              </tbody>
            </table>
          </Scrolling>
          <Places key={`${read("rule")} ${read("team")}`} rule={read("rule")} team={read("team")} />
        </div>
      )}
    </>
  );
}

function RuleLine({
  rule,
  teams,
  most,
}: {
  rule: RuleRow;
  teams: [string, string][];
  most: number;
}) {
  const [read, write] = useParamsOf();
  const chosen = (team: string) => read("rule") === rule.rule && read("team") === team;
  return (
    <tr data-chosen={read("rule") === rule.rule || undefined} className="data-chosen:bg-paper">
      <th scope="row" className="border-b border-rule px-4 py-1 font-normal whitespace-nowrap">
        <LevelMark level={rule.level}>
          <button
            type="button"
            className="plain text-left font-mono text-sm font-normal"
            aria-pressed={chosen("")}
            onClick={() => write({ rule: rule.rule, team: null }, "push")}
          >
            {rule.rule}
          </button>
        </LevelMark>
      </th>
      {teams.map(([slug, title]) => {
        const count = rule.teams.get(slug) ?? 0;
        return (
          <td key={slug} className="border-b border-rule px-2 py-1 text-center">
            {count ? (
              <button
                type="button"
                className="cursor-pointer rounded-xs p-0.5 aria-pressed:outline-2 aria-pressed:outline-act"
                aria-pressed={chosen(slug)}
                aria-label={`${plural(count, rule.level)} of ${rule.rule} in ${title}`}
                onClick={() => write({ rule: rule.rule, team: slug }, "push")}
              >
                <Square level={rule.level} count={count} most={most} />
              </button>
            ) : (
              <span className="text-rule" aria-hidden="true">
                ·
              </span>
            )}
          </td>
        );
      })}
    </tr>
  );
}

const FILLS: Record<Level, string> = {
  error: "bg-brick text-on-hue",
  warning: "bg-amber-wash text-amber border-2 border-amber",
  note: "border-2 border-slate text-slate",
};

/** A square as large as a count, with the count in it. */
function Square({ level, count, most }: { level: Level; count: number; most: number }) {
  const digits = String(count).length;
  const side = Math.max(20, 10 * digits + 2, Math.round(LARGEST * Math.sqrt(count / most)));
  return (
    <span
      className={`inline-flex items-center justify-center text-sm font-semibold tabular-nums ${FILLS[level]}`}
      style={{ width: side, height: side }}
    >
      {count}
    </span>
  );
}

/** Where a rule speaks: each place leads to the item it is about. */
function Places({ rule, team }: { rule: string; team: string }) {
  const places = useInfiniteQuery(queries.places(rule, team));
  if (!rule) {
    return <p className="text-soft">Choose a rule or a square to see the places it is about.</p>;
  }
  return (
    <section aria-labelledby="places">
      <h2 id="places" className="mb-2 text-xl">
        <Link to={`/rules#${rule}`} className="font-mono text-lg">
          {rule}
        </Link>
        {team ? <span className="text-soft"> in {team}</span> : null}
      </h2>
      <Loaded query={places}>
        {(found) => {
          const rows = found.pages.flatMap((page) => page.results);
          return (
            <>
              <ul className="divide-y divide-rule border-y border-rule">
                {rows.map((one) => (
                  <li
                    key={`${one.server} ${one.finding.item} ${one.finding.fingerprint} ${one.finding.span} ${one.finding.message}`}
                    className="py-2"
                  >
                    <Link
                      to={itemPath(
                        one.server,
                        one.version,
                        one.finding.item === "server" ? "" : one.finding.item,
                      )}
                      className="font-mono text-sm wrap-anywhere"
                    >
                      {one.server}#<Foreign text={one.finding.item} />
                    </Link>
                    {one.finding.waived || one.finding.known ? (
                      <span className="ml-2 text-sm text-soft">
                        {one.finding.waived ? "waived" : "known"}
                      </span>
                    ) : null}
                    <p>
                      <Foreign text={one.finding.message} />
                    </p>
                  </li>
                ))}
              </ul>
              {places.hasNextPage ? (
                <button
                  type="button"
                  className="button mt-3"
                  disabled={places.isFetchingNextPage}
                  onClick={() => places.fetchNextPage()}
                >
                  More
                </button>
              ) : null}
            </>
          );
        }}
      </Loaded>
    </section>
  );
}
