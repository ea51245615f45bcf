import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { CommentRow, RequestDetail } from "../../api/types";
import { itemPath, when } from "../../lib/text";
import { Select, TextArea, TextField } from "../../ui/form";
import { Mark } from "../../ui/marks";
import { Foreign, Trouble } from "../../ui/parts";

/** What was said on a request: remarks, questions that block, answers; each where it belongs. */
export function Talk({ request }: { request: RequestDetail }) {
  if (request.comments.length === 0 && !request.may_comment) return null;
  return (
    <section aria-labelledby="talk">
      <h2 id="talk" className="mb-2 text-xl">
        Comments
      </h2>
      <ul className="space-y-4">
        {request.comments.map((one) => (
          <Said key={one.id} request={request} one={one} />
        ))}
      </ul>
      {request.may_comment ? <Say request={request} /> : null}
    </section>
  );
}

function Said({ request, one }: { request: RequestDetail; one: CommentRow }) {
  const [answering, setAnswering] = useState(false);
  const blocks = one.kind === "question" || one.kind === "objection";
  const open = blocks && !one.settled;
  return (
    <li className={`border-l-4 pl-4 ${open ? "border-amber" : "border-rule"}`}>
      <p className="flex flex-wrap items-baseline gap-x-3">
        <strong>{one.name}</strong>
        {blocks ? (
          <Mark shape={open ? "tab" : "disc"} tone={open ? "amber" : "moss"}>
            {open ? `${one.kind}, blocks agreement` : `${one.kind}, answered`}
          </Mark>
        ) : null}
        <span className="text-sm text-soft">{when(one.at)}</span>
      </p>
      {one.item ? <Place request={request} one={one} /> : null}
      <p>
        <Foreign text={one.text} />
      </p>
      {one.answers.map((each) => (
        <p key={each.id} className="mt-1 ml-4">
          <strong>{each.name}</strong> answers: <Foreign text={each.text} />{" "}
          <span className="text-sm text-soft">{when(each.at)}</span>
        </p>
      ))}
      {request.may_comment && !answering ? (
        <button type="button" className="plain text-sm" onClick={() => setAnswering(true)}>
          Answer<span className="sr-only"> {one.name}</span>
        </button>
      ) : null}
      {answering ? (
        <AnswerForm request={request} comment={one.id} onDone={() => setAnswering(false)} />
      ) : null}
    </li>
  );
}

const STANDS = { there: "", otherwise: "reads otherwise now; then: ", gone: "is gone; then: " };

function Place({ request, one }: { request: RequestDetail; one: CommentRow }) {
  const stands = one.place ?? "there";
  const release = (request.about ?? "@").split("@");
  return (
    <p className="text-sm wrap-anywhere">
      <Link
        to={itemPath(release[0] ?? "", release[1] ?? "", one.item === "server" ? "" : one.item)}
        className="font-mono"
      >
        {one.item}
        {one.pointer}
      </Link>{" "}
      <span className="text-soft">
        {STANDS[stands]}
        {one.quoted ? (
          <>
            “<Foreign text={one.quoted.slice(0, 120)} />
            {one.quoted.length > 120 ? "…" : ""}”
          </>
        ) : null}
      </span>
    </p>
  );
}

function AnswerForm({
  request,
  comment,
  onDone,
}: {
  request: RequestDetail;
  comment: number;
  onDone: () => void;
}) {
  const client = useQueryClient();
  const answer = useMutation({
    mutationFn: (text: string) => acts.answerComment(request.id, comment, text),
    onSuccess: (found) => {
      client.setQueryData(["request", String(request.id)], found);
      client.invalidateQueries({ queryKey: ["inbox"] });
      onDone();
    },
  });
  function send(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    answer.mutate(String(new FormData(event.currentTarget).get("text") ?? ""));
  }
  return (
    <form onSubmit={send} className="mt-2 space-y-2">
      <TextArea label="Your answer" name="text" rows={2} required maxLength={4000} />
      {answer.error ? <Trouble error={answer.error} /> : null}
      <button type="submit" className="button" data-size="small" disabled={answer.isPending}>
        Answer
      </button>
    </form>
  );
}

function Say({ request }: { request: RequestDetail }) {
  const client = useQueryClient();
  const say = useMutation({
    mutationFn: (body: Parameters<typeof acts.comment>[1]) => acts.comment(request.id, body),
    onSuccess: (found) => client.setQueryData(["request", String(request.id)], found),
  });
  function send(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const sent = event.currentTarget;
    const form = new FormData(sent);
    const text = (name: string) => String(form.get(name) ?? "").trim();
    const item = text("item");
    say.mutate(
      {
        text: text("text"),
        kind: form.get("objection") ? "objection" : form.get("question") ? "question" : "remark",
        item,
        pointer: item ? text("pointer") : "",
      },
      { onSuccess: () => sent.reset() },
    );
  }
  return (
    <form onSubmit={send} className="mt-4 space-y-3 border border-rule bg-sheet p-4">
      <TextArea label="Comment" name="text" rows={2} required maxLength={4000} />
      {request.about ? <Where about={request.about} /> : null}
      {request.may_question ? (
        <label className="flex min-h-10 items-center gap-2">
          <input type="checkbox" name="question" className="size-4 accent-act" />A question: nobody
          agrees until it is answered
        </label>
      ) : null}
      {request.tells.some((one) => one.may_object) ? (
        <label className="flex min-h-10 items-center gap-2">
          <input type="checkbox" name="objection" className="size-4 accent-act" />
          An objection of your team: it waits until this is answered
        </label>
      ) : null}
      {say.error ? <Trouble error={say.error} /> : null}
      <button type="submit" className="button" data-size="small" disabled={say.isPending}>
        Post
      </button>
    </form>
  );
}

/** Which item of the release a comment is on, and where in it. */
function Where({ about }: { about: string }) {
  const [server = "", version = ""] = about.split("@");
  const items = useQuery(queries.items(server, version));
  const names = ["server", ...(items.data?.items ?? []).map((one) => one.item)];
  return (
    <div className="grid gap-3 sm:grid-cols-2">
      <Select
        label="On"
        name="item"
        choices={[["", "the request"], ...names.map((one) => [one, one] as const)]}
      />
      <TextField
        label="Where in it"
        name="pointer"
        className="font-mono"
        hint="Such as /description; may be left out."
      />
    </div>
  );
}
