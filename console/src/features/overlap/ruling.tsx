/** A ruling as it stands, and answering it: shared by overlaps and by silent changes. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { acts } from "../../api/acts";
import type { RulingRow } from "../../api/types";
import { day } from "../../lib/text";
import { FormDialog } from "../../ui/dialog";
import { TextArea } from "../../ui/form";
import { Foreign } from "../../ui/parts";
import { RULED } from "./parts";

export function Ruling({ ruling }: { ruling: RulingRow }) {
  const [act, setAct] = useState<"agree" | "decline" | "end" | null>(null);
  const proposed = ruling.state === "proposed";
  return (
    <div
      className={`mt-4 border-l-4 px-4 py-2 ${proposed ? "border-amber bg-amber-wash" : "border-moss bg-moss-wash"}`}
    >
      <p>
        <strong>
          {proposed ? "Proposed" : "Ruled"}: {RULED[ruling.word]}
        </strong>{" "}
        “<Foreign text={ruling.reason} />”{" "}
        <span className="text-soft">
          ({ruling.by}, {day(ruling.at)}
          {ruling.answered_by ? `; agreed to by ${ruling.answered_by}` : ""})
        </span>
      </p>
      {ruling.told.length > 1 ? (
        <ul className="list-disc pl-5">
          {ruling.told.map((one) => (
            <li key={one}>
              <Foreign text={one.replaceAll("`", "")} />
            </li>
          ))}
        </ul>
      ) : null}
      {ruling.due ? (
        <p>
          {ruling.owner} merges them by {day(ruling.due)}
          {ruling.overdue ? <strong className="text-brick">, overdue</strong> : null}.
        </p>
      ) : null}
      <p className="mt-2 flex flex-wrap gap-3">
        {ruling.may_answer ? (
          <>
            <ActButton onClick={() => setAct("agree")}>Agree</ActButton>
            <ActButton onClick={() => setAct("decline")}>Decline</ActButton>
          </>
        ) : null}
        {ruling.may_end && !ruling.may_answer ? (
          <ActButton onClick={() => setAct("end")}>
            {proposed ? "Take it back" : "End it"}
          </ActButton>
        ) : null}
      </p>
      <AnswerDialog ruling={ruling} act={act} onClose={() => setAct(null)} />
    </div>
  );
}

export function ActButton({ onClick, children }: { onClick: () => void; children: string }) {
  return (
    <button type="button" className="button" data-size="small" onClick={onClick}>
      {children}
    </button>
  );
}

const ACTS = { agree: "Put it in force", decline: "Decline", end: "End it" };

function AnswerDialog({
  ruling,
  act,
  onClose,
}: {
  ruling: RulingRow;
  act: keyof typeof ACTS | null;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const answer = act ?? "agree";
  const send = useMutation({
    mutationFn: (form: FormData) =>
      acts.answerRuling(ruling.id, { answer, note: String(form.get("note") ?? "") }),
    onSuccess: () => {
      client.invalidateQueries();
      onClose();
    },
  });
  return (
    <FormDialog
      title={`${ACTS[answer]}: ${RULED[ruling.word]}`}
      open={act !== null}
      onClose={onClose}
      onSend={send.mutate}
      send={ACTS[answer]}
      grave={answer !== "agree"}
      busy={send.isPending}
      error={send.error}
    >
      <ul className="list-disc pl-5">
        {ruling.members.map((one) => (
          <li key={one} className="font-mono text-sm wrap-anywhere">
            <Foreign text={one} />
          </li>
        ))}
      </ul>
      {answer === "agree" ? (
        <p>It holds until what was compared of one of them changes, or it is ended.</p>
      ) : (
        <TextArea label="Why" name="note" required maxLength={2000} />
      )}
    </FormDialog>
  );
}
