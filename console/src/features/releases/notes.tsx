/** What users say of a release, and what its owners answer. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { UserNoteRow } from "../../api/types";
import { day } from "../../lib/text";
import { TextField } from "../../ui/form";
import { Foreign, Loaded, Trouble } from "../../ui/parts";

interface Of {
  server: string;
  version: string;
}

export function Notes({ server, version }: Of) {
  const notes = useQuery(queries.notes(server, version));
  return (
    <Loaded query={notes}>
      {(found) =>
        found.results.length || found.may_leave ? (
          <section aria-labelledby="notes" className="mt-8 max-w-[72ch]">
            <h2 id="notes" className="mb-2 text-xl">
              What its users say
            </h2>
            <ul className="space-y-3">
              {found.results.map((one) => (
                <Note key={one.number} note={one} of={{ server, version }} />
              ))}
            </ul>
            {found.may_leave ? (
              <Say
                label="A note for others: what it works for, what to know"
                send="Leave it"
                onSend={(text) => acts.leaveNote(server, version, text)}
                of={{ server, version }}
              />
            ) : null}
          </section>
        ) : null
      }
    </Loaded>
  );
}

function Note({ note, of }: { note: UserNoteRow; of: Of }) {
  const client = useQueryClient();
  const [answering, setAnswering] = useState(false);
  const remove = useMutation({
    mutationFn: () => acts.removeNote(note.number),
    onSettled: () => client.invalidateQueries({ queryKey: ["notes", of.server, of.version] }),
  });
  return (
    <li className="border-l-4 border-rule pl-4">
      <p>
        <strong>{note.by}</strong>, <span className="text-soft">{day(note.at)}:</span>{" "}
        <Foreign text={note.text} />
      </p>
      {note.answer ? (
        <p className="ml-4">
          <strong>{note.answered_by}</strong> answers: <Foreign text={note.answer} />
        </p>
      ) : null}
      <span className="flex gap-4">
        {note.may_answer && !answering ? (
          <button type="button" className="plain text-sm" onClick={() => setAnswering(true)}>
            Answer<span className="sr-only"> {note.by}</span>
          </button>
        ) : null}
        {note.may_remove ? (
          <button type="button" className="plain text-sm" onClick={() => remove.mutate()}>
            Remove<span className="sr-only"> the note of {note.by}</span>
          </button>
        ) : null}
      </span>
      {remove.error ? <Trouble error={remove.error} /> : null}
      {answering ? (
        <Say
          label="Your answer"
          send="Answer"
          onSend={(text) => acts.answerNote(note.number, text)}
          onDone={() => setAnswering(false)}
          of={of}
        />
      ) : null}
    </li>
  );
}

function Say({
  label,
  send,
  onSend,
  onDone,
  of,
}: {
  label: string;
  send: string;
  onSend: (text: string) => Promise<unknown>;
  onDone?: () => void;
  of: Of;
}) {
  const client = useQueryClient();
  const say = useMutation({
    mutationFn: onSend,
    onSuccess: () => client.invalidateQueries({ queryKey: ["notes", of.server, of.version] }),
  });
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = event.currentTarget;
    const text = String(new FormData(form).get("text") ?? "").trim();
    say.mutate(text, {
      onSuccess: () => {
        form.reset();
        onDone?.();
      },
    });
  }
  return (
    <form onSubmit={submit} className="mt-3 grid items-end gap-3 sm:grid-cols-[1fr_auto]">
      <TextField label={label} name="text" required maxLength={500} />
      <button type="submit" className="button" disabled={say.isPending}>
        {send}
      </button>
      {say.error ? <Trouble error={say.error} /> : null}
    </form>
  );
}
