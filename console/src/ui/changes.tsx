/** Changes with their mark, sentence and witness, shared by compare and request. */

import { createContext, type ReactNode, useContext } from "react";
import type { Change } from "../api/types";
import { spaced } from "../lib/text";
import { ImpactMark } from "./marks";
import { Foreign } from "./parts";

const EDGES: Record<string, string> = {
  breaking: "border-brick",
  undecided: "border-slate",
  caution: "border-amber",
  compatible: "border-moss",
};

/** What a page lets one do about a change, shown below it. */
export const ChangeActs = createContext<((change: Change) => ReactNode) | null>(null);

/** Name a change by what it is about, so that it can be linked to. */
export const changeId = (change: Change): string =>
  [change.item, change.kind, change.new_pointer ?? change.old_pointer ?? change.message].join(" ");

/** One change; with `linked` it has an address of its own on the page. */
export function ChangeNote({ change, linked = false }: { change: Change; linked?: boolean }) {
  const id = changeId(change);
  const acts = useContext(ChangeActs);
  return (
    <div
      className={`scroll-mt-6 border-l-4 pl-3 outline-none target:bg-paper focus:bg-paper ${EDGES[change.impact]}`}
      {...(linked ? { id, tabIndex: -1, "data-change": true } : {})}
    >
      <ImpactMark impact={change.impact} silent={change.silent} reach={change.reach} />
      {linked ? (
        <a
          href={`#${encodeURIComponent(id)}`}
          aria-label={`Address of this change: ${change.message}`}
          className="ml-2"
        >
          #
        </a>
      ) : null}
      <p>
        <Foreign text={change.message.replaceAll("`", "")} />
      </p>
      {change.notice ? (
        <p className="text-sm text-soft">
          {Math.round(change.notice * 100)} % of its key words changed
        </p>
      ) : null}
      {change.verdict === "counted" ? (
        <p className="text-sm text-soft">
          Shown by counting: what it takes to see it is too large to be written down.
        </p>
      ) : null}
      {change.witness && !change.folded ? (
        <div className="mt-1">
          <p className="text-sm text-soft">
            <Foreign text={shownBy(change.witness)} />
          </p>
          <pre className="bg-paper px-2 py-1 text-sm wrap-anywhere whitespace-pre-wrap">
            <Foreign text={spaced(change.witness.instance)} />
          </pre>
        </div>
      ) : null}
      {acts ? acts(change) : null}
    </div>
  );
}

/** What a witness shows, for the line above it. */
function shownBy(witness: NonNullable<Change["witness"]>): string {
  if (witness.accepted_by === "both") {
    return `This is answered as if ${witness.ignored?.join(", ")} were not there:`;
  }
  return witness.accepted_by === "old" ? "This worked and is refused:" : "This may come now:";
}
