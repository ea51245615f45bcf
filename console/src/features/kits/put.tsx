/** Putting a kit: its text is checked, and what it would come to is shown, before it is put. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { acts } from "../../api/acts";
import type { KitCheck } from "../../api/types";
import { plural } from "../../lib/text";
import { FormDialog } from "../../ui/dialog";
import { Labelled, TextField } from "../../ui/form";
import { Mark } from "../../ui/marks";
import { Foreign, Trouble } from "../../ui/parts";

const EMPTY = `name = ""
title = ""
team = ""
contacts = [""]
purpose = ""
budget = 4000
data_class = "internal"

[[picks]]
server = ""
version = "current"
items = "reading"
`;

export default function PutDialog({
  text: saved = EMPTY,
  digest = "",
  onClose,
}: {
  text?: string;
  digest?: string;
  onClose: () => void;
}) {
  const [text, setText] = useState(saved);
  const client = useQueryClient();
  const navigate = useNavigate();
  const check = useMutation({ mutationFn: acts.checkKit });
  const put = useMutation({
    mutationFn: (reason: string) => acts.putKit({ text, reason }, digest),
    onSuccess: (found) => {
      client.invalidateQueries();
      onClose();
      navigate(found.state === "proposed" ? "/kits" : `/kits/${found.name}`);
    },
  });
  const seen = check.data && check.variables === text ? check.data : null;
  return (
    <FormDialog
      title={digest ? "Change the kit" : "Put a kit on the shelf"}
      open
      onClose={onClose}
      onSend={(form) => put.mutate(String(form.get("reason") ?? ""))}
      send="Put it"
      busy={put.isPending}
      error={put.error}
    >
      <Labelled
        label="The kit as TOML"
        hint="Versions: 1.4.2, ^1.4 or current. Items by name, or “reading” for all that only read."
      >
        {(about) => (
          <textarea
            {...about}
            className="field font-mono text-sm"
            rows={16}
            spellCheck={false}
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        )}
      </Labelled>
      <button
        type="button"
        className="button"
        disabled={check.isPending}
        onClick={() => check.mutate(text)}
      >
        See what it comes to
      </button>
      {check.error ? <Trouble error={check.error} /> : null}
      {seen ? <Seen check={seen} /> : null}
      <TextField
        label="Reason (where others have to agree)"
        name="reason"
        maxLength={2000}
        hint="A kit that would see higher data waits for a second curator, one that picks of servers which ask for their owners."
      />
    </FormDialog>
  );
}

/** What a kit would come to. */
function Seen({ check }: { check: KitCheck }) {
  return (
    <div role="status" className="border-l-4 border-slate bg-slate-wash px-4 py-2">
      <p>
        {plural(check.held_items, "item")}, about {check.tokens.toLocaleString("en")} tokens
        {check.budget ? ` of ${check.budget.toLocaleString("en")}` : ""}.
      </p>
      <ul>
        {check.problems.map((one) => (
          <li key={`${one.key} ${one.message}`}>
            <Mark shape="triangle" tone="amber">
              <code>{one.key}</code>
            </Mark>{" "}
            <Foreign text={one.message} />
          </li>
        ))}
      </ul>
    </div>
  );
}
