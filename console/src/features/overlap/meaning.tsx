/** Ruling on silent changes: that they do not move the meaning. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { Change } from "../../api/types";
import { ChangeActs } from "../../ui/changes";
import { FormDialog } from "../../ui/dialog";
import { TextArea } from "../../ui/form";
import { Foreign } from "../../ui/parts";
import { ActButton, Ruling } from "./ruling";

/** Below it, each change that may be ruled on shows its ruling, or lets a curator propose one. */
export function MeaningRulings({
  release,
  base,
  children,
}: {
  release: string;
  base: string;
  children: ReactNode;
}) {
  const [ruling, setRuling] = useState<Change | null>(null);
  const me = useQuery(queries.me());
  const server = release.split("@")[0] ?? "";
  const rulings = useQuery(queries.rulings({ word: "same-meaning", server }));
  const live = (rulings.data ?? []).filter(
    (one) => one.state === "proposed" || one.state === "in force",
  );
  const curates = me.data?.role === "curator" || me.data?.role === "steward";
  const actsOn = (change: Change) => {
    if (!change.basis) return null;
    const stands = live.find((one) => one.pairs.includes(change.basis ?? ""));
    if (stands) return <Ruling ruling={stands} />;
    return curates && change.silent ? (
      <p className="mt-2">
        <ActButton onClick={() => setRuling(change)}>Rule that it means the same</ActButton>
      </p>
    ) : null;
  };
  return (
    <ChangeActs value={actsOn}>
      {children}
      {ruling ? (
        <MeaningDialog
          change={ruling}
          release={release}
          base={base}
          onClose={() => setRuling(null)}
        />
      ) : null}
    </ChangeActs>
  );
}

function MeaningDialog({
  change,
  release,
  base,
  onClose,
}: {
  change: Change;
  release: string;
  base: string;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const send = useMutation({
    mutationFn: (form: FormData) =>
      acts.rule({
        pairs: [change.basis ?? ""],
        word: "same-meaning",
        reason: String(form.get("reason")),
        release,
        base,
      }),
    onSuccess: () => {
      client.invalidateQueries();
      onClose();
    },
  });
  return (
    <FormDialog
      title="Rule that it means the same"
      open
      onClose={onClose}
      onSend={send.mutate}
      send="Propose it"
      busy={send.isPending}
      error={send.error}
    >
      <p className="font-mono text-sm wrap-anywhere">
        <Foreign text={change.item} />
      </p>
      <p>
        <Foreign text={change.message.replaceAll("`", "")} />
      </p>
      <TextArea label="Why" name="reason" required maxLength={2000} />
      <p className="text-soft">
        It is then no longer silent, and asks for no major version. A second curator agrees to it
        before it is in force; neither may have part in the server. It holds for these two texts
        alone.
      </p>
    </FormDialog>
  );
}
