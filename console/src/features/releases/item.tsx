import { Link } from "react-router";
import type { Finding, Item, Line, Overlap } from "../../api/types";
import { itemPath } from "../../lib/text";
import { LevelMark, Mark } from "../../ui/marks";
import { Foreign, Json } from "../../ui/parts";
import { OverlapMark, Ruled, sidesPath } from "../overlap/parts";
import { WaiveButton, Waived } from "../style/waive";

/** What can be asked for an item. */
export type AskOfItem = { kind: "deprecate-item" | "keep-item"; item: string };

const ASK = { "deprecate-item": "Ask to deprecate it", "keep-item": "Ask to keep it after all" };
const ON_OTHER_TERMS = "Ask for other terms";

/** One item as a model reads it; findings and overlaps stand beside what they are about. */
export function ItemSheet({
  item,
  overlaps,
  onAsk,
}: {
  item: Item;
  overlaps: Overlap[];
  onAsk: ((asked: AskOfItem) => void) | null;
}) {
  const about = (pointer: string) =>
    item.findings.filter((one) => one.pointer === pointer || one.pointer.startsWith(`${pointer}/`));
  const lines = [...item.parameters, ...item.results];
  const placed = new Set(lines.flatMap((line) => about(line.pointer)));
  const rest = item.findings.filter((one) => !placed.has(one));
  const beside = rest.length + overlaps.length > 0;
  return (
    <article
      id={item.item}
      className="scroll-mt-4 border border-rule bg-sheet target:border-act"
      aria-labelledby={`name ${item.item}`}
    >
      <div className={beside ? "grid gap-x-8 xl:grid-cols-[5fr_2fr]" : ""}>
        <div className="p-4 sm:p-6">
          <div className="flex flex-wrap items-baseline justify-between gap-x-4">
            <h2 id={`name ${item.item}`} className="font-mono text-lg break-all">
              <Foreign text={item.name || "(no name)"} />
            </h2>
            <span className="text-sm text-soft">
              {item.kind}, about {item.tokens.toLocaleString("en")} tokens{" "}
              <a
                href={`#${encodeURIComponent(item.item)}`}
                aria-label={`Address of ${item.name}`}
                title="The address of this item"
              >
                #
              </a>
            </span>
          </div>
          {item.deprecated ? (
            <p className="mt-2">
              <Mark shape="half" tone="amber">
                deprecated
              </Mark>
              <Foreign text={item.deprecated.replace(/^deprecated/, "")} />
            </p>
          ) : null}
          <p className="mt-2 max-w-prose">
            {item.description ? (
              <Described text={item.description} findings={rest} />
            ) : (
              <em className="text-soft">no description</em>
            )}
          </p>
        </div>
        {beside ? (
          <div className="space-y-3 px-4 pb-4 sm:px-6 xl:border-l xl:border-rule xl:py-6 xl:pl-6">
            <Findings findings={rest} />
            <OverlapNotes overlaps={overlaps} />
          </div>
        ) : null}
      </div>
      <Lines title="takes" lines={item.parameters} about={about} />
      <Lines title="returns" lines={item.results} about={about} />
      <details className="border-t border-rule px-4 py-3 sm:px-6">
        <summary>As declared</summary>
        <Json label={`${item.name} as declared`} value={item.declared} />
        {onAsk ? (
          <div className="mt-3 flex flex-wrap gap-3">
            {(item.deprecated
              ? (["deprecate-item", "keep-item"] as const)
              : (["deprecate-item"] as const)
            ).map((kind) => (
              <button
                key={kind}
                type="button"
                className="button"
                data-size="small"
                onClick={() => onAsk({ kind, item: item.item })}
              >
                {item.deprecated && kind === "deprecate-item" ? ON_OTHER_TERMS : ASK[kind]}
                <span className="sr-only">: {item.name}</span>
              </button>
            ))}
          </div>
        ) : null}
      </details>
    </article>
  );
}

/** A description with the part that a finding is about underlined. */
function Described({ text, findings }: { text: string; findings: Finding[] }) {
  const found = findings.find((one) => one.pointer === "/description" && one.span);
  const [start = 0, end = 0] = found?.span ?? [];
  const letters = [...text];
  if (!found || end > letters.length || start >= end) return <Foreign text={text} />;
  const part = (from: number, to?: number) => letters.slice(from, to).join("");
  return (
    <>
      <Foreign text={part(0, start)} />
      <mark>
        <Foreign text={part(start, end)} />
      </mark>
      <Foreign text={part(end)} />
    </>
  );
}

function Lines({
  title,
  lines,
  about,
}: {
  title: string;
  lines: Line[];
  about: (pointer: string) => Finding[];
}) {
  if (lines.length === 0) return null;
  return (
    <div className="border-t border-rule px-4 py-3 sm:px-6">
      <h3 className="font-sans text-sm font-normal text-soft">{title}</h3>
      <ul>
        {lines.map((line) => {
          const notes = about(line.pointer);
          return (
            <li
              key={line.pointer}
              className={`grid gap-x-6 py-1 sm:grid-cols-2 ${notes.length ? "xl:grid-cols-[6fr_4fr_6fr_5fr]" : "xl:grid-cols-[6fr_4fr_9fr]"}`}
            >
              <span className="font-mono font-semibold wrap-anywhere">
                <Foreign text={line.name} />
              </span>
              <span className="font-mono text-sm text-soft">
                <Foreign text={line.type} />
                {line.required ? "" : ", optional"}
              </span>
              <span className="sm:col-span-2 xl:col-span-1">
                <Foreign text={line.description} />
              </span>
              <Findings findings={notes} />
            </li>
          );
        })}
      </ul>
    </div>
  );
}

export function Findings({ findings }: { findings: Finding[] }) {
  if (findings.length === 0) return null;
  return (
    <ul className="space-y-2 text-sm">
      {findings.map((one) => (
        <li key={`${one.fingerprint} ${one.span} ${one.message}`}>
          <LevelMark level={one.level}>
            {one.level}: <Link to={`/rules#${one.rule}`}>{one.rule}</Link>
          </LevelMark>
          <p>
            <Foreign text={one.message} />
          </p>
          <Waived finding={one} />
          <WaiveButton finding={one} />
        </li>
      ))}
    </ul>
  );
}

function OverlapNotes({ overlaps }: { overlaps: Overlap[] }) {
  if (overlaps.length === 0) return null;
  return (
    <ul className="space-y-3 text-sm">
      {overlaps.map((one) => (
        <li key={`${one.b.server} ${one.b.item}`}>
          <OverlapMark overlap={one}> {one.b.server}</OverlapMark>
          <p>
            <Link
              className="inline-block min-h-6 font-mono wrap-anywhere"
              to={itemPath(one.b.server ?? "", "current", one.b.item)}
            >
              {one.b.item}
            </Link>
          </p>
          <p className="text-soft">
            <Foreign text={one.reasons.join("; ")} />
          </p>
          <Link className="inline-block min-h-6" to={sidesPath(one)}>
            Side by side
          </Link>
          <Ruled overlap={one} own={one.a} />
        </li>
      ))}
    </ul>
  );
}
