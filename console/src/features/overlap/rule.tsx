import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { acts } from "../../api/acts";
import type { NewRuling, OverlapGroup } from "../../api/types";
import { plural } from "../../lib/text";
import { FormDialog } from "../../ui/dialog";
import { Select, TextArea, TextField } from "../../ui/form";

const WORDS = [
  ["distinct", "distinct: they are different jobs"],
  ["keep-both", "keep both: the same job, for a reason"],
  ["prefer", "prefer: one of them is the one to use"],
  ["merge", "merge: someone makes them one, until a day"],
] as const;

/** Proposes a ruling on a whole group; a second curator agrees to it. */
export function RuleDialog({ group, onClose }: { group: OverlapGroup; onClose: () => void }) {
  const client = useQueryClient();
  const [word, setWord] = useState<NewRuling["word"]>("distinct");
  const members = group.members.map((one) => `${one.server}#${one.item}`);
  const servers = group.servers.map((one) => one.server);
  const usable =
    group.overlaps.length > 1 && servers.length > 1 ? [...servers, ...members] : members;
  const send = useMutation({
    mutationFn: (form: FormData) =>
      acts.rule({
        pairs: [...new Set(group.overlaps.map((one) => one.pair))],
        word,
        reason: String(form.get("reason")),
        preferred: word === "prefer" ? String(form.get("preferred")) : "",
        owner: word === "merge" ? String(form.get("owner")) : "",
        due: word === "merge" ? String(form.get("due")) : null,
      }),
    onSuccess: () => {
      client.invalidateQueries();
      onClose();
    },
  });
  return (
    <FormDialog
      title={`Rule on ${plural(group.overlaps.length, "overlap")}`}
      open
      onClose={onClose}
      onSend={send.mutate}
      send="Propose it"
      busy={send.isPending}
      error={send.error}
    >
      <ul className="max-h-60 list-disc overflow-y-auto pl-5">
        {members.map((one) => (
          <li key={one} className="font-mono text-sm wrap-anywhere">
            {one}
          </li>
        ))}
      </ul>
      <Select
        label="Ruling"
        choices={WORDS}
        value={word}
        onChange={(event) => setWord(event.target.value as NewRuling["word"])}
      />
      {word === "prefer" ? (
        <Select
          label="The one to use"
          name="preferred"
          choices={usable.map((one) => [one, one] as const)}
        />
      ) : null}
      {word === "merge" ? (
        <>
          <TextField label="Who merges them" name="owner" required maxLength={200} />
          <TextField label="Until" name="due" type="date" required />
        </>
      ) : null}
      <TextArea label="Why" name="reason" required maxLength={2000} />
      <p className="text-soft">A second curator agrees to it before it is in force.</p>
    </FormDialog>
  );
}
