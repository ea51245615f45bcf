import { useMutation, useQueryClient } from "@tanstack/react-query";
import { acts } from "../../api/acts";
import type { Answer, RequestDetail } from "../../api/types";
import { termsOf } from "../../lib/asks";
import { short } from "../../lib/text";
import { FormDialog } from "../../ui/dialog";
import { Select, TextArea, TextField } from "../../ui/form";
import { Mark } from "../../ui/marks";

/** One condition to agreeing, folded away until it is wanted. */
function Condition({ owner }: { owner: string }) {
  return (
    <details>
      <summary className="cursor-pointer">Agree under a condition</summary>
      <div className="mt-3 space-y-3">
        <TextField label="What is to be done" name="condition" maxLength={1000} />
        <div className="grid gap-3 sm:grid-cols-2">
          <TextField
            label="By whom, by user name"
            name="owner"
            defaultValue={owner}
            maxLength={64}
          />
          <TextField
            label="Until"
            name="due"
            type="date"
            defaultValue={inDays(14)}
            min={inDays(0)}
          />
        </div>
      </div>
    </details>
  );
}

/** Why one agrees although gates fail: a field for each. Nobody agrees to safety findings. */
function Despite({ gates }: { gates: RequestDetail["assessment"]["gates"] }) {
  return (
    <fieldset className="space-y-3 border-l-4 border-amber pl-4">
      <legend className="float-left mb-2 w-full">
        The check does not pass. Say why you agree despite
      </legend>
      {gates.map((one) =>
        one.gate === "safety-findings" ? (
          <p key={one.gate} className="clear-both">
            <Mark shape="diamond" tone="brick">
              safety findings
            </Mark>
            : nobody agrees to them. They are fixed, or waived by a second person.
          </p>
        ) : (
          <TextArea
            key={one.gate}
            label={one.gate.replaceAll("-", " ")}
            name={`despite ${one.gate}`}
            hint={one.message}
            required
            maxLength={1000}
          />
        ),
      )}
    </fieldset>
  );
}

const inDays = (days: number) =>
  new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);

function conditions(form: FormData) {
  const [text = "", owner = "", due = ""] = ["condition", "owner", "due"].map((name) =>
    String(form.get(name) ?? "").trim(),
  );
  return text ? [{ text, owner, due }] : [];
}

const WORDS: Record<Answer, { title: string; about: string }> = {
  agree: { title: "Agree", about: "You agree that exactly these bytes may be published." },
  "send-back": {
    title: "Send back",
    about: "The submitter is asked for another snapshot; the request stays.",
  },
  decline: {
    title: "Decline",
    about: "The request is closed; a version that was to be published is used up.",
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
  const client = useQueryClient();
  const words = WORDS[answer ?? "agree"];
  const terms = termsOf(request.terms);
  const gates = request.assessment.gates;
  const send = useMutation({
    mutationFn: (form: FormData) =>
      acts.answer(request.id, {
        answer: answer ?? "agree",
        release_digest: request.release_digest,
        assessment_digest: request.assessment.digest,
        note: String(form.get("note") ?? ""),
        desk: String(form.get("desk") ?? request.may_sign_at[0] ?? ""),
        conditions: conditions(form),
        despite:
          answer === "agree"
            ? gates.map((one) => ({
                gate: one.gate,
                reason: String(form.get(`despite ${one.gate}`) ?? "").trim(),
              }))
            : [],
      }),
    onSuccess: () => {
      client.invalidateQueries();
      onClose();
    },
  });
  return (
    <FormDialog
      title={`${words.title}: ${request.title}`}
      open={answer !== null}
      onClose={onClose}
      onSend={send.mutate}
      send={words.title}
      grave={answer === "decline"}
      busy={send.isPending}
      error={send.error}
    >
      <p>
        {request.kind === "publish" || answer !== "agree"
          ? words.about
          : "It is carried out with the last agreement."}{" "}
        {request.kind === "publish" ? "Release" : "Terms"}{" "}
        <span className="font-mono">{short(request.release_digest)}</span>, as assessed in{" "}
        <span className="font-mono">{short(request.assessment.digest)}</span>.
      </p>
      {request.may_sign_at.length > 1 ? (
        <Select
          label="At the desk"
          name="desk"
          choices={request.may_sign_at.map((one) => [one, one] as const)}
        />
      ) : null}
      {terms.length ? <p>On these terms: {terms.join("; ")}.</p> : null}
      <TextArea
        label={answer === "agree" ? "Note (optional)" : "Why"}
        name="note"
        required={answer !== "agree"}
      />
      {answer === "agree" && gates.length ? <Despite gates={gates} /> : null}
      {answer === "agree" ? <Condition owner={request.submitters[0] ?? ""} /> : null}
    </FormDialog>
  );
}
