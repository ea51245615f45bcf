import { useMutation, useQueryClient } from "@tanstack/react-query";
import { FormDialog } from "./dialog";
import { TextArea } from "./form";

export type Consent = "agree" | "decline";

/** A second curator's answer to what loosens. */
export function ConsentDialog({
  what,
  answer,
  onAnswer,
  onClose,
}: {
  /** What it is about, such as "version 3". */
  what: string;
  answer: Consent | null;
  onAnswer: (answer: Consent, note: string) => Promise<unknown>;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const send = useMutation({
    mutationFn: (form: FormData) => onAnswer(answer ?? "agree", String(form.get("note") ?? "")),
    onSuccess: () => {
      client.invalidateQueries();
      onClose();
    },
  });
  const agrees = answer !== "decline";
  return (
    <FormDialog
      title={`${agrees ? "Agree to" : "Decline"} ${what}`}
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
          From now on every check uses it. Open requests are assessed anew; where something else is
          found, whoever agreed is asked once more.
        </p>
      ) : (
        <TextArea label="Why" name="note" required maxLength={2000} />
      )}
    </FormDialog>
  );
}

/** The two buttons that lead to it. */
export function ConsentButtons({ onAnswer }: { onAnswer: (answer: Consent) => void }) {
  return (
    <div className="mb-4 flex flex-wrap gap-3">
      <button type="button" className="button" data-kind="main" onClick={() => onAnswer("agree")}>
        Agree
      </button>
      <button
        type="button"
        className="button"
        data-kind="grave"
        onClick={() => onAnswer("decline")}
      >
        Decline
      </button>
    </div>
  );
}
