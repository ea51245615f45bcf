/** Two versions of an item side by side: which line of the one stands beside which of the other. */

import type { Change, Item, Line } from "../api/types";

export interface Pair {
  key: string;
  group: "takes" | "returns";
  old: Line | undefined;
  now: Line | undefined;
  notes: Change[];
}

export interface Aligned {
  /** Changes of the name, the description and whatever stands at no line. */
  head: Change[];
  pairs: Pair[];
}

/** Pair the lines of an item by their pointers, and put each change beside the innermost line it is about. */
export function aligned(old: Item | undefined, now: Item | undefined, changes: Change[]): Aligned {
  const pairs = (["takes", "returns"] as const).flatMap((group) => {
    const [before, after] = [old, now].map((item) =>
      group === "takes" ? item?.parameters : item?.results,
    );
    return merged(before ?? [], after ?? [], group);
  });
  const head = changes.filter((change) => {
    const pair = innermost(pairs, change);
    pair?.notes.push(change);
    return !pair;
  });
  return { head, pairs };
}

/** Keep the order of the new lines, with those that are gone where they stood before. */
function merged(old: Line[], now: Line[], group: Pair["group"]): Pair[] {
  const kept = new Set(now.map((line) => line.pointer));
  const pairs: Pair[] = now.map((line) => ({
    key: `${group} ${line.pointer}`,
    group,
    old: old.find((one) => one.pointer === line.pointer),
    now: line,
    notes: [],
  }));
  old.forEach((line, index) => {
    if (kept.has(line.pointer)) return;
    const before = old[index - 1]?.pointer;
    const at = before ? pairs.findIndex((pair) => (pair.now ?? pair.old)?.pointer === before) : -1;
    pairs.splice(at + 1, 0, {
      key: `${group} ${line.pointer}`,
      group,
      old: line,
      now: undefined,
      notes: [],
    });
  });
  return pairs;
}

function innermost(pairs: Pair[], change: Change): Pair | undefined {
  const pointers = [change.new_pointer, change.old_pointer].filter((one) => one !== null);
  const holding = pairs.filter((pair) =>
    pointers.some((pointer) =>
      [pair.old, pair.now].some(
        (line) => line && (pointer === line.pointer || pointer.startsWith(`${line.pointer}/`)),
      ),
    ),
  );
  return holding.sort((left, right) => depth(right) - depth(left))[0];
}

const depth = (pair: Pair): number => (pair.now ?? pair.old)?.pointer.length ?? 0;

/** Split two texts into what they share at both ends and what differs between, at whole words. */
export function differing(one: string, other: string): [string, string, string] {
  const [words, others] = [one.split(/(?<=\s)/), other.split(/(?<=\s)/)];
  let start = 0;
  while (start < words.length && words[start] === others[start]) start += 1;
  let end = 0;
  while (
    end < Math.min(words.length, others.length) - start &&
    words.at(-1 - end) === others.at(-1 - end)
  )
    end += 1;
  const cut = words.length - end;
  return [
    words.slice(0, start).join(""),
    words.slice(start, cut).join(""),
    words.slice(cut).join(""),
  ];
}
