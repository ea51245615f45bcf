/** One server: its record, edited in place, its releases, how each runs, and how to connect to it. */

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { queries } from "../../api/queries";
import type { ReleaseRow, ServerDetail } from "../../api/types";
import { day, itemPath, short } from "../../lib/text";
import { Follow } from "../../ui/follow";
import { CopyButton } from "../../ui/form";
import { StateMark } from "../../ui/marks";
import { Code, Empty, Foreign, Heading, Loaded, Sheet } from "../../ui/parts";
import { type Column, DataTable } from "../../ui/table";
import { Connect } from "./connect";
import { ServerKits } from "./kits";
import { Launches } from "./launch";
import { Looks } from "./looks";
import { ServerRecord } from "./record";
import { SuspendDialog, Suspensions } from "./suspensions";
import { Timeline } from "./timeline";

export function Component() {
  const { slug = "" } = useParams();
  const server = useQuery(queries.server(slug));
  return <Loaded query={server}>{(found) => <Server server={found} />}</Loaded>;
}

function Server({ server }: { server: ServerDetail }) {
  const [suspending, setSuspending] = useState(false);
  const usable = server.releases.filter((one) => ["published", "deprecated"].includes(one.state));
  return (
    <>
      <Heading
        title={server.title}
        aside={
          server.may_suspend ? (
            <button
              type="button"
              className="button"
              data-kind="grave"
              onClick={() => setSuspending(true)}
            >
              Suspend
            </button>
          ) : null
        }
      >
        <div className="flex flex-wrap items-center gap-x-5 gap-y-1">
          <span className="font-mono">{server.slug}</span>
          {server.suspended ? <StateMark state="suspended" /> : null}
          {server.current_version ? <StateMark state="published" /> : null}
          {!server.current_version && server.deprecated_version ? (
            <StateMark state="deprecated" />
          ) : null}
          {server.waiting ? <StateMark state="in-review" /> : null}
          {server.reviewed === false ? <StateMark state="adopted" /> : null}
        </div>
      </Heading>
      <Suspensions suspensions={server.suspensions} mayAsk={server.may_ask} />
      <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[3fr_2fr]">
        <div className="space-y-8">
          <section aria-labelledby="releases">
            <h2 id="releases" className="mb-2 text-xl">
              Releases
            </h2>
            {server.releases.length ? (
              <Releases server={server} />
            ) : (
              <FirstRelease slug={server.slug} />
            )}
          </section>
          <Timeline slug={server.slug} />
          <ServerKits slug={server.slug} />
          <Launches releases={usable} />
        </div>
        <div className="space-y-8">
          <ServerRecord server={server} />
          <Looks slug={server.slug} />
          <Follow about={`server:${server.slug}`} />
          {usable.length && !server.suspended ? (
            <Connect server={server} releases={usable} />
          ) : null}
        </div>
      </div>
      <SuspendDialog server={server.slug} open={suspending} onClose={() => setSuspending(false)} />
    </>
  );
}

function Releases({ server }: { server: ServerDetail }) {
  const before = new Map(
    server.releases.map((release, index) => [release.version, server.releases[index + 1]]),
  );
  const columns: Column<ReleaseRow>[] = [
    {
      key: "version",
      title: "Version",
      value: (row) => row.version,
      nowrap: true,
      cell: (row) => (
        <>
          <Link to={itemPath(row.server, row.version)} className="font-mono font-semibold">
            {row.version}
          </Link>
          {row.version === server.current_version ? (
            <span className="ml-2 text-sm text-soft">current</span>
          ) : null}
          <div className="font-mono text-xs text-soft">{short(row.digest)}</div>
        </>
      ),
    },
    {
      key: "state",
      title: "State",
      value: (row) => row.state,
      cell: (row) => (
        <>
          <StateMark state={row.state} />
          {row.end_reason ? (
            <div className="text-sm text-soft">
              <Foreign text={row.end_reason} />
              {row.sunset_at ? `; not to be used after ${day(row.sunset_at)}` : ""}
            </div>
          ) : null}
        </>
      ),
    },
    {
      key: "items",
      title: "Items",
      number: true,
      value: (row) => row.item_count,
      cell: (row) => row.item_count,
    },
    {
      key: "tokens",
      title: "Tokens",
      number: true,
      value: (row) => row.tokens,
      cell: (row) => row.tokens.toLocaleString("en"),
    },
    {
      key: "since",
      title: "Since",
      value: (row) => row.published_at ?? row.submitted_at,
      nowrap: true,
      cell: (row) => day(row.published_at ?? row.submitted_at),
    },
    {
      key: "compare",
      title: "Changes",
      nowrap: true,
      cell: (row) => {
        const base = before.get(row.version);
        return base ? (
          <Link
            to={`/compare?old=${row.server}@${base.version}&new=${row.server}@${row.version}`}
            aria-label={`Compare ${row.version}: since ${base.version}`}
          >
            since {base.version}
          </Link>
        ) : (
          <span className="text-soft">the first</span>
        );
      },
    },
  ];
  return (
    <DataTable
      label="Releases"
      columns={columns}
      rows={server.releases}
      rowKey={(row) => row.version}
      sort=""
    />
  );
}

/** How a first release comes here: by the command line, next to the server's source. */
function FirstRelease({ slug }: { slug: string }) {
  const commands = [
    `tallshelf capture --stdio '…' -o ${slug}.json`,
    `tallshelf check ${slug}.json`,
    `tallshelf submit ${slug} ${slug}.json`,
  ].join("\n");
  return (
    <>
      <Empty>No release yet. It is captured and submitted from where the server's source is:</Empty>
      <Sheet label="Commands">
        <Code label="Commands" text={commands} />
        <div className="mt-3">
          <CopyButton text={commands} />
        </div>
      </Sheet>
    </>
  );
}
