import { useMutation, useQueryClient } from "@tanstack/react-query";
import { acts } from "../../api/shelf";
import type { Style } from "../../api/types";
import { FormDialog } from "../../ui/dialog";
import { TextArea } from "../../ui/form";

export type StyleAnswer = "agree" | "decline";

/** A second curator's answer to a style that loosens. */
export function AnswerStyleDialog({
  style,
  answer,
  onClose,
}: {
  style: Style;
  answer: StyleAnswer | null;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const send = useMutation({
    mutationFn: (form: FormData) =>
      acts.answerStyle(style.version, {
        answer: answer ?? "agree",
        note: String(form.get("note") ?? ""),
      }),
    onSuccess: () => {
      client.invalidateQueries();
      onClose();
    },
  });
  const agrees = answer !== "decline";
  return (
    <FormDialog
      title={`${agrees ? "Agree to" : "Decline"} version ${style.version}`}
      open={answer !== null}
      onClose={onClose}
      onSend={send.mutate}
      send={agrees ? "Put it in force" : "Decline"}
      grave={!agrees}
      busy={send.isPending}
      error={send.error}
    >
      {agrees ? (
        <p>
          From now on every check uses it. What was agreed to under the style before is assessed
          again before it is published.
        </p>
      ) : (
        <TextArea label="Why" name="note" required maxLength={2000} />
      )}
    </FormDialog>
  );
}
