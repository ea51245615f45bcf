/** All that does what was asked for, by item, with the matching words marked. */

import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import type { FormEvent } from "react";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import type { Found, Hit } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { Select } from "../../ui/form";
import { Mark } from "../../ui/marks";
import { Empty, Foreign, Heading, Loaded } from "../../ui/parts";
import { hitPath, Marked } from "./hit";

const KINDS = [
  ["", "all kinds"],
  ["tool", "tools"],
  ["resource", "resources"],
  ["template", "resource templates"],
  ["prompt", "prompts"],
  ["server", "servers"],
] as const;

export function Component() {
  const [read, write] = useParamsOf();
  const [q, kind, team] = [read("q"), read("kind"), read("team")];
  const found = useInfiniteQuery(queries.hits(q, kind, team));
  const teams = useQuery(queries.teams());
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    write({ q: String(new FormData(event.currentTarget).get("q")) }, "push");
  }
  return (
    <>
      <Heading title="Find" name={q ? `Find “${q}”` : "Find"}>
        Servers, tools, parameters, resources and prompts, by what they do.
      </Heading>
      <form key={q} onSubmit={submit} className="mb-6 flex flex-wrap items-end gap-4">
        <label className="min-w-64 grow">
          What it should do
          <input type="search" name="q" defaultValue={q} className="field mt-1" />
        </label>
        <Select
          label="Kind"
          choices={KINDS}
          value={kind}
          onChange={(event) => write({ kind: event.target.value })}
        />
        <Select
          label="Team"
          choices={[
            ["", "all teams"],
            ...(teams.data ?? []).map((one) => [one.slug, one.title] as const),
          ]}
          value={team}
          onChange={(event) => write({ team: event.target.value })}
        />
        <button type="submit" className="button" data-kind="main">
          Find
        </button>
      </form>
      {q ? (
        <Loaded query={found}>
          {({ pages }) => (
            <>
              <Hits pages={pages} q={q} />
              {found.hasNextPage ? (
                <button
                  type="button"
                  className="button mt-4"
                  disabled={found.isFetchingNextPage}
                  onClick={() => found.fetchNextPage()}
                >
                  More
                </button>
              ) : null}
            </>
          )}
        </Loaded>
      ) : (
        <Empty>Say in a few words what the tool should do, such as “free berth”.</Empty>
      )}
    </>
  );
}

function Hits({ pages, q }: { pages: Found[]; q: string }) {
  const hits = pages.flatMap((page) => page.results);
  const respelled = Object.entries(pages[0]?.respelled ?? {});
  return (
    <>
      {respelled.map(([word, near]) => (
        <p key={word} className="mb-3">
          Nothing has “{word}”; this is for <strong>{near.join(" or ")}</strong>.
        </p>
      ))}
      {hits.length && pages[0]?.fit === "none" ? (
        <p className="mb-3">Nothing on the shelf seems to do that. What is nearest:</p>
      ) : null}
      {hits.length === 0 ? <Empty>Nothing does “{q}”. Try fewer or other words.</Empty> : null}
      <ul aria-label="Hits" className="divide-y divide-rule border-y border-rule">
        {hits.map((hit) => (
          <li key={`${hit.server} ${hit.item}`} className="py-4">
            <OneHit hit={hit} />
          </li>
        ))}
      </ul>
    </>
  );
}

/** How a hit says what was asked in other words, and what it says nothing of. */
function Said({ says }: { says: Hit["says"] }) {
  const other = says.filter(({ asked, said }) => said && said.slice(0, 4) !== asked.slice(0, 4));
  const unsaid = says.filter(({ said }) => !said);
  if (!other.length && !unsaid.length) return null;
  const told = [
    ...(other.length
      ? [`read ${other.map(({ asked, said }) => `${asked} as ${said}`).join(", ")}`]
      : []),
    ...(unsaid.length ? [`says nothing of ${unsaid.map(({ asked }) => asked).join(", ")}`] : []),
  ];
  return (
    <p className="text-sm text-soft">
      <Foreign text={told.join("; ")} />
    </p>
  );
}

function OneHit({ hit }: { hit: Hit }) {
  return (
    <article>
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2 className="font-mono text-lg wrap-anywhere">
          <Link to={hitPath(hit)}>
            <Marked pieces={hit.name} />
          </Link>
        </h2>
        <p className="text-soft">
          {hit.kind}
          {hit.kind === "server" ? null : (
            <>
              {" of "}
              <Link to={`/servers/${hit.server}`}>{hit.server}</Link>
            </>
          )}{" "}
          {hit.version ?? "no release yet"}, {hit.team_title}
        </p>
        {hit.deprecated ? (
          <p className="text-sm">
            <Mark shape="half" tone="amber">
              deprecated
            </Mark>
            <Foreign text={hit.deprecated.replace(/^deprecated/, "")} />
          </p>
        ) : null}
        {hit.suspended ? (
          <p>
            <Mark shape="diamond" tone="brick">
              suspended
            </Mark>
            : <Foreign text={hit.suspended} />
          </p>
        ) : null}
        {hit.preferred ? (
          <span className="text-sm text-amber">
            <Foreign text={`use ${hit.preferred} instead: it is preferred`} />
          </span>
        ) : null}
      </div>
      {hit.text.length ? (
        <p className="max-w-prose">
          <Marked pieces={hit.text} />
        </p>
      ) : null}
      <Said says={hit.says} />
      {hit.parameters.map((pieces) => (
        <p key={pieces.map((one) => one.text).join("")} className="ml-4 text-sm">
          <Marked pieces={pieces} />
        </p>
      ))}
      {hit.notes.map((one) => (
        <p key={`${one.by} ${one.at}`} className="text-sm text-soft">
          {one.by} says: “<Foreign text={one.text} />”
          {one.answer ? (
            <>
              {" "}
              Its owners: “<Foreign text={one.answer} />”
            </>
          ) : null}
        </p>
      ))}
    </article>
  );
}
