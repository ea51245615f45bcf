import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { acts } from "../../api/acts";
import type { Suspension } from "../../api/types";
import { when } from "../../lib/text";
import { FormDialog } from "../../ui/dialog";
import { Ending } from "../../ui/ending";
import { TextArea, TextField } from "../../ui/form";
import { StateMark } from "../../ui/marks";
import { Foreign } from "../../ui/parts";
import { AskDialog } from "../requests/ask";

export function Suspensions({
  suspensions,
  mayAsk,
}: {
  suspensions: Suspension[];
  mayAsk: boolean;
}) {
  const [lifting, setLifting] = useState<Suspension | null>(null);
  const rows = suspensions.map((one) => (
    <div key={one.id} className="mb-6 border-l-4 border-brick bg-brick-wash px-4 py-3">
      <StateMark state="suspended" />
      <p>
        {one.item ? <code>{one.item}: </code> : "The whole server: "}
        <Foreign text={one.reason} />{" "}
        <span className="text-soft">
          ({one.by}, {when(one.at)})
        </span>
      </p>
      {one.item ? null : <p>No connection block is given out until it is lifted.</p>}
      {mayAsk ? (
        <button
          type="button"
          className="button mt-2"
          data-size="small"
          onClick={() => setLifting(one)}
        >
          Ask to lift it
        </button>
      ) : null}
    </div>
  ));
  return (
    <>
      {rows}
      <AskDialog
        wish={lifting ? { kind: "lift", server: lifting.server, item: lifting.item } : null}
        onClose={() => setLifting(null)}
      />
    </>
  );
}

/** Stops the use of a server, or of one item, at once. */
export function SuspendDialog({
  server,
  open,
  onClose,
}: {
  server: string;
  open: boolean;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const [item, setItem] = useState("");
  const suspend = useMutation({
    mutationFn: acts.suspend,
    onSuccess: () => {
      client.invalidateQueries({ queryKey: ["server", server] });
      client.invalidateQueries({ queryKey: ["servers"] });
      onClose();
    },
  });
  return (
    <FormDialog
      title={`Suspend ${server}`}
      open={open}
      onClose={onClose}
      onSend={(form) =>
        suspend.mutate({
          server,
          item: String(form.get("item")).trim(),
          reason: String(form.get("reason")).trim(),
        })
      }
      send="Suspend at once"
      grave
      busy={suspend.isPending}
      error={suspend.error}
    >
      <p>
        No connection block is given out any more. A connection that stands already is not cut: its
        host must be told.
      </p>
      {open ? <Ending server={server} item={item} /> : null}
      <TextArea label="Why" name="reason" required maxLength={2000} />
      <TextField
        label="Only this item"
        name="item"
        className="font-mono"
        hint="Such as tool:cancel_travel; empty for the whole server."
        onBlur={(event) => setItem(event.target.value.trim())}
      />
    </FormDialog>
  );
}
