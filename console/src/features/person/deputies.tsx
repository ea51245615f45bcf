import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { FormEvent } from "react";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import { day } from "../../lib/text";
import { TextField } from "../../ui/form";
import { Empty, Loaded, Trouble } from "../../ui/parts";

/** Who signs in one's place while one is away, and in whose place one signs. */
export function Deputies() {
  const client = useQueryClient();
  const found = useQuery(queries.deputies());
  const settle = { onSuccess: () => client.invalidateQueries({ queryKey: ["deputies"] }) };
  const name = useMutation({ mutationFn: acts.nameDeputy, ...settle });
  const end = useMutation({ mutationFn: acts.endDeputy, ...settle });
  function send(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const sent = event.currentTarget;
    const form = new FormData(sent);
    name.mutate(
      {
        deputy: String(form.get("deputy") ?? "").trim(),
        until: `${String(form.get("until"))}T23:59:59Z`,
      },
      { onSuccess: () => sent.reset() },
    );
  }
  return (
    <section aria-labelledby="deputies">
      <h2 id="deputies" className="mb-2 text-xl">
        While you are away
      </h2>
      <p className="mb-3 text-soft">
        A deputy signs in your place what is opened from then on, where they have no part in it.
      </p>
      <Loaded query={found}>
        {(rows) =>
          rows.length ? (
            <ul className="mb-4 divide-y divide-rule border-y border-rule">
              {rows.map((one) => (
                <li
                  key={one.id}
                  className="flex flex-wrap items-baseline justify-between gap-3 py-2"
                >
                  <span>
                    {one.deputy} signs for {one.person}, {day(one.since)} to {day(one.until)}
                  </span>
                  {one.own ? (
                    <button
                      type="button"
                      className="button"
                      data-size="small"
                      onClick={() => end.mutate(one.id)}
                    >
                      End
                    </button>
                  ) : null}
                </li>
              ))}
            </ul>
          ) : (
            <Empty>Nobody signs in your place.</Empty>
          )
        }
      </Loaded>
      <form onSubmit={send} className="mt-3 grid items-end gap-3 sm:grid-cols-[1fr_1fr_auto]">
        <TextField label="Deputy, by user name" name="deputy" required maxLength={64} />
        <TextField
          label="Until"
          name="until"
          type="date"
          required
          min={new Date(Date.now() + 86_400_000).toISOString().slice(0, 10)}
        />
        <button type="submit" className="button" disabled={name.isPending}>
          Name
        </button>
      </form>
      {name.error || end.error ? <Trouble error={name.error ?? end.error} /> : null}
    </section>
  );
}
