/** One's own page: tokens, sign-ins, password, light or dark. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { Me, SessionRow } from "../../api/types";
import { keysAreOn, turnKeys } from "../../lib/keys";
import { when } from "../../lib/text";
import { applyTheme, chosenTheme, type Theme } from "../../lib/theme";
import { Select, TextField } from "../../ui/form";
import { Empty, Heading, Loaded, Sheet, Trouble } from "../../ui/parts";
import { Deputies } from "./deputies";
import { Told } from "./told";
import { Tokens } from "./tokens";

export function Component() {
  const me = useQuery(queries.me());
  const ways = useQuery(queries.ways());
  return (
    <Loaded query={me}>
      {(person) =>
        person ? (
          <>
            <Heading title={person.name} name="Your page">
              {about(person)}
            </Heading>
            <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[3fr_2fr]">
              <div className="space-y-8">
                <Tokens me={person} />
                <Deputies />
                <Told />
              </div>
              <div className="space-y-8">
                <Sessions />
                {ways.data?.passwords === false ? null : <Password />}
                <Appearance />
              </div>
            </div>
          </>
        ) : null
      }
    </Loaded>
  );
}

function about(me: Me): string {
  const teams = me.teams.length ? `, team ${me.teams.join(", ")}` : "";
  const desks = me.desks.length ? `, at the desk ${me.desks.join(", ")}` : "";
  return `${me.username}, ${me.role}${teams}${desks}`;
}

function Sessions() {
  const client = useQueryClient();
  const sessions = useQuery(queries.sessions());
  const end = useMutation({
    mutationFn: acts.endSession,
    onSettled: () => client.invalidateQueries({ queryKey: ["sessions"] }),
  });
  return (
    <section aria-labelledby="sessions">
      <h2 id="sessions" className="mb-2 text-xl">
        Where you are signed in
      </h2>
      {end.error ? <Trouble error={end.error} /> : null}
      <Loaded query={sessions}>
        {(rows) =>
          rows.length ? (
            <ul className="divide-y divide-rule border-y border-rule">
              {rows.map((row) => (
                <li key={row.id} className="grid grid-cols-[1fr_auto] items-center gap-3 py-2">
                  <span>
                    {browser(row)}
                    {row.own ? <strong> (this one)</strong> : null}
                    <span className="block text-sm text-soft">
                      since {when(row.started_at)}, last used {when(row.last_used_at)}
                    </span>
                  </span>
                  {row.own ? null : (
                    <button
                      type="button"
                      className="button"
                      data-size="small"
                      data-kind="grave"
                      onClick={() => end.mutate(row.id)}
                    >
                      End<span className="sr-only"> the session of {when(row.started_at)}</span>
                    </button>
                  )}
                </li>
              ))}
            </ul>
          ) : (
            <Empty>Nowhere but here.</Empty>
          )
        }
      </Loaded>
    </section>
  );
}

/** Name a browser and its system as far as its own words tell. */
function browser(row: SessionRow): string {
  const program = /(Firefox|Edg|Chrome|Safari)\//.exec(row.browser)?.[1];
  const system = /Windows|Mac OS X|Android|iPhone|Linux/.exec(row.browser)?.[0];
  const named = program === "Edg" ? "Edge" : program;
  return [named ?? "a program", system].filter(Boolean).join(" on ");
}

function Password() {
  const client = useQueryClient();
  const [done, setDone] = useState(0);
  const change = useMutation({
    mutationFn: acts.changePassword,
    onSuccess: () => {
      setDone((count) => count + 1);
      client.invalidateQueries({ queryKey: ["sessions"] });
    },
  });
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    change.mutate({ old: String(form.get("old")), new: String(form.get("new")) });
  }
  return (
    <section aria-labelledby="password">
      <h2 id="password" className="mb-2 text-xl">
        Password
      </h2>
      <Sheet>
        <form key={done} onSubmit={submit} className="space-y-3">
          <TextField
            label="Present password"
            name="old"
            type="password"
            required
            autoComplete="current-password"
          />
          <TextField
            label="New password"
            name="new"
            type="password"
            required
            minLength={10}
            autoComplete="new-password"
            hint="At least ten characters. Other sessions are signed out."
          />
          {change.error ? <Trouble error={change.error} /> : null}
          {change.isSuccess ? <p role="status">The password is changed.</p> : null}
          <button type="submit" className="button" disabled={change.isPending}>
            Change it
          </button>
        </form>
      </Sheet>
    </section>
  );
}

const THEMES = [
  ["system", "as the system says"],
  ["light", "light"],
  ["dark", "dark"],
] as const;

function Appearance() {
  const [theme, setTheme] = useState<Theme>(chosenTheme());
  const [keys, setKeys] = useState(keysAreOn());
  return (
    <section aria-labelledby="appearance">
      <h2 id="appearance" className="mb-2 text-xl">
        On this browser
      </h2>
      <Select
        label="Light or dark"
        choices={THEMES}
        value={theme}
        onChange={(event) => {
          const chosen = event.target.value as Theme;
          applyTheme(chosen);
          setTheme(chosen);
        }}
      />
      <label className="mt-3 flex items-center gap-2">
        <input
          type="checkbox"
          className="size-4 accent-act"
          checked={keys}
          onChange={(event) => {
            turnKeys(event.target.checked);
            setKeys(event.target.checked);
          }}
        />
        Single keys: <kbd>/</kbd> finds; <kbd>n</kbd> and <kbd>p</kbd> go through changes
      </label>
    </section>
  );
}
