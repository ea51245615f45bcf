import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import type { LookRow } from "../../api/types";
import { fromNow } from "../../lib/text";
import { Mark } from "../../ui/marks";
import { Foreign, Loaded } from "../../ui/parts";

const MARKS = {
  "as approved": ["disc", "moss"],
  drifted: ["triangle", "brick"],
  "not reached": ["ring", "amber"],
} as const;

/** How the running server was found last, as whoever watches it reported. */
export function Looks({ slug }: { slug: string }) {
  const looks = useQuery(queries.looks(slug));
  return (
    <Loaded query={looks}>
      {(rows) =>
        rows.length ? (
          <section aria-labelledby="looks">
            <h2 id="looks" className="mb-2 text-xl">
              How it was found running
            </h2>
            <ul className="divide-y divide-rule border-y border-rule">
              {rows.map((one) => (
                <li key={one.environment} className="py-2">
                  <One look={one} />
                </li>
              ))}
            </ul>
          </section>
        ) : null
      }
    </Loaded>
  );
}

function One({ look }: { look: LookRow }) {
  const [shape, tone] = MARKS[look.standing];
  return (
    <>
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <span>
          {look.environment}, {look.version}:{" "}
          <Mark shape={shape} tone={tone}>
            {look.standing}
          </Mark>
        </span>
        <span className="text-sm text-soft">
          {look.by}, {fromNow(look.at, new Date())}
        </span>
      </div>
      {look.differing.length ? (
        <p className="text-sm">
          Otherwise than approved: <Foreign text={look.differing.join(", ")} />
        </p>
      ) : null}
      {look.detail ? (
        <p className="text-sm text-soft">
          <Foreign text={look.detail} />
        </p>
      ) : null}
    </>
  );
}
