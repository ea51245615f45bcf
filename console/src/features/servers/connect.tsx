import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import type { ReleaseRow, ServerDetail } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { CopyButton, Select } from "../../ui/form";
import { Foreign, Json, Sheet, Trouble } from "../../ui/parts";

/** The block that a host's configuration needs, for a release and an environment that one chooses. */
export function Connect({ server, releases }: { server: ServerDetail; releases: ReleaseRow[] }) {
  const [read, write] = useParamsOf();
  const known = releases.map((one) => one.version);
  const asked = read("release");
  const version = known.includes(asked) ? asked : (server.current_version ?? known[0] ?? "");
  const connection = useQuery(queries.connection(server.slug, version, read("environment")));
  return (
    <section aria-labelledby="connect">
      <h2 id="connect" className="mb-2 text-xl">
        Connect a host
      </h2>
      <Sheet>
        <div className="mb-3 grid gap-3 sm:grid-cols-2">
          <Select
            label="Release"
            value={version}
            choices={releases.map(
              (one) => [one.version, `${one.version}${words(one, server)}`] as const,
            )}
            onChange={(event) => write({ release: event.target.value, environment: null })}
          />
          {connection.data ? (
            <Select
              label="Environment"
              value={connection.data.environment}
              choices={connection.data.environments.map((name) => [name, name] as const)}
              onChange={(event) => write({ environment: event.target.value })}
            />
          ) : null}
        </div>
        {connection.error ? <Trouble error={connection.error} /> : null}
        {connection.data?.warning ? (
          <p className="mb-3 border-l-4 border-amber bg-amber-wash px-3 py-2">
            <Foreign text={connection.data.warning} />
          </p>
        ) : null}
        {connection.data && !connection.error ? (
          <>
            <Json label="Connection block" value={connection.data.block} />
            <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2">
              <CopyButton text={JSON.stringify(connection.data.block, null, 2)}>
                Copy the block
              </CopyButton>
              <span className="text-sm text-soft">
                Secrets are placeholders; the host fills them in.
              </span>
            </div>
          </>
        ) : null}
      </Sheet>
    </section>
  );
}

function words(one: ReleaseRow, server: ServerDetail): string {
  if (one.version === server.current_version) return ", current";
  return one.state === "deprecated" ? ", deprecated" : "";
}
