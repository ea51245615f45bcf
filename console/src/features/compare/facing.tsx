import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useLocation } from "react-router";
import { queries } from "../../api/queries";
import type { Change, Item, Line } from "../../api/types";
import { aligned, differing, type Pair } from "../../lib/aligned";
import { ChangeNote, changeId } from "../../ui/changes";
import { Foreign, Trouble, Waiting } from "../../ui/parts";

const COLUMNS = "lg:grid lg:grid-cols-[1fr_1fr_minmax(15rem,20rem)]";
const LEAF = "px-4 py-1 sm:px-6 lg:not-first:border-l lg:not-first:border-rule";
const NOTES = "space-y-4 px-4 py-1 lg:border-l lg:border-rule";

/** The address of an item's pages. */
export const sectionId = (item: string): string => `pages ${item}`.replaceAll(" ", "-");

/** One item, old and new on facing pages, each note in the margin beside its line. */
export function Facing({
  item,
  releases,
  changes,
}: {
  item: string;
  releases: { old: string; new: string };
  changes: Change[];
}) {
  const [old, now] = [useItem(releases.old, item), useItem(releases.new, item)];
  const trouble = old.error ?? now.error;
  const name = item.split(":").slice(1).join(":") || "the server";
  const { head, pairs } = aligned(old.found, now.found, changes);
  useArrival(changes, old.waits || now.waits);
  if (trouble) return <Trouble error={trouble} />;
  if (old.waits || now.waits) return <Waiting />;
  return (
    <section
      id={sectionId(item)}
      aria-label={item}
      className="scroll-mt-6 border border-rule bg-sheet pb-3"
    >
      <div className={COLUMNS}>
        {([old, now] as const).map((side, index) => (
          <div key={index === 0 ? "old" : "new"} className={`${LEAF} pt-4`}>
            <div className="flex flex-wrap items-baseline justify-between gap-x-4">
              <h2 className="text-lg break-all">{name}</h2>
              <span className="font-mono text-sm text-soft">{side.version}</span>
            </div>
            {item === "server" ? null : (
              <Description item={side.found} other={(index === 0 ? now : old).found} />
            )}
          </div>
        ))}
        <div className={`${NOTES} pt-4`}>
          {head.map((one) => (
            <ChangeNote key={`${one.kind} ${one.message}`} change={one} linked />
          ))}
        </div>
      </div>
      {pairs.map((pair, index) => (
        <Row key={pair.key} pair={pair} first={pairs[index - 1]?.group !== pair.group} />
      ))}
    </section>
  );
}

/** When the address names one of these changes, go to it once the item is drawn. */
function useArrival(changes: Change[], waits: boolean) {
  const { hash } = useLocation();
  const id = decodeURIComponent(hash.slice(1));
  const here = id !== "" && changes.some((one) => changeId(one) === id);
  useEffect(() => {
    if (here && !waits) document.getElementById(id)?.scrollIntoView({ block: "center" });
  }, [here, id, waits]);
}

function useItem(reference: string, item: string) {
  const [slug = "", version = ""] = reference.split("@");
  const items = useQuery(queries.items(slug, version));
  return {
    version,
    found: items.data?.items.find((one) => one.item === item),
    waits: items.isPending,
    error: items.data ? null : items.error,
  };
}

function Description({ item, other }: { item: Item | undefined; other: Item | undefined }) {
  if (!item) return <p className="my-2 text-soft">Not in this release.</p>;
  if (!other) {
    return (
      <p className="my-2">
        <Foreign text={item.description} />
      </p>
    );
  }
  const [before, between, after] = differing(item.description, other.description);
  return (
    <p className="my-2">
      <Foreign text={before} />
      {between ? (
        <mark>
          <Foreign text={between} />
        </mark>
      ) : null}
      <Foreign text={after} />
    </p>
  );
}

function Row({ pair, first }: { pair: Pair; first: boolean }) {
  return (
    <div className={COLUMNS}>
      {([pair.old, pair.now] as const).map((line, index) => (
        <div
          key={index === 0 ? "old" : "new"}
          className={`${LEAF} ${index === 1 && !pair.notes.length ? "max-lg:hidden" : ""}`}
        >
          {first ? <p className="mt-2 text-sm text-soft">{pair.group}</p> : null}
          <p className="text-xs text-soft lg:hidden">
            {pair.notes.length ? (index === 0 ? "old" : "new") : ""}
          </p>
          {line ? (
            <OneLine line={line} other={index === 0 ? pair.now : pair.old} notes={pair.notes} />
          ) : (
            <p className="py-0.5 text-sm text-soft">{index === 0 ? "not there yet" : "gone"}</p>
          )}
        </div>
      ))}
      <div className={`${NOTES} ${first ? "lg:pt-8" : ""}`}>
        {pair.notes.map((one) => (
          <ChangeNote key={`${one.kind} ${one.message}`} change={one} linked />
        ))}
      </div>
    </div>
  );
}

const WASHES = {
  breaking: "bg-brick-wash decoration-brick",
  undecided: "bg-slate-wash decoration-slate",
  caution: "bg-amber-wash decoration-amber",
  compatible: "bg-moss-wash decoration-moss",
};
const WORST = ["breaking", "undecided", "caution", "compatible"] as const;

function OneLine({ line, other, notes }: { line: Line; other: Line | undefined; notes: Change[] }) {
  const worst = WORST.find((impact) => notes.some((one) => one.impact === impact));
  const lit = (differs: boolean) =>
    worst && differs
      ? `${WASHES[worst]} text-ink underline decoration-2 underline-offset-4`
      : "bg-transparent no-underline";
  const kind = `${line.type}${line.required ? "" : ", optional"}`;
  const otherKind = other ? `${other.type}${other.required ? "" : ", optional"}` : null;
  const same = kind === otherKind && line.description === other?.description;
  return (
    <div className="py-0.5 font-mono text-sm">
      <span className={`font-semibold ${lit(!other || same)}`}>
        <Foreign text={line.name} />
      </span>{" "}
      <span className={lit(kind !== otherKind)}>
        <Foreign text={kind} />
      </span>
      <span
        className={`block font-sans text-soft ${lit(Boolean(other) && line.description !== other?.description)}`}
      >
        <Foreign text={line.description} />
      </span>
    </div>
  );
}
