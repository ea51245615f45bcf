import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { MadeToken, Me, TokenRow } from "../../api/types";
import { day, when } from "../../lib/text";
import { Once } from "../../ui/once";
import { Empty, Loaded, Trouble } from "../../ui/parts";
import { type Column, DataTable } from "../../ui/table";
import { scopesOf, TokenDialog } from "./token-form";

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
      {made ? (
        <Once
          words={`The token for ${made.name}.`}
          text={made.secret}
          label="New token"
          onSeen={() => setMade(null)}
        />
      ) : null}
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
      <TokenDialog
        title="Make a token"
        scopes={scopesOf(me.role)}
        open={making}
        onClose={() => setMaking(false)}
        make={acts.makeToken}
        onMade={(token) => {
          setMade(token);
          setMaking(false);
          settle();
        }}
      />
    </section>
  );
}
