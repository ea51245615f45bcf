import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from "@headlessui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { acts } from "../../api/shelf";
import type { Answer, RequestDetail } from "../../api/types";
import { short } from "../../lib/text";
import { Trouble } from "../../ui/parts";

const WORDS: Record<Answer, { title: string; button: string; about: string }> = {
  agree: {
    title: "Agree",
    button: "Agree",
    about: "You agree that exactly these bytes may be published.",
  },
  "send-back": {
    title: "Send back",
    button: "Send back",
    about: "The submitter is asked for another snapshot; the request stays.",
  },
  decline: {
    title: "Decline",
    button: "Decline",
    about: "The request is closed, and the version is used up.",
  },
};

export function AnswerDialog({
  request,
  answer,
  onClose,
}: {
  request: RequestDetail;
  answer: Answer | null;
  onClose: () => void;
}) {
  return (
    <Dialog open={answer !== null} onClose={onClose} className="fixed inset-0 z-10">
      <DialogBackdrop className="fixed inset-0 bg-black/50" />
      <div className="fixed inset-0 flex items-center justify-center overflow-y-auto p-4">
        <DialogPanel className="w-full max-w-lg border border-rule bg-sheet p-6">
          {answer ? <AnswerForm request={request} answer={answer} onClose={onClose} /> : null}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function AnswerForm({
  request,
  answer,
  onClose,
}: {
  request: RequestDetail;
  answer: Answer;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const [desk, setDesk] = useState(request.may_sign_at[0] ?? "");
  const words = WORDS[answer];
  const send = useMutation({
    mutationFn: (note: string) =>
      acts.answer(request.id, { answer, release_digest: request.release_digest, note, desk }),
    onSuccess: () => {
      client.invalidateQueries();
      onClose();
    },
  });
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    send.mutate(String(new FormData(event.currentTarget).get("note") ?? ""));
  }
  return (
    <form onSubmit={submit} className="space-y-4">
      <DialogTitle className="font-serif text-xl font-semibold">
        {words.title}: {request.server} {request.version}
      </DialogTitle>
      <p>
        {words.about} Release <span className="font-mono">{short(request.release_digest)}</span>.
      </p>
      {request.may_sign_at.length > 1 ? (
        <label className="block">
          At the desk
          <select
            className="field mt-1"
            value={desk}
            onChange={(event) => setDesk(event.target.value)}
          >
            {request.may_sign_at.map((name) => (
              <option key={name}>{name}</option>
            ))}
          </select>
        </label>
      ) : null}
      <label className="block">
        {answer === "agree" ? "A word with it (may be left out)" : "Why"}
        <textarea name="note" rows={4} required={answer !== "agree"} className="field mt-1" />
      </label>
      {send.error ? <Trouble error={send.error} /> : null}
      <div className="flex flex-wrap justify-end gap-3">
        <button type="button" className="button" onClick={onClose}>
          Not now
        </button>
        <button
          type="submit"
          className="button"
          data-kind={answer === "decline" ? "grave" : "main"}
          disabled={send.isPending}
        >
          {words.button}
        </button>
      </div>
    </form>
  );
}
