import { Link } from "react-router";
import type { StyleEffect } from "../../api/types";
import { plural } from "../../lib/text";
import { LevelMark } from "../../ui/marks";
import { Foreign } from "../../ui/parts";
import { Scrolling } from "../../ui/table";

const LEVELS = ["error", "warning", "note"] as const;
type Counts = StyleEffect["rules"][number]["before"];

/** What a style would do to every current release: findings by rule, and servers that would newly fail. */
export function Effect({ effect }: { effect: StyleEffect }) {
  const moved = effect.rules.filter(
    (one) => JSON.stringify(one.before) !== JSON.stringify(one.after),
  );
  const same = effect.rules.length - moved.length;
  return (
    <section aria-labelledby="effect" className="mt-6">
      <h2 id="effect" className="mb-2 text-xl">
        What it would do to {plural(effect.servers, "server")}
      </h2>
      {effect.newly_failing.length ? (
        <div className="mb-4 border-l-4 border-brick bg-brick-wash px-4 py-2">
          <p className="font-semibold">
            {plural(effect.newly_failing.length, "server")} would newly fail
          </p>
          <ul>
            {effect.newly_failing.map((one) => (
              <li key={one.server}>
                <Link to={`/servers/${one.server}`} className="font-mono">
                  {one.server}
                </Link>
                : {one.rules.join(", ")}
              </li>
            ))}
          </ul>
        </div>
      ) : (
        <p className="mb-3">No server would newly fail.</p>
      )}
      {effect.no_longer_failing.length ? (
        <p className="mb-3">Would fail no more: {effect.no_longer_failing.join(", ")}.</p>
      ) : null}
      {effect.loosened.length ? (
        <Loosened title="It lets pass what the style in force does not" words={effect.loosened} />
      ) : null}
      {moved.length ? (
        <Scrolling label="Findings by rule, now and with this style">
          <table className="w-full min-w-[36rem] border-collapse text-left">
            <thead>
              <tr className="text-soft">
                <th scope="col" className="border-b-2 border-rule px-4 py-2 font-medium">
                  Rule
                </th>
                <th scope="col" className="border-b-2 border-rule px-4 py-2 font-medium">
                  Now
                </th>
                <th scope="col" className="border-b-2 border-rule px-4 py-2 font-medium">
                  With this style
                </th>
              </tr>
            </thead>
            <tbody>
              {moved.map((one) => (
                <tr key={one.rule}>
                  <th
                    scope="row"
                    className="border-b border-rule px-4 py-2 font-mono text-sm font-normal"
                  >
                    <Link to={`/rules#${one.rule}`}>{one.rule}</Link>
                  </th>
                  <td className="border-b border-rule px-4 py-2">
                    <Levels counts={one.before} />
                  </td>
                  <td className="border-b border-rule px-4 py-2">
                    <Levels counts={one.after} />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scrolling>
      ) : null}
      <p className="mt-2 text-soft">
        {moved.length
          ? `${plural(same, "rule")} would find what they find now.`
          : "No finding would change."}
      </p>
    </section>
  );
}

/** What a style loosens, for which a second curator is needed. */
export function Loosened({ title, words }: { title: string; words: string[] }) {
  return (
    <div className="mb-4 border-l-4 border-amber bg-amber-wash px-4 py-2">
      <p className="font-semibold">{title}</p>
      <ul className="list-disc pl-5">
        {words.map((one) => (
          <li key={one}>
            <Foreign text={one} />
          </li>
        ))}
      </ul>
    </div>
  );
}

function Levels({ counts }: { counts: Counts }) {
  const there = LEVELS.filter((level) => counts[level]);
  if (there.length === 0) return <span className="text-soft">none</span>;
  return (
    <span className="flex flex-wrap gap-x-4">
      {there.map((level) => (
        <LevelMark key={level} level={level}>
          {plural(counts[level] ?? 0, level)}
        </LevelMark>
      ))}
    </span>
  );
}
