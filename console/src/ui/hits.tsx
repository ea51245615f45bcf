/** Which kits are hit, and by what: beside every comparison, and before something ends. */

import { Link } from "react-router";
import type { KitHit, KitHitItem, KitWord } from "../api/types";
import { plural, spaced } from "../lib/text";
import { Mark, type Tone } from "./marks";
import { Foreign } from "./parts";

const MOST_KITS = 8;
const WORDS: Record<KitWord, [shape: string, tone: Tone]> = {
  ended: ["square", "brick"],
  breaking: ["diamond", "brick"],
  undecided: ["ring", "slate"],
  ignored: ["silent", "brick"],
  silent: ["silent", "amber"],
  caution: ["triangle", "amber"],
};

export function HitMark({ word }: { word: KitWord }) {
  const [shape, tone] = WORDS[word];
  return (
    <Mark shape={shape} tone={tone}>
      {word}
    </Mark>
  );
}

/** The kits that are hit, worst first; each opens to the items that reach it. */
export function Hits({ hits }: { hits: KitHit[] }) {
  const [shown, left] = [hits.slice(0, MOST_KITS), hits.slice(MOST_KITS)];
  return (
    <div className="border-y border-rule">
      <HitRows hits={shown} />
      {left.length ? (
        <details className="border-t border-rule py-1">
          <summary>{plural(left.length, "more kit")}</summary>
          <HitRows hits={left} />
        </details>
      ) : null}
    </div>
  );
}

function HitRows({ hits }: { hits: KitHit[] }) {
  return (
    <ul className="divide-y divide-rule">
      {hits.map((hit) => (
        <li key={hit.kit} className="py-1.5">
          <div className="flex flex-wrap items-baseline gap-x-4">
            <Link to={`/kits/${hit.kit}`} className="min-w-48 font-mono text-sm font-semibold">
              {hit.kit}
            </Link>
            <HitMark word={hit.word} />
            <span className="text-sm text-soft">
              {hit.team}, {hit.environment}
            </span>
          </div>
          <HitItems items={hit.hit_items} />
        </li>
      ))}
    </ul>
  );
}

/** What reaches a kit of each of its items. */
export function HitItems({ items }: { items: KitHitItem[] }) {
  return (
    <ul className="mt-0.5 space-y-0.5 pl-4 text-sm">
      {items.map((one) => (
        <li key={one.item}>
          <code className="wrap-anywhere">
            <Foreign text={one.item} />
          </code>{" "}
          <span className="text-soft">at {one.version}:</span>{" "}
          <Foreign text={one.message.replaceAll("`", "")} />{" "}
          <span className="text-soft">({one.word})</span>
          {one.witness ? (
            <div className="font-mono text-xs text-soft wrap-anywhere">
              for example <Foreign text={spaced(one.witness.instance).slice(0, 300)} />
            </div>
          ) : null}
        </li>
      ))}
    </ul>
  );
}

/** How many kits of how many teams, in words. */
export const hitWords = (hits: KitHit[]): string =>
  `${plural(hits.length, "kit")} of ${plural(new Set(hits.map((one) => one.team)).size, "team")}`;
