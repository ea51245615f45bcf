import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { FormEvent } from "react";
import { Link } from "react-router";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { FollowingRow, Mail } from "../../api/types";
import { Follow, WAYS } from "../../ui/follow";
import { type Choice, Select, TextField } from "../../ui/form";
import { Loaded, Trouble } from "../../ui/parts";

/** What one is told of, and how: one's address, what concerns one's teams and desks, and what one follows. */
export function Told() {
  const mail = useQuery(queries.mail());
  const rows = useQuery(queries.following());
  return (
    <section aria-labelledby="told-how">
      <h2 id="told-how" className="mb-2 text-xl">
        What you are told
      </h2>
      <p className="mb-3 text-soft">
        What concerns your teams and desks stands in your inbox. You can have it by mail as well,
        and follow more: on the page of a server or kit, or here.
      </p>
      <Loaded query={mail}>{(found) => <Address mail={found} />}</Loaded>
      <Loaded query={rows}>{(found) => <Following rows={found} />}</Loaded>
      <p className="mt-3">
        <Link to="/webhooks">Webhooks of your teams</Link>
      </p>
    </section>
  );
}

const HOW: Choice[] = [
  ["inbox", WAYS.inbox],
  ["mail", WAYS.mail],
  ["digest", WAYS.digest],
];

function Address({ mail }: { mail: Mail }) {
  const client = useQueryClient();
  const settle = { onSuccess: (found: Mail) => client.setQueryData(["mail"], found) };
  const set = useMutation({ mutationFn: acts.setMail, ...settle });
  const confirm = useMutation({ mutationFn: acts.confirmMail, ...settle });
  if (!mail.sends && !mail.address) {
    return <p className="mb-3">This service sends no mail.</p>;
  }
  function name(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    set.mutate({ address: String(new FormData(event.currentTarget).get("address")).trim() });
  }
  function send(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    confirm.mutate(String(new FormData(event.currentTarget).get("code")).trim());
  }
  return (
    <div className="space-y-3">
      {mail.confirmed ? (
        <>
          <div className="flex flex-wrap items-baseline justify-between gap-3">
            <span>
              Mail goes to <strong className="wrap-anywhere">{mail.address}</strong>.
            </span>
            <button
              type="button"
              className="button"
              data-size="small"
              onClick={() => set.mutate({ address: "" })}
            >
              No mail any more
            </button>
          </div>
          <Select
            label="What concerns your teams and desks"
            choices={HOW}
            value={mail.how}
            onChange={(event) => set.mutate({ how: event.target.value as Mail["how"] })}
          />
        </>
      ) : (
        <form onSubmit={name} className="grid items-end gap-3 sm:grid-cols-[1fr_auto]">
          <TextField
            label="Your mail address"
            name="address"
            type="email"
            required
            maxLength={254}
            defaultValue={mail.address}
            autoComplete="email"
          />
          <button type="submit" className="button" disabled={set.isPending}>
            Send a code there
          </button>
        </form>
      )}
      {mail.address && !mail.confirmed ? (
        <form onSubmit={send} className="grid items-end gap-3 sm:grid-cols-[1fr_auto]">
          <TextField
            label="The code that was sent there"
            name="code"
            required
            maxLength={40}
            autoComplete="one-time-code"
          />
          <button type="submit" className="button" disabled={confirm.isPending}>
            Confirm
          </button>
        </form>
      ) : null}
      {set.error || confirm.error ? <Trouble error={set.error ?? confirm.error} /> : null}
    </div>
  );
}

function Following({ rows }: { rows: FollowingRow[] }) {
  return (
    <div className="mt-4 space-y-3">
      <Follow about="catalog" label="Everything that is published" />
      {rows
        .filter((one) => one.about !== "catalog")
        .map((one) => (
          <Follow key={one.about} about={one.about} label={named(one.about)} />
        ))}
    </div>
  );
}

function named(about: string): string {
  const [kind, name] = about.split(":");
  return `The ${kind} ${name}`;
}
