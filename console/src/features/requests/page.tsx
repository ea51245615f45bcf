/** One request: its route as a line of desks, what to look at first, facts, and answers. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { Answer, KitHit, RequestDetail } from "../../api/types";
import { termsOf } from "../../lib/asks";
import { itemPath, short, when } from "../../lib/text";
import { Hits, hitWords } from "../../ui/hits";
import { StateMark } from "../../ui/marks";
import { Foreign, Heading, Loaded, Trouble } from "../../ui/parts";
import { AnswerDialog } from "./answer";
import { Facts, SignOffs } from "./facts";
import { First } from "./first";
import { LastLookPanel } from "./last-look";
import { RouteLine } from "./route";
import { Talk } from "./talk";

export function Component() {
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
  const take = useMutation({
    mutationFn: (handOn: boolean) => acts.take(request.id, handOn),
    onSettled: settle,
  });
  const trouble = publish.error ?? takeBack.error ?? take.error;
  function confirmTakeBack() {
    const draft = request.kind === "publish" ? " Its release becomes a draft." : "";
    if (window.confirm(`Take this request back?${draft}`)) takeBack.mutate();
  }
  return (
    <>
      <Heading
        title={`Request ${request.id}: ${request.title}`}
        aside={
          <>
            {request.may_take_back ? (
              <button type="button" className="button" onClick={confirmTakeBack}>
                Take back
              </button>
            ) : null}
            {request.may_take || request.may_hand_on ? (
              <button
                type="button"
                className="button"
                disabled={take.isPending}
                onClick={() => take.mutate(request.may_hand_on)}
              >
                {request.may_hand_on ? "Unassign" : "Assign to me"}
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
        <StateMark state={request.state} />{" "}
        <span className="ml-2">
          asked by {request.opened_by} ({request.terms.team ?? request.team}) on{" "}
          {when(request.opened_at)}
          <About request={request} />
          {request.taken_by ? `; ${request.taken_by} looks at it` : ""}
        </span>
        <Terms request={request} />
        {request.note ? (
          <span className="mt-1 block">
            “<Foreign text={request.note} />”
          </span>
        ) : null}
      </Heading>
      {trouble ? (
        <div className="mb-4">
          <Trouble error={trouble} />
        </div>
      ) : null}
      {request.warnings.map((one) => (
        <p key={one} className="mb-4 border-l-4 border-amber bg-amber-wash px-4 py-2">
          {one}
        </p>
      ))}
      {request.suspended_because ? (
        <p className="mb-4 border-l-4 border-brick bg-brick-wash px-4 py-2">
          It is suspended: <Foreign text={request.suspended_because} />
        </p>
      ) : null}
      <Questions request={request} />
      <Moved request={request} />
      {request.last_look ? <LastLookPanel request={request} look={request.last_look} /> : null}
      <Told request={request} />
      <RouteLine request={request} />
      <div className="mt-8 grid gap-10 lg:grid-cols-[2fr_1fr]">
        <First request={request} />
        <div className="space-y-8">
          <HitKits hits={request.kits} />
          <Facts assessment={request.assessment} />
          <SignOffs signOffs={request.sign_offs} />
          <Talk request={request} />
        </div>
      </div>
      <AnswerDialog request={request} answer={answering} onClose={() => setAnswering(null)} />
    </>
  );
}

/** The questions that block agreement, each leading to where it is answered. */
function Questions({ request }: { request: RequestDetail }) {
  const open = request.comments.filter(
    (one) => ["question", "objection"].includes(one.kind) && !one.settled,
  );
  return open.map((one) => (
    <p key={one.id} className="mb-4 border-l-4 border-amber bg-amber-wash px-4 py-2">
      Nobody agrees until {one.name} is answered: “<Foreign text={one.text} />”{" "}
      <a href="#talk">To the comments</a>
    </p>
  ));
}

/** What of it one sees, where that is not all; and the teams that are told, until when they may object. */
function Told({ request }: { request: RequestDetail }) {
  const undecided = ["open", "sent-back", "agreed"].includes(request.state);
  return (
    <>
      {request.restricted_to ? (
        <p className="mb-4 border-l-4 border-slate bg-slate-wash px-4 py-2">
          You see what reaches your kits: {request.restricted_to.join(", ") || "nothing any more"}.
        </p>
      ) : null}
      {undecided
        ? request.tells.map((one) => (
            <p key={one.team} className="mb-4 border-l-4 border-slate bg-slate-wash px-4 py-2">
              The team {one.team} may object{" "}
              {new Date(one.until) < new Date() ? "no more, since" : "until"} {when(one.until)}:{" "}
              <Foreign text={one.reasons.join("; ")} />
            </p>
          ))
        : null}
    </>
  );
}

/** The kits that it would hit. */
function HitKits({ hits }: { hits: KitHit[] }) {
  if (!hits.length) return null;
  return (
    <section aria-labelledby="hits">
      <h2 id="hits" className="mb-2 text-xl">
        It hits {hitWords(hits)}
      </h2>
      <Hits hits={hits} />
    </section>
  );
}

/** The release that a request is about, as a link. */
function About({ request }: { request: RequestDetail }) {
  if (request.about === null) return null;
  const [server = "", version = ""] = request.about.split("@");
  return (
    <>
      {request.kind === "publish" ? ", over release " : ", assessed on "}
      <Link to={itemPath(server, version)} className="font-mono">
        {request.kind === "publish" ? short(request.release_digest) : request.about}
      </Link>
    </>
  );
}

/** What else is asked for. */
function Terms({ request }: { request: RequestDetail }) {
  const words = termsOf(request.terms);
  return words.length ? <span className="mt-1 block">{words.join("; ")}</span> : null;
}

/** What the assessment rests on and has moved since; it is assessed anew by itself, or here at once. */
function Moved({ request }: { request: RequestDetail }) {
  const client = useQueryClient();
  const assess = useMutation({
    mutationFn: () => acts.assess(request.id),
    onSuccess: () => client.invalidateQueries(),
  });
  if (request.moved.length === 0) return null;
  return (
    <div className="mb-4 border-l-4 border-amber bg-amber-wash px-4 py-2">
      <p>
        What this was assessed by has moved since: {request.moved.join(", ")}. It is being assessed
        anew; where something else is found by it, whoever agreed is asked once more.
      </p>
      <button
        type="button"
        className="button mt-2"
        data-size="small"
        disabled={assess.isPending}
        onClick={() => assess.mutate()}
      >
        Assess again
      </button>
      {assess.error ? <Trouble error={assess.error} /> : null}
    </div>
  );
}
