/** The rules of the house style: what each finds, why, and what it leaves alone. */

import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useLocation } from "react-router";
import { queries } from "../../api/queries";
import type { Rule } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { Select } from "../../ui/form";
import { LevelMark } from "../../ui/marks";
import { Json, Loaded, NoMatches } from "../../ui/parts";
import { StyleHeading } from "./pages";

const LEVELS = [
  ["", "all"],
  ["error", "error"],
  ["warning", "warning"],
  ["note", "note"],
] as const;

export function Component() {
  const rules = useQuery(queries.rules());
  return (
    <>
      <StyleHeading title="Rules">
        A model picks a tool by its name and its words. These rules read them as it would.
      </StyleHeading>
      <Loaded query={rules}>{(found) => <Rules rules={found} />}</Loaded>
    </>
  );
}

function Rules({ rules }: { rules: Rule[] }) {
  const [read, write] = useParamsOf();
  const [words, level, family] = [read("words").toLowerCase(), read("level"), read("family")];
  useHash();
  const families = [...new Set(rules.map((one) => one.family))];
  const shown = rules.filter(
    (one) =>
      (!level || one.level === level) &&
      (!family || one.family === family) &&
      `${one.rule} ${one.reason} ${one.covers.join(" ")}`.toLowerCase().includes(words),
  );
  return (
    <>
      <div className="mb-6 flex flex-wrap items-end gap-4">
        <label className="min-w-64 grow">
          <span className="mb-1 block">Words of the rule</span>
          <input
            type="search"
            className="field"
            value={read("words")}
            onChange={(event) => write({ words: event.target.value })}
          />
        </label>
        <Select
          label="Level"
          choices={LEVELS}
          value={level}
          onChange={(event) => write({ level: event.target.value })}
        />
        <Select
          label="Family"
          choices={[["", "all"], ...families.map((one) => [one, one] as const)]}
          value={family}
          onChange={(event) => write({ family: event.target.value })}
        />
      </div>
      {shown.length === 0 ? <NoMatches /> : null}
      {families.map((one) => (
        <Family key={one} name={one} rules={shown.filter((rule) => rule.family === one)} />
      ))}
    </>
  );
}

/** Go to the rule that the address names, once the rules are there. */
function useHash() {
  const { hash } = useLocation();
  useEffect(() => {
    if (hash) document.getElementById(decodeURIComponent(hash.slice(1)))?.scrollIntoView();
  }, [hash]);
}

function Family({ name, rules }: { name: string; rules: Rule[] }) {
  if (rules.length === 0) return null;
  return (
    <section aria-labelledby={`family ${name}`} className="mb-10">
      <h2 id={`family ${name}`} className="mb-3 text-xl capitalize">
        {name}
      </h2>
      <div className="space-y-4">
        {rules.map((rule) => (
          <RuleSheet key={rule.rule} rule={rule} />
        ))}
      </div>
    </section>
  );
}

function RuleSheet({ rule }: { rule: Rule }) {
  return (
    <article
      id={rule.rule}
      aria-labelledby={`name ${rule.rule}`}
      className="scroll-mt-4 border border-rule bg-sheet p-4 target:border-act sm:p-6"
    >
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h3 id={`name ${rule.rule}`} className="font-mono text-lg break-all">
          {rule.rule}
        </h3>
        <LevelMark level={rule.level}>{rule.level}</LevelMark>
      </div>
      <p className="mt-1 max-w-prose">{rule.reason}</p>
      {rule.settings.map((one) => (
        <p key={one.name} className="mt-2 text-sm">
          <code className="font-mono">
            {one.name} = {JSON.stringify(one.default)}
          </code>{" "}
          <span className="text-soft">{one.means}</span>
        </p>
      ))}
      <details className="mt-3">
        <summary>A bad and a good example</summary>
        <div className="mt-2 grid gap-4 lg:grid-cols-2">
          <Json label={`a bad example of ${rule.rule}`} value={rule.bad} />
          <Json label={`a good example of ${rule.rule}`} value={rule.good} />
        </div>
      </details>
    </article>
  );
}
