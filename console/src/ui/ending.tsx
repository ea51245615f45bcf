/** Whom it hits that something is used no more, and what could stand in: shown before it is done. */

import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../api/queries";
import { Hits, hitWords } from "./hits";

const MOST = 5;

export function Ending({
  server,
  version = "",
  item = "",
}: {
  server: string;
  version?: string;
  item?: string;
}) {
  const found = useQuery(queries.ending(server, version, item)).data;
  if (!found) return null;
  if (!found.kits.length) return <p className="text-soft">No kit holds it.</p>;
  return (
    <div role="status">
      <p className="mb-1 font-semibold">It hits {hitWords(found.kits)}.</p>
      <Hits hits={found.kits} />
      {found.stand_ins.length ? (
        <>
          <p className="mt-3 font-semibold">What could stand in</p>
          <ul className="text-sm">
            {found.stand_ins.slice(0, MOST).map((one) => (
              <li key={`${one.item} ${one.by}`}>
                <Link
                  to={`/side-by-side?a=${encodeURIComponent(one.item)}&b=${encodeURIComponent(one.by)}`}
                >
                  <code>{one.by}</code>
                </Link>{" "}
                for <code>{one.item.split("#")[1]}</code>:{" "}
                {one.stands_in
                  ? "takes the same calls"
                  : one.stands_in === false
                    ? "takes other calls"
                    : "may take other calls"}
              </li>
            ))}
          </ul>
        </>
      ) : null}
    </div>
  );
}
