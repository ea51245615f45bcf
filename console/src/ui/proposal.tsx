/** Editing a text that rules others: what it would do is shown before it is saved or proposed. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { FormDialog } from "./dialog";
import { Labelled, TextArea } from "./form";
import { useUnsaved } from "./unsaved";
import { Trouble } from "./parts";

interface Progress {
  done: number;
  of: number;
}

/** What one needs to know of a preview: what it loosens, and what keeps it from being saved. */
interface Previewed {
  loosened: string[];
  faults?: string[];
}

export function ProposalEditor<Preview extends Previewed>({
  text: saved,
  label,
  hint,
  ask,
  onPreview,
  onSave,
  children,
}: {
  text: string;
  label: string;
  hint: string;
  /** What the button that previews says. */
  ask: string;
  onPreview: (text: string, onStep: (done: number, of: number) => void) => Promise<Preview>;
  onSave: (text: string, note: string) => Promise<unknown>;
  children: (preview: Preview) => ReactNode;
}) {
  const [text, setText] = useState(saved);
  const [progress, setProgress] = useState<Progress | null>(null);
  const [saving, setSaving] = useState(false);
  const preview = useMutation({
    mutationFn: (wanted: string) => onPreview(wanted, (done, of) => setProgress({ done, of })),
    onSettled: () => setProgress(null),
  });
  const seen = preview.data && preview.variables === text ? preview.data : null;
  const loosens = Boolean(seen?.loosened.length);
  useUnsaved(text !== saved && !saving);
  return (
    <>
      <Labelled label={label} hint={hint}>
        {(about) => (
          <textarea
            {...about}
            className="field font-mono text-sm"
            rows={Math.min(28, Math.max(12, text.split("\n").length + 2))}
            spellCheck={false}
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        )}
      </Labelled>
      <div className="mt-3 flex flex-wrap items-center gap-3">
        <button
          type="button"
          className="button"
          disabled={preview.isPending || text === saved}
          onClick={() => preview.mutate(text)}
        >
          {ask}
        </button>
        <button
          type="button"
          className="button"
          data-kind="main"
          disabled={!seen || Boolean(seen.faults?.length)}
          onClick={() => setSaving(true)}
        >
          {loosens ? "Propose it" : "Put it in force"}
        </button>
        {text !== saved ? (
          <button type="button" className="plain" onClick={() => setText(saved)}>
            Undo the changes
          </button>
        ) : null}
        {progress ? (
          <label className="flex items-center gap-2">
            <progress value={progress.done} max={progress.of} className="accent-act" />
            {progress.done} of {progress.of} servers
          </label>
        ) : null}
      </div>
      {preview.error ? (
        <div className="mt-4">
          <Trouble error={preview.error} />
        </div>
      ) : null}
      {seen ? children(seen) : null}
      <SaveDialog
        loosens={loosens}
        open={saving}
        onSave={(note) => onSave(text, note)}
        onClose={() => setSaving(false)}
      />
    </>
  );
}

function SaveDialog({
  loosens,
  open,
  onSave,
  onClose,
}: {
  loosens: boolean;
  open: boolean;
  onSave: (note: string) => Promise<unknown>;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const save = useMutation({
    mutationFn: (form: FormData) => onSave(String(form.get("note"))),
    onSuccess: () => {
      client.invalidateQueries();
      onClose();
    },
  });
  const word = loosens ? "Propose it" : "Put it in force";
  return (
    <FormDialog
      title={word}
      open={open}
      onClose={onClose}
      onSend={save.mutate}
      send={word}
      busy={save.isPending}
      error={save.error}
    >
      <p>
        {loosens
          ? "It lets pass what the one in force does not, and so takes a second curator."
          : "From now on every check uses it; what was agreed to before is assessed again."}
      </p>
      <TextArea label="What is changed, and why" name="note" required maxLength={2000} />
    </FormDialog>
  );
}
