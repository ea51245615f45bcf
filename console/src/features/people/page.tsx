/** People, for stewards: accounts and what they have; who may do what follows from it. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { PersonRow } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { day, fromNow, plural } from "../../lib/text";
import { SearchField } from "../../ui/form";
import { Mark } from "../../ui/marks";
import { Once } from "../../ui/once";
import { Heading, Loaded, NoMatches, Trouble } from "../../ui/parts";
import { type Column, DataTable } from "../../ui/table";
import { scopesOf, TokenDialog } from "../person/token-form";
import { AddDialog, ChangeDialog } from "./dialogs";
import { invitation, type Shown } from "./shown";

export function Component() {
  const people = useQuery(queries.people());
  const [adding, setAdding] = useState(false);
  const [shown, setShown] = useState<Shown | null>(null);
  return (
    <>
      <Heading
        title="People"
        aside={
          <button type="button" className="button" data-kind="main" onClick={() => setAdding(true)}>
            Add an account
          </button>
        }
      >
        Seats at desks are given on the service's own machine: tallshelf admin seat.
      </Heading>
      {shown ? <Once {...shown} label="Shown once" onSeen={() => setShown(null)} /> : null}
      <Loaded query={people}>{(rows) => <People rows={rows} show={setShown} />}</Loaded>
      <AddDialog open={adding} onClose={() => setAdding(false)} show={setShown} />
    </>
  );
}

function People({ rows, show }: { rows: PersonRow[]; show: (shown: Shown) => void }) {
  const client = useQueryClient();
  const ways = useQuery(queries.ways());
  const [read, write] = useParamsOf();
  const [changing, setChanging] = useState<PersonRow | null>(null);
  const [giving, setGiving] = useState<PersonRow | null>(null);
  const settle = { onSettled: () => client.invalidateQueries({ queryKey: ["people"] }) };
  const invite = useMutation({
    mutationFn: acts.invite,
    onSuccess: (made) => show(invitation(made.username, made.code)),
    ...settle,
  });
  const end = useMutation({ mutationFn: acts.endSessions, ...settle });
  const name = read("name").toLowerCase();
  const found = rows.filter((row) =>
    `${row.username} ${row.name} ${row.role} ${row.teams.join(" ")} ${row.desks.join(" ")}`
      .toLowerCase()
      .includes(name),
  );
  return (
    <>
      <div className="mb-6 max-w-sm">
        <SearchField
          label="Name, role, team or desk"
          value={read("name")}
          onSearch={(text) => write({ name: text, page: null })}
        />
      </div>
      {invite.error || end.error ? <Trouble error={invite.error ?? end.error} /> : null}
      {found.length === 0 ? (
        <NoMatches />
      ) : (
        <DataTable
          label="People"
          columns={columns({
            change: setChanging,
            give: setGiving,
            invite: ways.data?.passwords ? (row) => invite.mutate(row.username) : null,
            end: (row) => end.mutate(row.username),
          })}
          rows={found}
          rowKey={(row) => row.username}
          sort="username"
        />
      )}
      <ChangeDialog person={changing} onClose={() => setChanging(null)} />
      <TokenDialog
        title={`Make a token for ${giving?.username ?? ""}`}
        scopes={scopesOf("ci")}
        open={giving !== null}
        onClose={() => setGiving(null)}
        make={(body) => acts.makeTokenFor(giving?.username ?? "", body)}
        onMade={(made) => {
          show({ words: `The token of ${giving?.username} for ${made.name}.`, text: made.secret });
          setGiving(null);
          client.invalidateQueries({ queryKey: ["people"] });
        }}
      />
    </>
  );
}

interface Acts {
  change: (row: PersonRow) => void;
  give: (row: PersonRow) => void;
  /** Null where nobody has a password. */
  invite: ((row: PersonRow) => void) | null;
  end: (row: PersonRow) => void;
}

const columns = (on: Acts): Column<PersonRow>[] => [
  {
    key: "username",
    title: "Account",
    value: (row) => row.username,
    nowrap: true,
    cell: (row) => (
      <>
        <span className="font-mono">{row.username}</span>
        <div className="text-sm text-soft">{row.name}</div>
      </>
    ),
  },
  {
    key: "role",
    title: "Role",
    value: (row) => row.role,
    nowrap: true,
    cell: (row) =>
      row.active ? (
        row.role
      ) : (
        <Mark shape="cross" tone="soft">
          {row.role}, switched off
        </Mark>
      ),
  },
  {
    key: "teams",
    title: "Teams and desks",
    value: (row) => row.teams.join(" "),
    cell: (row) => (
      <>
        {row.teams.join(", ") || <span className="text-soft">no team</span>}
        {row.desks.length ? (
          <div className="text-sm text-soft">sits at {row.desks.join(", ")}</div>
        ) : null}
      </>
    ),
  },
  {
    key: "used",
    title: "Last seen",
    value: (row) => row.last_used_at,
    nowrap: true,
    cell: (row) => (
      <>
        {row.last_used_at ? fromNow(row.last_used_at, new Date()) : "never"}
        <div className="text-sm text-soft">
          {row.invited_until
            ? `invited until ${day(row.invited_until)}`
            : `${row.sessions} signed in, ${plural(row.tokens.length, "token")}`}
        </div>
      </>
    ),
  },
  {
    key: "acts",
    title: "Acts",
    value: () => "",
    cell: (row) => (
      <span className="flex flex-wrap gap-x-4">
        <Act row={row} words="Change" onAct={on.change} />
        {row.role === "ci" ? (
          <Act row={row} words="Make a token" onAct={on.give} />
        ) : row.active && on.invite ? (
          <Act row={row} words="Invite anew" onAct={on.invite} />
        ) : null}
        {row.sessions ? <Act row={row} words="Sign out" onAct={on.end} /> : null}
      </span>
    ),
  },
];

function Act({
  row,
  words,
  onAct,
}: {
  row: PersonRow;
  words: string;
  onAct: (row: PersonRow) => void;
}) {
  return (
    <button type="button" className="plain text-sm" onClick={() => onAct(row)}>
      {words}
      <span className="sr-only"> {row.username}</span>
    </button>
  );
}
