import { useMutation } from "@tanstack/react-query";
import type { FormEvent } from "react";
import { acts } from "../../api/acts";
import type { Checkpoint, Verified } from "../../api/types";
import { when } from "../../lib/text";
import { CopyButton, TextArea } from "../../ui/form";
import { Mark } from "../../ui/marks";
import { Code, Foreign, Trouble } from "../../ui/parts";

/** Whether the ledger holds, the whole of it to keep, and where it stands, signed. */
export function Shown() {
  const verify = useMutation({ mutationFn: acts.verifyLedger });
  const checkpoint = useMutation({ mutationFn: acts.checkpoint });
  function against(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    verify.mutate(String(new FormData(event.currentTarget).get("kept")));
  }
  const error = verify.error ?? checkpoint.error;
  return (
    <div className="mb-6 space-y-3">
      <div className="flex flex-wrap gap-3">
        <button
          type="button"
          className="button"
          disabled={verify.isPending}
          onClick={() => verify.mutate("")}
        >
          {verify.isPending ? "Verifying…" : "Verify it"}
        </button>
        <button type="button" className="button" onClick={() => checkpoint.mutate()}>
          Make a checkpoint
        </button>
        <a className="button" href="/api/v1/ledger/export" download="ledger.jsonl">
          Export it
        </a>
      </div>
      <details>
        <summary>Against a checkpoint that was kept</summary>
        <form onSubmit={against} className="mt-2 max-w-2xl space-y-3">
          <TextArea
            label="Checkpoint"
            name="kept"
            required
            spellCheck={false}
            hint="As it was printed with a publication, or copied here. Only so it shows that the tail was cut or all of it written anew."
          />
          <button type="submit" className="button" disabled={verify.isPending}>
            Verify against it
          </button>
        </form>
      </details>
      {error ? <Trouble error={error} /> : null}
      {verify.data ? <Found found={verify.data} /> : null}
      {checkpoint.data ? <Signed found={checkpoint.data} /> : null}
    </div>
  );
}

function Found({ found }: { found: Verified }) {
  const wrong = found.fault ? [found.fault] : [...found.refused, ...found.differences];
  const untold = Object.entries(found.not_told);
  return (
    <div
      role="status"
      className={`border-l-4 px-4 py-2 ${wrong.length ? "border-brick bg-brick-wash" : "border-moss bg-moss-wash"}`}
    >
      <p>
        <Mark shape={wrong.length ? "diamond" : "disc"} tone={wrong.length ? "brick" : "moss"}>
          {wrong.length ? "It does not hold" : "It holds"}
        </Mark>
        : {found.entries.toLocaleString("en")} entries
        {wrong.length
          ? "."
          : "; everybody was entitled to what they did, and all that decides is as it says."}
      </p>
      {untold.length ? (
        <p className="text-sm text-soft">
          Not told by older entries:{" "}
          {untold.map(([what, often]) => `${what} (${often})`).join("; ")}.
        </p>
      ) : null}
      {wrong.length ? (
        <ul className="list-disc pl-5">
          {wrong.map((one) => (
            <li key={one}>
              <Foreign text={one} />
            </li>
          ))}
        </ul>
      ) : found.kept_at ? (
        <p>The checkpoint of {when(found.kept_at)} agrees with it.</p>
      ) : (
        <p className="text-sm text-soft">
          That its tail was not cut, or all of it written anew, shows only against a checkpoint kept
          elsewhere.
        </p>
      )}
    </div>
  );
}

function Signed({ found }: { found: Checkpoint }) {
  return (
    <div role="status" className="border-l-4 border-moss bg-moss-wash px-4 py-2">
      <p className="mb-2">Where it stands now, signed. Keep it where the service cannot reach.</p>
      <Code label="Checkpoint" text={found.checkpoint} />
      <div className="mt-2">
        <CopyButton text={found.checkpoint} />
      </div>
    </div>
  );
}
