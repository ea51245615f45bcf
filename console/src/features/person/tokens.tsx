import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { acts, queries } from "../../api/shelf";
import type { MadeToken, Me, NewToken, TokenRow } from "../../api/types";
import { day, when } from "../../lib/text";
import { FormDialog } from "../../ui/dialog";
import { CopyButton, Select, TextField } from "../../ui/form";
import { Code, Empty, Loaded, Trouble } from "../../ui/parts";
import { type Column, DataTable } from "../../ui/table";

const SCOPES: [NewToken["scopes"][number], string][] = [
  ["read", "read the catalog"],
  ["check", "check snapshots"],
  ["submit", "enrol, submit, publish and suspend"],
  ["sign", "sign off requests"],
  ["curate", "deprecate, withdraw, change data classes"],
  ["administer", "people and settings"],
];

/** One's own tokens, for the command line and for programs. */
export function Tokens({ me }: { me: Me }) {
  const client = useQueryClient();
  const tokens = useQuery(queries.tokens());
  const [making, setMaking] = useState(false);
  const [made, setMade] = useState<MadeToken | null>(null);
  const settle = () => client.invalidateQueries({ queryKey: ["tokens"] });
  const end = useMutation({ mutationFn: acts.endToken, onSettled: settle });
  const columns: Column<TokenRow>[] = [
    { key: "name", title: "For", value: (row) => row.name, cell: (row) => row.name },
    { key: "scopes", title: "May", cell: (row) => row.scopes.join(", ") },
    {
      key: "expires",
      title: "Until",
      value: (row) => row.expires_at,
      nowrap: true,
      cell: (row) => day(row.expires_at),
    },
    {
      key: "used",
      title: "Last used",
      value: (row) => row.last_used_at,
      nowrap: true,
      cell: (row) => when(row.last_used_at) || <span className="text-soft">never</span>,
    },
    {
      key: "end",
      title: "End",
      cell: (row) => (
        <button
          type="button"
          className="button"
          data-size="small"
          data-kind="grave"
          onClick={() => end.mutate(row.id)}
        >
          End<span className="sr-only"> the token for {row.name}</span>
        </button>
      ),
    },
  ];
  return (
    <section aria-labelledby="tokens">
      <div className="mb-2 flex flex-wrap items-center justify-between gap-3">
        <h2 id="tokens" className="text-xl">
          Tokens
        </h2>
        <button type="button" className="button" data-size="small" onClick={() => setMaking(true)}>
          Make a token
        </button>
      </div>
      {made ? <Secret token={made} onSeen={() => setMade(null)} /> : null}
      {end.error ? <Trouble error={end.error} /> : null}
      <Loaded query={tokens}>
        {(rows) =>
          rows.length ? (
            <DataTable
              label="Tokens"
              columns={columns}
              rows={rows}
              rowKey={(row) => row.id}
              sort=""
            />
          ) : (
            <Empty>
              No token. The command line needs one: make it here, then tallshelf sign-in.
            </Empty>
          )
        }
      </Loaded>
      <MakeToken
        me={me}
        open={making}
        onClose={() => setMaking(false)}
        onMade={(token) => {
          setMade(token);
          setMaking(false);
          settle();
        }}
      />
    </section>
  );
}

/** A new token's secret, this once. */
function Secret({ token, onSeen }: { token: MadeToken; onSeen: () => void }) {
  return (
    <div role="status" className="mb-4 border-l-4 border-moss bg-moss-wash px-4 py-3">
      <p className="mb-2 font-semibold">
        The token for {token.name}. It is shown this once: copy it now.
      </p>
      <Code label="New token" text={token.secret} />
      <div className="mt-2 flex flex-wrap gap-3">
        <CopyButton text={token.secret} />
        <button type="button" className="button" data-size="small" onClick={onSeen}>
          I have it
        </button>
      </div>
    </div>
  );
}

function MakeToken({
  me,
  open,
  onClose,
  onMade,
}: {
  me: Me;
  open: boolean;
  onClose: () => void;
  onMade: (token: MadeToken) => void;
}) {
  const make = useMutation({ mutationFn: acts.makeToken, onSuccess: onMade });
  const offered = SCOPES.filter(([scope]) => allowed(me, scope));
  return (
    <FormDialog
      title="Make a token"
      open={open}
      onClose={onClose}
      onSend={(form) =>
        make.mutate({
          name: String(form.get("name")).trim(),
          scopes: form.getAll("scope").map(String) as NewToken["scopes"],
          days: Number(form.get("days")),
        })
      }
      send="Make it"
      busy={make.isPending}
      error={make.error}
    >
      <TextField label="What it is for" name="name" required maxLength={100} />
      <fieldset>
        <legend className="mb-1">What it may do</legend>
        {offered.map(([scope, words]) => (
          <label key={scope} className="flex items-center gap-2 py-0.5">
            <input
              type="checkbox"
              name="scope"
              value={scope}
              defaultChecked={scope === "read" || scope === "check"}
              className="size-4 accent-act"
            />
            <span className="font-mono text-sm">{scope}</span>
            <span className="text-soft">{words}</span>
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

/** What a role can make use of; the service decides, this only spares useless choices. */
function allowed(me: Me, scope: string): boolean {
  if (scope === "administer") return me.role === "steward";
  if (scope === "curate") return me.role === "curator" || me.role === "steward";
  if (scope === "submit") return me.role !== "reader";
  return true;
}
