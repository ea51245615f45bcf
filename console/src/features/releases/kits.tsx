/** Who holds a release, and whom the step to it hits. */

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import { Hits } from "../../ui/hits";
import { Loaded } from "../../ui/parts";

export function ReleaseKits({
  server,
  version,
  base,
}: {
  server: string;
  version: string;
  /** The release before it, where there is one. */
  base: string | undefined;
}) {
  const held = useQuery(queries.serverKits(server)).data ?? [];
  const kits = held.find((one) => one.version === version)?.kits ?? [];
  return (
    <div className="mb-6">
      {kits.length ? (
        <p>
          Held by{" "}
          {kits.map((one, index) => (
            <span key={one.kit}>
              {index ? ", " : ""}
              <Link to={`/kits/${one.kit}`} className="font-mono">
                {one.kit}
              </Link>
            </span>
          ))}
          .
        </p>
      ) : null}
      {base ? <HitSince server={server} version={version} base={base} /> : null}
    </div>
  );
}

/** Whom the step from the release before hits; worked out when it is opened. */
function HitSince({ server, version, base }: { server: string; version: string; base: string }) {
  const [open, setOpen] = useState(false);
  return (
    <details onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>Kits that it hits, since {base}</summary>
      <div className="mt-2">
        {open ? <HitList old={`${server}@${base}`} now={`${server}@${version}`} /> : null}
      </div>
    </details>
  );
}

function HitList({ old, now }: { old: string; now: string }) {
  const comparison = useQuery(queries.comparison(old, now));
  return (
    <Loaded query={comparison}>
      {(found) =>
        found.kits.length ? (
          <Hits hits={found.kits} />
        ) : (
          <p className="text-soft">No kit holds anything that changed so that it would notice.</p>
        )
      }
    </Loaded>
  );
}
