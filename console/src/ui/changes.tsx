/** Changes with their mark, sentence and witness, shared by compare and request. */

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

export function ChangeNote({ change }: { change: Change }) {
  return (
    <div className={`border-l-4 pl-3 ${EDGES[change.impact]}`}>
      <ImpactMark impact={change.impact} silent={change.silent} reach={change.reach} />
      <p>
        <Foreign text={change.message.replaceAll("`", "")} />
      </p>
      {change.witness && !change.folded ? (
        <div className="mt-1">
          <p className="text-sm text-soft">
            {change.witness.accepted_by === "old"
              ? "This worked and is refused:"
              : "This may come now:"}
          </p>
          <pre className="bg-paper px-2 py-1 text-sm wrap-anywhere whitespace-pre-wrap">
            <Foreign text={spaced(change.witness.instance)} />
          </pre>
        </div>
      ) : null}
    </div>
  );
}
