/** Changes in fewer words, shared by compare and request: a line for each item, and groups that open in place. */

import type { Change, ChangeGroup, ItemChanges } from "../api/types";
import { plural } from "../lib/text";
import { ChangeNote } from "./changes";
import { ImpactMark } from "./marks";
import { Foreign } from "./parts";

const MOST_ITEMS = 12;

/** One line for each item, worst first; those beyond a dozen are folded. */
export function ItemLines({
  items,
  address,
}: {
  items: ItemChanges[];
  address: (item: string) => string;
}) {
  const [shown, left] = [items.slice(0, MOST_ITEMS), items.slice(MOST_ITEMS)];
  const rows = (some: ItemChanges[]) => (
    <ul className="divide-y divide-rule">
      {some.map((one) => (
        <li key={one.item} className="flex flex-wrap items-baseline gap-x-4 py-1">
          <a href={address(one.item)} className="min-w-64 font-mono text-sm wrap-anywhere">
            <Foreign text={one.item} />
          </a>
          <ImpactMark
            impact={one.impact}
            silent={one.impact === "caution" && "silent" in one.counts}
            reach={one.reach}
          />
          <span className="text-sm text-soft">{counted(one.counts)}</span>
        </li>
      ))}
    </ul>
  );
  return (
    <div className="border-y border-rule">
      {rows(shown)}
      {left.length ? (
        <details className="border-t border-rule py-1">
          <summary>{plural(left.length, "more item")}</summary>
          {rows(left)}
        </details>
      ) : null}
    </div>
  );
}

/** The same change at many places as one entry, which opens to the places. */
export function GroupNote({ group, changes }: { group: ChangeGroup; changes: Change[] }) {
  const own = changesOf(group, changes);
  const [first] = own;
  if (own.length === 1 && first) return <ChangeNote change={first} />;
  return (
    <details>
      <summary>
        <ImpactMark impact={group.impact} silent={group.silent} reach={group.reach} />{" "}
        <Foreign text={group.message.replaceAll("`", "")} />
      </summary>
      <ul className="mt-2 space-y-3 pl-4">
        {own.map((one) => (
          <li key={`${one.item} ${one.old_pointer} ${one.new_pointer} ${one.message}`}>
            <span className="font-mono text-sm wrap-anywhere">
              <Foreign text={one.item} />
            </span>
            <ChangeNote change={one} />
          </li>
        ))}
      </ul>
    </details>
  );
}

/** Return the changes of a group, which tells of each by its item and pointers. */
export function changesOf(group: ChangeGroup, changes: Change[]): Change[] {
  const places = new Set(group.places.map(placeOf));
  return changes.filter(
    (one) =>
      one.kind === group.kind &&
      one.impact === group.impact &&
      one.silent === group.silent &&
      !one.folded &&
      places.has(placeOf(one)),
  );
}

const placeOf = (one: {
  item: string;
  old_pointer: string | null;
  new_pointer: string | null;
}): string => JSON.stringify([one.item, one.old_pointer, one.new_pointer]);

const WORDS = ["breaking", "undecided", "silent", "caution", "compatible"] as const;

const counted = (counts: Record<string, number>): string =>
  WORDS.filter((word) => counts[word])
    .map((word) => `${counts[word]?.toLocaleString("en")} ${word}`)
    .join(", ");
