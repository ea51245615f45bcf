import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { acts } from "../../api/acts";
import type { LastLook, MovedLine, RequestDetail } from "../../api/types";
import { itemPath, when } from "../../lib/text";
import { ChangeNote, changeId } from "../../ui/changes";
import { Mark } from "../../ui/marks";
import { Foreign, Trouble } from "../../ui/parts";

const ANSWERED = { agree: "agreed", "send-back": "sent it back", decline: "declined" };

/** For a reviewer whose answer is void by now: what moved since, and agreeing again in one press. */
export function LastLookPanel({ request, look }: { request: RequestDetail; look: LastLook }) {
  const client = useQueryClient();
  const again = useMutation({
    mutationFn: () =>
      acts.answer(request.id, {
        answer: "agree",
        release_digest: request.release_digest,
        assessment_digest: request.assessment.digest,
        note: "",
        desk: look.desk,
      }),
    onSuccess: () => client.invalidateQueries(),
  });
  const moved = look.inputs.filter((one) => one !== "snapshot");
  const mayAgree = look.answer === "agree" && request.may_sign_at.includes(look.desk);
  return (
    <section aria-labelledby="last-look" className="mb-6 border-l-4 border-amber bg-amber-wash p-4">
      <div className="flex flex-wrap items-start justify-between gap-4">
        <div>
          <h2 id="last-look" className="text-xl">
            Since you {ANSWERED[look.answer]}
          </h2>
          <p>
            Your answer of {when(look.at)} at {look.desk} is void.{" "}
            {look.same_release ? "The bytes are the same" : "Another snapshot was handed in"}
            {moved.length ? `; moved: ${moved.join(", ")}` : ""}.
          </p>
        </div>
        {mayAgree ? (
          <button
            type="button"
            className="button"
            disabled={again.isPending || request.moved.length > 0}
            onClick={() => again.mutate()}
          >
            Agree again
          </button>
        ) : null}
      </div>
      {again.error ? <Trouble error={again.error} /> : null}
      <ul className="mt-2 space-y-2">
        {look.changes.map((one) => (
          <li key={changeId(one)}>
            <Place request={request} item={one.item} />
            <ChangeNote change={one} />
          </li>
        ))}
        {look.came.map((one) => (
          <Line key={`+ ${one.kind} ${one.item} ${one.words}`} request={request} line={one} came />
        ))}
        {look.went.map((one) => (
          <Line key={`- ${one.kind} ${one.item} ${one.words}`} request={request} line={one} />
        ))}
      </ul>
    </section>
  );
}

function Line({
  request,
  line,
  came = false,
}: {
  request: RequestDetail;
  line: MovedLine;
  came?: boolean;
}) {
  return (
    <li>
      <Mark shape={came ? "square" : "ring"} tone={came ? "amber" : "soft"}>
        {came ? "new" : "gone"}: {line.kind}
      </Mark>{" "}
      <Foreign text={line.words.replaceAll("`", "")} />{" "}
      {line.item ? <Place request={request} item={line.item} /> : null}
    </li>
  );
}

function Place({ request, item }: { request: RequestDetail; item: string }) {
  return (
    <Link
      to={itemPath(request.server, request.version, item === "server" ? "" : item)}
      className="font-mono text-sm wrap-anywhere"
    >
      <Foreign text={item} />
    </Link>
  );
}
