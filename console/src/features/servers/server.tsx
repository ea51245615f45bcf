import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { queries } from "../../api/shelf";
import type { ReleaseRow, ServerDetail } from "../../api/types";
import { day, short, when } from "../../lib/text";
import { StateMark } from "../../ui/marks";
import { Cell, Empty, Heading, Json, Loaded, Sheet, Table, Trouble } from "../../ui/parts";

export function ServerPage() {
  const { slug = "" } = useParams();
  const server = useQuery(queries.server(slug));
  return <Loaded query={server}>{(found) => <Server server={found} />}</Loaded>;
}

function Server({ server }: { server: ServerDetail }) {
  return (
    <>
      <Heading
        title={server.title}
        aside={
          server.source_link ? (
            <a className="button" href={server.source_link} rel="noreferrer noopener">
              Source
            </a>
          ) : null
        }
      >
        <span className="font-mono">{server.slug}</span>, owned by {server.team_title}, contact{" "}
        {server.contact}, data class {server.data_class}
        {server.tags.length ? `, tagged ${server.tags.join(", ")}` : ""}
      </Heading>
      {server.suspensions.map((one) => (
        <div key={one.id} className="mb-6 border-l-4 border-brick bg-brick-wash px-4 py-3">
          <StateMark state="suspended" />
          <p>
            {one.item ? `${one.item}: ` : ""}
            {one.reason}{" "}
            <span className="text-soft">
              ({one.by}, {when(one.at)})
            </span>
          </p>
        </div>
      ))}
      <div className="grid gap-8 lg:grid-cols-[3fr_2fr]">
        <section aria-labelledby="releases">
          <h2 id="releases" className="mb-2 text-xl">
            Releases
          </h2>
          {server.releases.length ? (
            <Table label="Releases" head={["Version", "State", "Items", "Tokens", "Since", ""]}>
              {server.releases.map((release, index) => (
                <Release
                  key={release.version}
                  release={release}
                  before={server.releases[index + 1]}
                />
              ))}
            </Table>
          ) : (
            <Empty>No release yet.</Empty>
          )}
        </section>
        {server.current_version ? (
          <Connect slug={server.slug} version={server.current_version} />
        ) : null}
      </div>
    </>
  );
}

function Release({ release, before }: { release: ReleaseRow; before: ReleaseRow | undefined }) {
  return (
    <tr>
      <Cell narrow>
        <Link
          to={`/servers/${release.server}/${release.version}`}
          className="font-mono font-semibold"
        >
          {release.version}
        </Link>
        <div className="font-mono text-xs text-soft">{short(release.digest)}</div>
      </Cell>
      <Cell>
        <StateMark state={release.state} />
        {release.end_reason ? <div className="text-sm text-soft">{release.end_reason}</div> : null}
      </Cell>
      <Cell narrow>{release.item_count}</Cell>
      <Cell narrow>{release.tokens.toLocaleString("en")}</Cell>
      <Cell narrow>{day(release.published_at ?? release.submitted_at)}</Cell>
      <Cell narrow>
        {before ? (
          <Link
            to={`/compare?old=${release.server}@${before.version}&new=${release.server}@${release.version}`}
            aria-label={`Compare ${release.version} with ${before.version}`}
          >
            compare
          </Link>
        ) : null}
      </Cell>
    </tr>
  );
}

function Connect({ slug, version }: { slug: string; version: string }) {
  const [environment, setEnvironment] = useState("");
  const [copied, setCopied] = useState(false);
  const connection = useQuery(queries.connection(slug, version, environment));
  return (
    <section aria-labelledby="connect">
      <h2 id="connect" className="mb-2 text-xl">
        Connect a host to {version}
      </h2>
      {connection.error ? <Trouble error={connection.error} /> : null}
      {connection.data ? (
        <Sheet>
          <div className="mb-3 flex flex-wrap items-end gap-3">
            <label className="grow">
              Environment
              <select
                className="field mt-1"
                value={connection.data.environment}
                onChange={(event) => setEnvironment(event.target.value)}
              >
                {connection.data.environments.map((name) => (
                  <option key={name}>{name}</option>
                ))}
              </select>
            </label>
            <button
              type="button"
              className="button"
              onClick={() =>
                navigator.clipboard
                  .writeText(JSON.stringify(connection.data.block, null, 2))
                  .then(() => setCopied(true))
              }
            >
              {copied ? "Copied" : "Copy"}
            </button>
          </div>
          <Json label="Connection block" value={connection.data.block} />
        </Sheet>
      ) : null}
    </section>
  );
}
