/** Editing the house style: what it would do is shown before it is saved. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { acts } from "../../api/shelf";
import type { Style } from "../../api/types";
import { FormDialog } from "../../ui/dialog";
import { Labelled, TextArea, useUnsaved } from "../../ui/form";
import { Trouble } from "../../ui/parts";
import { Effect } from "./effect";

interface Progress {
  done: number;
  of: number;
}

export function Editor({ style }: { style: Style }) {
  const [text, setText] = useState(style.text);
  const [progress, setProgress] = useState<Progress | null>(null);
  const [saving, setSaving] = useState(false);
  const preview = useMutation({
    mutationFn: (wanted: string) =>
      acts.previewStyle(wanted, (done, of) => setProgress({ done, of })),
    onSettled: () => setProgress(null),
  });
  const seen = preview.data && preview.variables === text ? preview.data : null;
  useUnsaved(text !== style.text && !saving);
  return (
    <>
      <Labelled
        label="The style as TOML"
        hint="Levels by rule, settings, words, hosts, patterns, and levels for single servers."
      >
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
          disabled={preview.isPending || text === style.text}
          onClick={() => preview.mutate(text)}
        >
          See what it would do
        </button>
        <button
          type="button"
          className="button"
          data-kind="main"
          disabled={!seen}
          onClick={() => setSaving(true)}
        >
          {seen?.loosened.length ? "Propose it" : "Put it in force"}
        </button>
        {text !== style.text ? (
          <button type="button" className="plain" onClick={() => setText(style.text)}>
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
      {seen ? <Effect effect={seen} /> : null}
      <SaveDialog
        style={style}
        text={text}
        loosens={Boolean(seen?.loosened.length)}
        open={saving}
        onClose={() => setSaving(false)}
      />
    </>
  );
}

function SaveDialog({
  style,
  text,
  loosens,
  open,
  onClose,
}: {
  style: Style;
  text: string;
  loosens: boolean;
  open: boolean;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const save = useMutation({
    mutationFn: (form: FormData) =>
      acts.applyStyle({ text, note: String(form.get("note")), seen: style.version }),
    onSuccess: () => {
      client.invalidateQueries();
      onClose();
    },
  });
  return (
    <FormDialog
      title={loosens ? "Propose a house style" : "Put a house style in force"}
      open={open}
      onClose={onClose}
      onSend={save.mutate}
      send={loosens ? "Propose it" : "Put it in force"}
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
