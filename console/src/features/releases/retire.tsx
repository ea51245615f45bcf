import { useMutation, useQueryClient } from "@tanstack/react-query";
import { acts } from "../../api/shelf";
import type { ReleaseRow } from "../../api/types";
import { FormDialog } from "../../ui/dialog";
import { TextArea, TextField } from "../../ui/form";

/** Deprecates a release, perhaps with a last day and a replacement, or withdraws it at once. */
export function RetireDialog({
  release,
  act,
  onClose,
}: {
  release: ReleaseRow;
  act: "deprecate" | "withdraw" | null;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const retire = useMutation({
    mutationFn: (form: FormData) => {
      const text = (name: string) => String(form.get(name) ?? "").trim();
      const last = text("last");
      return acts.retire(release, {
        act: act ?? "deprecate",
        reason: text("reason"),
        replacement: text("replacement"),
        sunset_at: last ? `${last}T23:59:59Z` : null,
      });
    },
    onSuccess: () => {
      client.invalidateQueries();
      onClose();
    },
  });
  const deprecating = act === "deprecate";
  return (
    <FormDialog
      title={`${deprecating ? "Deprecate" : "Withdraw"} ${release.server} ${release.version}`}
      open={act !== null}
      onClose={onClose}
      onSend={retire.mutate}
      send={deprecating ? "Deprecate" : "Withdraw at once"}
      grave={!deprecating}
      busy={retire.isPending}
      error={retire.error}
    >
      <p>
        {deprecating
          ? "It can still be connected to, with a warning; programs see it in the headers of every answer."
          : "Nobody is given its connection block any more. Its number is used up."}
      </p>
      <TextArea label="Why" name="reason" required maxLength={2000} />
      {deprecating ? (
        <>
          <TextField
            label="Not to be used after"
            name="last"
            type="date"
            min={new Date(Date.now() + 86_400_000).toISOString().slice(0, 10)}
            hint="May be left out."
          />
          <TextField
            label="Use instead"
            name="replacement"
            className="font-mono"
            hint="A server, or server@version; may be left out."
          />
        </>
      ) : null}
    </FormDialog>
  );
}
