import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { acts, queries } from "../../api/shelf";
import type { Answer, Assessment, RequestDetail, RouteDesk } from "../../api/types";
import { short, when } from "../../lib/text";
import { ChangeNote } from "../../ui/changes";
import { LevelMark, Mark, StateMark } from "../../ui/marks";
import { Foreign, Heading, Loaded, Trouble } from "../../ui/parts";
import { AnswerDialog } from "./answer-dialog";

export function RequestPage() {
  const { number = "" } = useParams();
  const request = useQuery(queries.request(number));
  return <Loaded query={request}>{(found) => <RequestSheet request={found} />}</Loaded>;
}

function RequestSheet({ request }: { request: RequestDetail }) {
  const client = useQueryClient();
  const [answering, setAnswering] = useState<Answer | null>(null);
  const settle = () => client.invalidateQueries();
  const publish = useMutation({ mutationFn: () => acts.publish(request.id), onSettled: settle });
  const takeBack = useMutation({ mutationFn: () => acts.takeBack(request.id), onSettled: settle });
  const trouble = publish.error ?? takeBack.error;
  return (
    <>
      <Heading
        title={`Request ${request.id}: publish ${request.server} ${request.version}`}
        aside={
          <>
            {request.may_take_back ? (
              <button type="button" className="button" onClick={() => takeBack.mutate()}>
                Take back
              </button>
            ) : null}
            {request.may_sign_at.length ? (
              <>
                <button
                  type="button"
                  className="button"
                  data-kind="grave"
                  onClick={() => setAnswering("decline")}
                >
                  Decline
                </button>
                <button type="button" className="button" onClick={() => setAnswering("send-back")}>
                  Send back
                </button>
                <button
                  type="button"
                  className="button"
                  data-kind="main"
                  onClick={() => setAnswering("agree")}
                >
                  Agree
                </button>
              </>
            ) : null}
            {request.may_publish ? (
              <button
                type="button"
                className="button"
                data-kind="main"
                disabled={publish.isPending}
                onClick={() => publish.mutate()}
              >
                Publish
              </button>
            ) : null}
          </>
        }
      >
        <StateMark state={request.state} /> asked by {request.opened_by} ({request.team}) on{" "}
        {when(request.opened_at)}, over release{" "}
        <Link to={`/servers/${request.server}/${request.version}`} className="font-mono">
          {short(request.release_digest)}
        </Link>
        {request.note ? (
          <span className="mt-1 block">
            “<Foreign text={request.note} />”
          </span>
        ) : null}
      </Heading>
      {trouble ? <Trouble error={trouble} /> : null}
      {request.warnings.map((one) => (
        <p key={one} className="mb-4 border-l-4 border-amber bg-amber-wash px-4 py-2">
          {one}
        </p>
      ))}
      <RouteLine request={request} />
      <div className="mt-8 grid gap-10 lg:grid-cols-[2fr_1fr]">
        <First request={request} />
        <div className="space-y-8">
          <Facts assessment={request.assessment} />
          <SignOffs request={request} />
        </div>
      </div>
      <AnswerDialog request={request} answer={answering} onClose={() => setAnswering(null)} />
    </>
  );
}

const EDGE: Record<RouteDesk["standing"], string> = {
  agreed: "border-t-moss",
  asked: "border-t-amber",
  later: "border-t-rule",
};

function RouteLine({ request }: { request: RequestDetail }) {
  const steps = request.route.map((step, index) => ({ number: index + 1, step }));
  return (
    <ol aria-label="Route" className="grid gap-px sm:auto-cols-fr sm:grid-flow-col">
      {steps.flatMap(({ number, step }) =>
        step.map((desk) => (
          <li
            key={`${number} ${desk.desk}`}
            className={`border border-t-[6px] border-rule bg-sheet px-4 py-3 ${EDGE[desk.standing]}`}
          >
            <p>
              <span className="font-serif font-semibold">{desk.title}</span>{" "}
              <span className="font-semibold">
                {desk.standing === "agreed" ? "agreed" : `${desk.agreed.length} of ${desk.needed}`}
                {desk.standing === "asked" ? `, due ${when(desk.due_at)}` : ""}
              </span>
            </p>
            <p className="text-sm text-soft">
              {desk.agreed.map((one) => `${one.name}, ${when(one.at)}`).join("; ") ||
                `asked because: ${desk.reasons.join("; ")}`}
            </p>
          </li>
        )),
      )}
      <li
        className={`border border-t-[6px] border-rule bg-sheet px-4 py-3 ${request.state === "done" ? "border-t-moss" : "border-t-rule"}`}
      >
        <p className="font-serif font-semibold">Publish</p>
        <p className="text-sm text-soft">
          {request.state === "done"
            ? "published"
            : request.approved_by || "by the owner, once all agree"}
        </p>
      </li>
    </ol>
  );
}

function First({ request }: { request: RequestDetail }) {
  const { assessment } = request;
  const changes = (assessment.changes ?? []).filter(
    (one) => !one.folded && one.impact !== "compatible",
  );
  const findings = assessment.findings.filter((one) => !one.waived && !one.known);
  const overlaps = (assessment.overlaps ?? []).filter((one) => one.class === "same-job");
  const item = (identity: string) =>
    `/servers/${request.server}/${request.version}#${encodeURIComponent(identity)}`;
  return (
    <section aria-labelledby="first">
      <h2 id="first" className="mb-2 text-xl">
        Look at these first
      </h2>
      {assessment.passed ? <p className="mb-3 text-soft">The check passes.</p> : null}
      {assessment.because.map((reason) => (
        <p key={reason} className="mb-2">
          <Mark shape="square" tone="brick">
            does not pass
          </Mark>{" "}
          <Foreign text={reason} />
        </p>
      ))}
      <ul className="divide-y divide-rule border-y border-rule">
        {changes.map((one) => (
          <li key={`${one.item} ${one.kind} ${one.message}`} className="py-3">
            <p className="font-mono text-sm text-soft">{one.item}</p>
            <ChangeNote change={one} />
          </li>
        ))}
        {findings.map((one) => (
          <li key={one.fingerprint} className="py-3">
            <Link to={item(one.item)} className="font-mono text-sm">
              {one.item}
            </Link>
            <div>
              <LevelMark level={one.level}>
                {one.level}: {one.rule}
              </LevelMark>
              <p>
                <Foreign text={one.message} />
              </p>
            </div>
          </li>
        ))}
        {overlaps.map((one) => (
          <li key={`${one.a.item} ${one.b.server} ${one.b.item}`} className="py-3">
            <Mark shape="circles" tone="slate">
              same job as {one.b.server} {one.b.item}
            </Mark>
            <p className="font-mono text-sm">{one.a.item}</p>
            <p className="text-soft">{one.reasons.join("; ")}</p>
          </li>
        ))}
        {changes.length + findings.length + overlaps.length === 0 ? (
          <li className="py-3 text-soft">Nothing stands out.</li>
        ) : null}
      </ul>
      {assessment.base && assessment.base !== "first" ? (
        <p className="mt-4">
          <Link to={`/compare?old=${assessment.base}&new=${request.server}@${request.version}`}>
            Compare with {assessment.base}
          </Link>
        </p>
      ) : null}
    </section>
  );
}

const FACTS: [string, string][] = [
  ["worst_impact", "worst impact"],
  ["silent_changes", "silent changes"],
  ["errors", "errors"],
  ["warnings", "warnings"],
  ["safety_findings", "safety findings"],
  ["newly_writing_tools", "newly writing tools"],
  ["same_job_overlaps", "overlaps without a ruling"],
  ["data_class", "data class"],
  ["transports", "transport"],
  ["origin", "origin"],
  ["tokens", "tokens, about"],
];

function Facts({ assessment }: { assessment: Assessment }) {
  const version = assessment.next_version;
  return (
    <section aria-labelledby="facts">
      <h2 id="facts" className="mb-2 text-xl">
        Facts
      </h2>
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
        <dt className="text-soft">version</dt>
        <dd>
          submitted {version.declared}
          {version.honest ? `, honest ${version.honest}` : ", first release"}
        </dd>
        {FACTS.map(([name, words]) => (
          <div key={name} className="contents">
            <dt className="text-soft">{words}</dt>
            <dd>{fact(assessment.facts[name])}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

function fact(value: Assessment["facts"][string] | undefined): string {
  if (value === null || value === undefined) return "none";
  if (Array.isArray(value)) return value.join(", ") || "none";
  if (typeof value === "boolean") return value ? "yes" : "no";
  return typeof value === "number" ? value.toLocaleString("en") : value;
}

function SignOffs({ request }: { request: RequestDetail }) {
  if (request.sign_offs.length === 0) return null;
  return (
    <section aria-labelledby="sign-offs">
      <h2 id="sign-offs" className="mb-2 text-xl">
        Sign-offs
      </h2>
      <ul className="space-y-3">
        {request.sign_offs.map((one) => (
          <li key={`${one.name} ${one.at}`}>
            <p>
              <strong>{one.name}</strong> at {one.desk}: {one.answer.replace("-", " ")}
              {one.voided ? " (voided)" : ""} <span className="text-soft">{when(one.at)}</span>
            </p>
            {one.note ? (
              <p>
                “<Foreign text={one.note} />”
              </p>
            ) : null}
          </li>
        ))}
      </ul>
    </section>
  );
}
