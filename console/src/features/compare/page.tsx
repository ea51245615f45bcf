/** Two releases on facing pages, with notes in the margin beside the line they speak of. */

import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import type { Change, Comparison } from "../../api/types";
import { useKeys } from "../../lib/keys";
import { useParamsOf } from "../../lib/params";
import { plural } from "../../lib/text";
import { ChangeNote } from "../../ui/changes";
import { GroupNote, ItemLines } from "../../ui/changes-summary";
import { CopyButton, Select } from "../../ui/form";
import { Hits, hitWords } from "../../ui/hits";
import { Empty, Heading, Loaded, NoMatches } from "../../ui/parts";
import { MeaningRulings } from "../overlap/meaning";
import { Choose } from "./choose";
import { Facing, sectionId } from "./facing";

export function Component() {
  const [read] = useParamsOf();
  const [old, now] = [read("old"), read("new")];
  const comparison = useQuery(queries.comparison(old, now));
  return (
    <>
      {old && now ? (
        <Loaded query={comparison}>
          {(found) => (
            <MeaningRulings
              release={found.releases.new}
              base={found.releases.old.split("@")[1] ?? ""}
            >
              <Compared comparison={found} />
            </MeaningRulings>
          )}
        </Loaded>
      ) : (
        <>
          <Heading title="Compare two releases">What breaks between them, and for whom.</Heading>
          <Choose key={`${old} ${now}`} old={old} now={now} />
        </>
      )}
    </>
  );
}

function Compared({ comparison }: { comparison: Comparison }) {
  const { changes, next_version: version, releases } = comparison;
  const [oldServer = "", oldVersion = ""] = releases.old.split("@");
  const [newServer = "", newVersion = ""] = releases.new.split("@");
  const [read] = useParamsOf();
  const all = changes.filter((one) => !one.folded);
  const shown = all.filter((one) => fits(one, read("impact"), read("reach")));
  useKeys(STEPS);
  const folded = changes.filter((one) => one.folded);
  const items = [...new Set(shown.map((one) => one.item))];
  return (
    <>
      <Heading
        name={`${releases.old} and ${releases.new}`}
        title={
          <>
            <Link to={`/servers/${newServer}`} className="text-ink no-underline hover:underline">
              {oldServer === newServer ? newServer : `${oldServer}, ${newServer}`}
            </Link>{" "}
            <span className="font-mono text-2xl">
              {oldVersion} → {newVersion}
            </span>
          </>
        }
        aside={
          <CopyButton text={`tallshelf compare ${releases.old} ${releases.new}`}>
            Copy as a command
          </CopyButton>
        }
      >
        {counted(all)}; {plural(comparison.untouched, "item")} untouched. Submitted as{" "}
        {version.declared ?? "no version"}
        {version.scheme === "calendar"
          ? `, declared ${version.breaking ? "" : "not "}to break`
          : version.honest
            ? `, honest ${version.honest}`
            : ""}
        {version.is_honest ? (
          "."
        ) : (
          <strong className="text-brick">
            {version.scheme === "calendar"
              ? ": it does."
              : `: the version should be ${version.honest}.`}
          </strong>
        )}
      </Heading>
      <details className="mb-6">
        <summary>Compare others</summary>
        <div className="mt-3">
          <Choose key={`${releases.old} ${releases.new}`} old={releases.old} now={releases.new} />
        </div>
      </details>
      {comparison.kits.length ? (
        <section aria-labelledby="hits" className="mb-8">
          <h2 id="hits" className="mb-2 text-xl">
            It hits {hitWords(comparison.kits)}
          </h2>
          <Hits hits={comparison.kits} />
        </section>
      ) : null}
      {all.length > 1 ? <Summary comparison={comparison} /> : null}
      {all.length ? <Filters /> : <Empty>Nothing that anybody would notice.</Empty>}
      {all.length && !shown.length ? <NoMatches /> : null}
      <div className="space-y-8">
        {items.map((item) => (
          <Facing
            key={item}
            item={item}
            releases={releases}
            changes={shown.filter((one) => one.item === item)}
          />
        ))}
      </div>
      {comparison.not_checked.map((list) => (
        <p key={list} className="mt-4 border-l-4 border-slate bg-slate-wash px-4 py-2">
          {list}: not checked, one side did not ask for it.
        </p>
      ))}
      {folded.length ? (
        <details className="mt-8">
          <summary>{plural(folded.length, "change")} that nobody meets</summary>
          <div className="mt-3 space-y-3">
            {folded.map((one) => (
              <ChangeNote key={`${one.item} ${one.kind} ${one.message}`} change={one} />
            ))}
          </div>
        </details>
      ) : null}
    </>
  );
}

/** What a comparison comes to: a line for each item, then the same at many places. */
function Summary({ comparison }: { comparison: Comparison }) {
  const many = comparison.groups.filter((one) => one.places.length >= SMALLEST_GROUP);
  return (
    <section aria-labelledby="summary" className="mb-6">
      <h2 id="summary" className="mb-2 text-xl">
        In short
      </h2>
      <ItemLines items={comparison.items} address={(item) => `#${sectionId(item)}`} />
      {many.length ? (
        <>
          <h3 className="mt-4 mb-1 font-semibold">The same at many places</h3>
          <ul className="space-y-2">
            {many.map((one) => (
              <li key={`${one.kind} ${one.message} ${one.places[0]?.item}`}>
                <GroupNote group={one} changes={comparison.changes} />
              </li>
            ))}
          </ul>
        </>
      ) : null}
    </section>
  );
}

const SMALLEST_GROUP = 3;

const IMPACTS = [
  ["", "all"],
  ["breaking", "breaking"],
  ["undecided", "undecided"],
  ["silent", "silent"],
  ["caution", "caution"],
  ["compatible", "compatible"],
] as const;
const REACHES = [
  ["", "anybody"],
  ["callers", "callers"],
  ["receivers", "receivers"],
  ["choosers", "choosers"],
  ["operators", "operators"],
] as const;

const MEANS = {
  "": "Breaking: refused. Silent: accepted, and wrong. Caution: to be looked at. Compatible: nothing moves.",
  breaking: "A call that was taken is refused, or an answer no longer fits what was promised.",
  undecided: "It could not be told within the bounds of the comparison: look at it.",
  silent:
    "Nobody is refused, and the answers are wrong: an argument is ignored, or a meaning moved.",
  caution: "Nothing breaks; somebody may be served otherwise.",
  compatible: "Every call is taken as before, and every answer fits.",
} as const;
const MEETS = {
  "": "",
  callers: " Callers send arguments.",
  receivers: " Receivers read results.",
  choosers: " Choosers pick a tool by its name and words: models, and people.",
  operators: " Operators launch and connect it.",
} as const;

/** What is filtered for, in a line. */
function Means({ impact, reach }: { impact: string; reach: string }) {
  return (
    <p className="w-full text-sm text-soft">
      {MEANS[impact as keyof typeof MEANS] ?? ""}
      {MEETS[reach as keyof typeof MEETS] ?? ""}
    </p>
  );
}

function Filters() {
  const [read, write] = useParamsOf();
  return (
    <fieldset className="mb-6 grid max-w-2xl grid-cols-2 items-end gap-4 sm:grid-cols-3">
      <legend className="sr-only">Which changes</legend>
      <Select
        label="Impact"
        choices={IMPACTS}
        value={read("impact")}
        onChange={(event) => write({ impact: event.target.value })}
      />
      <Select
        label="Reaches"
        choices={REACHES}
        value={read("reach")}
        onChange={(event) => write({ reach: event.target.value })}
      />
      <div className="flex gap-2">
        <button type="button" className="button" data-size="small" onClick={STEPS.p}>
          Previous
        </button>
        <button type="button" className="button" data-size="small" onClick={STEPS.n}>
          Next
        </button>
      </div>
      <div className="col-span-full">
        <Means impact={read("impact")} reach={read("reach")} />
      </div>
    </fieldset>
  );
}

const fits = (change: Change, impact: string, reach: string): boolean =>
  (!impact || (impact === "silent" ? change.silent : change.impact === impact)) &&
  (!reach || change.reach.some((one) => one === reach));

const STEPS = { n: () => step(1), p: () => step(-1) };

let last: HTMLElement | null = null;

/** Go to the next or the previous change, from the one that was gone to last. */
function step(by: number) {
  const notes = [...document.querySelectorAll<HTMLElement>("[data-change]")];
  const here = last ? notes.indexOf(last) : -1;
  const next = here < 0 ? notes.at(by > 0 ? 0 : -1) : notes[here + by];
  if (!next) return;
  last = next;
  next.focus();
  next.scrollIntoView({ block: "center" });
}

function counted(changes: Change[]): string {
  const count = (test: (change: Change) => boolean) => changes.filter(test).length;
  const parts = [
    [count((one) => one.impact === "breaking"), "breaking"],
    [count((one) => one.impact === "undecided"), "undecided"],
    [count((one) => one.silent), "silent"],
    [count((one) => one.impact === "caution" && !one.silent), "caution"],
    [count((one) => one.impact === "compatible"), "compatible"],
  ]
    .filter(([number]) => number)
    .map(([number, word]) => `${number} ${word}`);
  return parts.join(", ") || "no changes";
}
