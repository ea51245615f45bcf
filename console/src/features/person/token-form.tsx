import { useMutation } from "@tanstack/react-query";
import type { MadeToken, Me, NewToken } from "../../api/types";
import { FormDialog } from "../../ui/dialog";
import { Select, TextField } from "../../ui/form";

type Scope = NewToken["scopes"][number];

const WORDS: Record<Scope, string> = {
  read: "read the catalog",
  check: "check snapshots",
  submit: "enrol, submit, ask, publish and suspend",
  sign: "sign off and comment on requests",
  curate: "house style, rulings, rules",
  administer: "people and settings",
  tokens: "make and end tokens and sign-ins",
};
const SCOPES = Object.keys(WORDS) as Scope[];

/** What a role can make use of; the service decides, this only spares useless choices. */
export function scopesOf(role: Me["role"]): Scope[] {
  const beyond: Record<Me["role"], Scope[]> = {
    ci: ["sign", "curate", "administer", "tokens"],
    reader: ["submit", "curate", "administer"],
    submitter: ["curate", "administer"],
    curator: ["administer"],
    steward: [],
  };
  return SCOPES.filter((scope) => !beyond[role].includes(scope));
}

/** What a new token is for, may do, and how long it lasts. */
export function TokenDialog({
  title,
  scopes,
  open,
  onClose,
  make,
  onMade,
}: {
  title: string;
  scopes: Scope[];
  open: boolean;
  onClose: () => void;
  make: (body: NewToken) => Promise<MadeToken>;
  onMade: (token: MadeToken) => void;
}) {
  const making = useMutation({ mutationFn: make, onSuccess: onMade });
  return (
    <FormDialog
      title={title}
      open={open}
      onClose={onClose}
      onSend={(form) =>
        making.mutate({
          name: String(form.get("name")).trim(),
          scopes: form.getAll("scope").map(String) as Scope[],
          days: Number(form.get("days")),
        })
      }
      send="Make it"
      busy={making.isPending}
      error={making.error}
    >
      <TextField label="What it is for" name="name" required maxLength={100} />
      <fieldset>
        <legend className="mb-1">What it may do</legend>
        {scopes.map((scope) => (
          <label key={scope} className="flex items-center gap-2 py-0.5">
            <input
              type="checkbox"
              name="scope"
              value={scope}
              defaultChecked={scope === "read" || scope === "check"}
              className="size-4 accent-act"
            />
            <span className="font-mono text-sm">{scope}</span>
            <span className="text-soft">{WORDS[scope]}</span>
          </label>
        ))}
      </fieldset>
      <Select
        label="How long it lasts"
        name="days"
        defaultValue="90"
        choices={[
          ["7", "a week"],
          ["30", "a month"],
          ["90", "three months"],
          ["365", "a year"],
        ]}
      />
    </FormDialog>
  );
}
