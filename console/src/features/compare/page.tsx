import { useQuery } from "@tanstack/react-query";
import type { FormEvent } from "react";
import { useSearchParams } from "react-router";
import { queries } from "../../api/shelf";
import type { Change, Comparison, Item } from "../../api/types";
import { plural } from "../../lib/text";
import { ChangeNote } from "../../ui/changes";
import { Empty, Foreign, Heading, Loaded, Trouble } from "../../ui/parts";

export function ComparePage() {
  const [params] = useSearchParams();
  const [old, now] = [params.get("old") ?? "", params.get("new") ?? ""];
  const comparison = useQuery(queries.comparison(old, now));
  if (!old || !now) return <Choose old={old} now={now} />;
  return <Loaded query={comparison}>{(found) => <Compared comparison={found} />}</Loaded>;
}

function Choose({ old, now }: { old: string; now: string }) {
  const [, setParams] = useSearchParams();
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    setParams({ old: String(form.get("old")).trim(), new: String(form.get("new")).trim() });
  }
  return (
    <>
      <Heading title="Compare two releases">Say which two, as server@version.</Heading>
      <form onSubmit={submit} className="flex max-w-2xl flex-wrap items-end gap-4">
        {(["old", "new"] as const).map((side) => (
          <label key={side} className="grow">
            {side === "old" ? "Old" : "New"}
            <input
              name={side}
              required
              defaultValue={side === "old" ? old : now}
              placeholder="berth-planner@1.4.2"
              className="field mt-1 font-mono"
            />
          </label>
        ))}
        <button type="submit" className="button" data-kind="main">
          Compare
        </button>
      </form>
    </>
  );
}

function Compared({ comparison }: { comparison: Comparison }) {
  const { changes, next_version: version, releases } = comparison;
  const count = (test: (change: Change) => boolean) =>
    changes.filter((one) => !one.folded && test(one)).length;
  const parts = [
    [count((one) => one.impact === "breaking"), "breaking"],
    [count((one) => one.impact === "undecided"), "undecided"],
    [count((one) => one.silent), "silent"],
    [count((one) => one.impact === "caution" && !one.silent), "caution"],
    [count((one) => one.impact === "compatible"), "compatible"],
  ]
    .filter(([number]) => number)
    .map(([number, word]) => `${number} ${word}`);
  const items = [...new Set(changes.filter((one) => !one.folded).map((one) => one.item))];
  const folded = changes.filter((one) => one.folded);
  return (
    <>
      <Heading
        title={
          <>
            {releases.old.split("@")[0]}{" "}
            <span className="font-mono text-2xl">
              {releases.old.split("@")[1]} → {releases.new.split("@")[1]}
            </span>
          </>
        }
      >
        {parts.join(", ") || "no changes"}; {plural(comparison.untouched, "item")} untouched.
        Submitted as {version.declared}, honest {version.honest}
        {version.is_honest ? "." : <strong className="text-brick"> – too low.</strong>}
      </Heading>
      {items.length === 0 ? <Empty>Nothing that anybody would notice.</Empty> : null}
      <div className="space-y-8">
        {items.map((item) => (
          <Facing
            key={item}
            item={item}
            releases={releases}
            changes={changes.filter((one) => one.item === item && !one.folded)}
          />
        ))}
      </div>
      {folded.length ? (
        <details className="mt-8">
          <summary className="cursor-pointer text-act">
            {plural(folded.length, "change")} that nobody meets
          </summary>
          <div className="mt-3 space-y-3">
            {folded.map((one) => (
              <ChangeNote key={`${one.kind} ${one.message}`} change={one} />
            ))}
          </div>
        </details>
      ) : null}
    </>
  );
}

/** One item, old and new on facing pages, with notes in the margin. */
function Facing({
  item,
  releases,
  changes,
}: {
  item: string;
  releases: { old: string; new: string };
  changes: Change[];
}) {
  return (
    <section
      aria-label={item}
      className="grid border border-rule bg-sheet lg:grid-cols-[1fr_1fr_minmax(16rem,20rem)]"
    >
      <Leaf item={item} release={releases.old} pointers={changes.map((one) => one.old_pointer)} />
      <Leaf item={item} release={releases.new} pointers={changes.map((one) => one.new_pointer)} />
      <div className="space-y-4 border-t border-rule p-4 lg:border-t-0 lg:border-l">
        {changes.map((one) => (
          <ChangeNote key={`${one.kind} ${one.message}`} change={one} />
        ))}
      </div>
    </section>
  );
}

function Leaf({
  item,
  release,
  pointers,
}: {
  item: string;
  release: string;
  pointers: (string | null)[];
}) {
  const [slug = "", version = ""] = release.split("@");
  const items = useQuery(queries.items(slug, version));
  const found = items.data?.items.find((one) => one.item === item);
  return (
    <div className="border-rule p-4 not-first:border-t sm:p-6 lg:not-first:border-t-0 lg:not-first:border-l">
      <div className="mb-2 flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 className="text-lg break-all">{item.split(":").slice(1).join(":") || "the server"}</h2>
        <span className="font-mono text-sm text-soft">{version}</span>
      </div>
      {items.error ? <Trouble error={items.error} /> : null}
      {found ? <Declared item={found} pointers={pointers} /> : null}
      {items.data && !found && item !== "server" ? (
        <p className="text-soft">Not in this release.</p>
      ) : null}
    </div>
  );
}

function Declared({ item, pointers }: { item: Item; pointers: (string | null)[] }) {
  const lines = [
    ...item.parameters.map((line) => ({ line, group: "takes" })),
    ...item.results.map((line) => ({ line, group: "returns" })),
  ];
  // A change deep inside is shown at the innermost line that holds it.
  const lit = new Set(
    pointers.map(
      (pointer) =>
        lines
          .map(({ line }) => line.pointer)
          .filter((one) => pointer === one || pointer?.startsWith(`${one}/`))
          .sort((left, right) => right.length - left.length)[0] ?? pointer,
    ),
  );

  return (
    <div className="font-mono text-sm">
      <p className={`mb-3 font-sans text-base ${lit.has("/description") ? "bg-amber-wash" : ""}`}>
        <Foreign text={item.description} />
      </p>
      {lines.map(({ line, group }, index) => (
        <div key={line.pointer}>
          {lines[index - 1]?.group === group ? null : <p className="mt-2 text-soft">{group}</p>}
          <div
            className={`py-0.5 pl-3 ${lit.has(line.pointer) ? "bg-amber-wash underline decoration-amber decoration-2 underline-offset-4" : ""}`}
          >
            <span className="font-semibold">
              <Foreign text={line.name} />
            </span>{" "}
            <Foreign text={line.type} />
            {line.required ? "" : ", optional"}
            <span className="block font-sans text-soft">
              <Foreign text={line.description} />
            </span>
          </div>
        </div>
      ))}
    </div>
  );
}
