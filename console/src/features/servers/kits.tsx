/** Who uses a server: the kits that hold something of it, by release. */

import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import { itemPath, plural } from "../../lib/text";
import { StateMark } from "../../ui/marks";
import { Loaded } from "../../ui/parts";

export function ServerKits({ slug }: { slug: string }) {
  const releases = useQuery(queries.serverKits(slug));
  return (
    <section aria-labelledby="kits">
      <h2 id="kits" className="mb-2 text-xl">
        Kits that hold it
      </h2>
      <Loaded query={releases}>
        {(rows) =>
          rows.length === 0 ? (
            <p className="text-soft">Nothing of it can be held yet.</p>
          ) : (
            <ul className="divide-y divide-rule border-y border-rule">
              {rows.map((row) => (
                <li key={row.version} className="py-2">
                  <div className="flex flex-wrap items-baseline gap-x-4">
                    <Link to={itemPath(slug, row.version)} className="font-mono font-semibold">
                      {row.version}
                    </Link>
                    <StateMark state={row.state} />
                    {row.kits.length ? null : <span className="text-soft">no kit holds it</span>}
                  </div>
                  <ul className="pl-4">
                    {row.kits.map((one) => (
                      <li key={one.kit}>
                        <Link to={`/kits/${one.kit}`} className="font-mono">
                          {one.kit}
                        </Link>{" "}
                        <span className="text-sm text-soft">
                          of {one.team}: {plural(one.held.length, "item")}
                        </span>
                      </li>
                    ))}
                  </ul>
                </li>
              ))}
            </ul>
          )
        }
      </Loaded>
    </section>
  );
}
