import { Link } from "react-router";
import type { RoutingRehearsal } from "../../api/types";
import { plural } from "../../lib/text";
import { Foreign } from "../../ui/parts";
import { Loosened } from "../style/effect";

/** What other rules would have done, as a picture: for each desk how many requests it had, and would have had. */
export function Rehearsal({ rehearsal, days }: { rehearsal: RoutingRehearsal; days: number }) {
  const most = Math.max(
    1,
    ...rehearsal.desks.flatMap((one) => [one.requests_before, one.requests_after]),
  );
  return (
    <section aria-labelledby="rehearsal" className="mt-6">
      <h2 id="rehearsal" className="mb-2 text-xl">
        On {plural(rehearsal.requests, "request")} of the last {days} days
      </h2>
      {rehearsal.faults.length ? (
        <div className="mb-4 border-l-4 border-brick bg-brick-wash px-4 py-2">
          <p className="font-semibold">They cannot be in force</p>
          <ul className="list-disc pl-5">
            {rehearsal.faults.map((one) => (
              <li key={one}>
                <Foreign text={one} />
              </li>
            ))}
          </ul>
        </div>
      ) : null}
      {rehearsal.loosened.length ? (
        <Loosened title="They ask less than the rules in force" words={rehearsal.loosened} />
      ) : null}
      <table className="w-full max-w-3xl border-collapse text-left">
        <thead>
          <tr className="text-soft">
            <th scope="col" className="py-1 pr-6 font-medium">
              Desk
            </th>
            <th scope="col" className="w-2/3 py-1 font-medium">
              Requests asked of it, before and after
            </th>
            <th scope="col" className="py-1 pl-4 text-right font-medium">
              Sign-offs
            </th>
          </tr>
        </thead>
        <tbody>
          {rehearsal.desks.map((one) => (
            <tr key={one.desk}>
              <th scope="row" className="py-2 pr-6 align-top font-normal">
                {one.desk}
              </th>
              <td className="py-2">
                <Bar count={one.requests_before} most={most} fill="var(--slate)" words="before" />
                <Bar count={one.requests_after} most={most} fill="var(--act)" words="after" />
              </td>
              <td className="py-2 pl-4 text-right align-top whitespace-nowrap tabular-nums">
                {one.sign_offs_before} → {one.sign_offs_after}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {rehearsal.approved_by_rule_before || rehearsal.approved_by_rule_after ? (
        <p className="mt-2">
          Approved by a rule alone: {rehearsal.approved_by_rule_before} →{" "}
          {rehearsal.approved_by_rule_after}
        </p>
      ) : null}
      <p className="mt-3 text-soft">
        {rehearsal.moved.length === 0
          ? "Every request would have gone the same way."
          : `${plural(rehearsal.moved.length, "request")} would have gone another way:`}
      </p>
      <ul className="flex flex-wrap gap-x-6">
        {rehearsal.moved.slice(0, 24).map((one) => (
          <li key={one.request}>
            <Link to={`/requests/${one.request}`} className="inline-block min-h-6">
              {one.request}
            </Link>{" "}
            <span className="text-sm text-soft">
              {[
                one.added.length ? `also ${one.added.join(", ")}` : "",
                one.dropped.length ? `no more ${one.dropped.join(", ")}` : "",
              ]
                .filter(Boolean)
                .join("; ") || "other numbers"}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Bar({
  count,
  most,
  fill,
  words,
}: {
  count: number;
  most: number;
  fill: string;
  words: string;
}) {
  return (
    <div className="flex items-center gap-2">
      <span
        aria-hidden="true"
        className="h-3.5"
        style={{ width: `${(80 * count) / most}%`, background: fill }}
      />
      <span className="text-sm tabular-nums">
        {count} <span className="text-soft">{words}</span>
      </span>
    </div>
  );
}
