import { useMutation, useQueryClient } from "@tanstack/react-query";
import { acts } from "../../api/shelf";
import type { Answer, RequestDetail } from "../../api/types";
import { short } from "../../lib/text";
import { FormDialog } from "../../ui/dialog";
import { Select, TextArea } from "../../ui/form";

const WORDS: Record<Answer, { title: string; about: string }> = {
  agree: { title: "Agree", about: "You agree that exactly these bytes may be published." },
  "send-back": {
    title: "Send back",
    about: "The submitter is asked for another snapshot; the request stays.",
  },
  decline: { title: "Decline", about: "The request is closed, and the version is used up." },
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
  const client = useQueryClient();
  const words = WORDS[answer ?? "agree"];
  const send = useMutation({
    mutationFn: (form: FormData) =>
      acts.answer(request.id, {
        answer: answer ?? "agree",
        release_digest: request.release_digest,
        assessment_digest: request.assessment.digest,
        note: String(form.get("note") ?? ""),
        desk: String(form.get("desk") ?? request.may_sign_at[0] ?? ""),
      }),
    onSuccess: () => {
      client.invalidateQueries();
      onClose();
    },
  });
  return (
    <FormDialog
      title={`${words.title}: ${request.server} ${request.version}`}
      open={answer !== null}
      onClose={onClose}
      onSend={send.mutate}
      send={words.title}
      grave={answer === "decline"}
      busy={send.isPending}
      error={send.error}
    >
      <p>
        {words.about} Release <span className="font-mono">{short(request.release_digest)}</span>, as
        assessed in <span className="font-mono">{short(request.assessment.digest)}</span>.
      </p>
      {request.may_sign_at.length > 1 ? (
        <Select
          label="At the desk"
          name="desk"
          choices={request.may_sign_at.map((one) => [one, one] as const)}
        />
      ) : null}
      <TextArea
        label={answer === "agree" ? "A word with it (may be left out)" : "Why"}
        name="note"
        required={answer !== "agree"}
      />
    </FormDialog>
  );
}
