import type { RequestDetail, RouteDesk } from "../../api/types";
import { fromNow, when } from "../../lib/text";
import { Mark, type Tone } from "../../ui/marks";
import { useKind } from "./kinds";

const EDGES: Record<RouteDesk["standing"], string> = {
  agreed: "border-t-moss",
  asked: "border-t-amber",
  later: "border-t-rule",
};
const how = ({ kind, tells }: RequestDetail) => {
  const after = tells.length ? ", and nobody may object any more" : "";
  if (kind === "publish") return `by the owner, once all agree${after}`;
  return after ? `once all agree${after}` : "with the last agreement";
};
const CARD = "grow basis-48 border border-t-[6px] border-rule bg-sheet px-4 py-3";

/** The route as a line of desks: who agreed, who is asked now and why, what comes last. */
export function RouteLine({ request }: { request: RequestDetail }) {
  const done = request.state === "done";
  const kind = useKind(request.kind);
  const desks = request.route.flatMap((step, index) =>
    step.map((desk) => ({ desk, step: index + 1 })),
  );
  return (
    <ol aria-label="Route" className="flex flex-wrap gap-px">
      {desks.map(({ desk, step }) => (
        <li key={`${step} ${desk.desk}`} className={`${CARD} ${EDGES[desk.standing]}`}>
          <Desk desk={desk} />
        </li>
      ))}
      <li className={`${CARD} ${done ? "border-t-moss" : "border-t-rule"}`}>
        <p className="font-serif text-lg font-semibold">{kind?.button}</p>
        <p className="text-sm text-soft">
          {done ? kind?.done : request.approved_by || how(request)}
        </p>
      </li>
    </ol>
  );
}

function Desk({ desk }: { desk: RouteDesk }) {
  const [shape, tone, words] = standing(desk);
  return (
    <>
      <p className="flex flex-wrap items-baseline gap-x-3">
        <span className="font-serif text-lg font-semibold">{desk.title}</span>
        <Mark shape={shape} tone={tone}>
          {words}
        </Mark>
      </p>
      {desk.standing === "asked" ? (
        <p className="text-sm">
          {new Date(desk.due_at) < new Date() ? (
            <Mark shape="triangle" tone="amber">
              overdue
            </Mark>
          ) : null}{" "}
          due <time dateTime={desk.due_at}>{fromNow(desk.due_at, new Date())}</time>,{" "}
          {when(desk.due_at)}
        </p>
      ) : null}
      <p className="text-sm text-soft">
        {desk.agreed.map((one) => `${one.name}, ${when(one.at)}`).join("; ")}
        {desk.agreed.length ? null : `asked because: ${desk.reasons.join("; ")}`}
      </p>
      {desk.standing !== "agreed" && desk.hints.length ? (
        <p className="text-sm">{desk.hints.join(" ")}</p>
      ) : null}
    </>
  );
}

function standing(desk: RouteDesk): [string, Tone, string] {
  if (desk.standing === "agreed") return ["disc", "moss", "agreed"];
  const number = `${desk.agreed.length} of ${desk.needed}`;
  return desk.standing === "asked"
    ? ["tab", "amber", `${number}, asked now`]
    : ["open", "soft", "later"];
}
