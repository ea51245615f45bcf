/** Waivers: those that wait for an answer first. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { WaiverRow } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { day, itemPath } from "../../lib/text";
import { FormDialog } from "../../ui/dialog";
import { SearchField, Select, TextArea } from "../../ui/form";
import { Mark, StateMark } from "../../ui/marks";
import { Empty, Foreign, Loaded, NoMatches } from "../../ui/parts";
import { type Column, DataTable } from "../../ui/table";
import { ProposedKnownFindings } from "./known";
import { StyleHeading } from "./pages";

const STATES = [
  ["", "all"],
  ["asked", "asked for"],
  ["granted", "granted"],
  ["refused", "refused"],
  ["ended", "ended"],
  ["expired", "expired"],
] as const;
type Act = "grant" | "refuse" | "end";

export function Component() {
  const waivers = useQuery(queries.waivers());
  return (
    <>
      <StyleHeading title="Waivers">
        Exceptions to rules: asked for by the owner team, granted by someone else, and only until a
        day.
      </StyleHeading>
      <ProposedKnownFindings />
      <Loaded query={waivers}>{(rows) => <Waivers rows={rows} />}</Loaded>
    </>
  );
}

function Waivers({ rows }: { rows: WaiverRow[] }) {
  const [read, write] = useParamsOf();
  const [answering, setAnswering] = useState<[WaiverRow, Act] | null>(null);
  const [state, words] = [read("state"), read("words").toLowerCase()];
  const shown = rows.filter(
    (row) =>
      (!state || row.state === state) &&
      `${row.server} ${row.item} ${row.rule}`.toLowerCase().includes(words),
  );
  return (
    <>
      <div className="mb-6 grid max-w-2xl gap-4 sm:grid-cols-2">
        <SearchField
          label="Server, item or rule"
          value={read("words")}
          onSearch={(text) => write({ words: text, page: null })}
        />
        <Select
          label="State"
          choices={STATES}
          value={state}
          onChange={(event) => write({ state: event.target.value, page: null })}
        />
      </div>
      {rows.length === 0 ? (
        <Empty>
          Nobody has asked for one. A finding on a release's page can be asked to be waived.
        </Empty>
      ) : shown.length === 0 ? (
        <NoMatches />
      ) : (
        <DataTable
          label="Waivers"
          columns={columns((row, act) => setAnswering([row, act]))}
          rows={shown}
          rowKey={(row) => row.id}
          sort="state"
        />
      )}
      <AnswerDialog answering={answering} onClose={() => setAnswering(null)} />
    </>
  );
}

const MARKS: Record<
  WaiverRow["state"],
  ["ribbon" | "disc" | "cross" | "open", "amber" | "moss" | "brick" | "soft"]
> = {
  asked: ["ribbon", "amber"],
  granted: ["disc", "moss"],
  refused: ["cross", "brick"],
  ended: ["open", "soft"],
  expired: ["open", "soft"],
};
const ORDER = STATES.map(([state]) => state as string);

const columns = (onAct: (row: WaiverRow, act: Act) => void): Column<WaiverRow>[] => [
  {
    key: "id",
    title: "No.",
    number: true,
    value: (row) => row.id,
    cell: (row) => row.id,
  },
  {
    key: "state",
    title: "State",
    value: (row) => `${row.may_answer ? 0 : 1} ${ORDER.indexOf(row.state)} ${9999999 - row.id}`,
    nowrap: true,
    cell: (row) => {
      const [shape, tone] = MARKS[row.state];
      return (
        <>
          <Mark shape={shape} tone={tone}>
            {row.state}
          </Mark>
          {row.may_answer ? (
            <div>
              <StateMark state="mine" />
            </div>
          ) : null}
        </>
      );
    },
  },
  {
    key: "for",
    title: "For",
    value: (row) => `${row.server} ${row.item}`,
    cell: (row) => (
      <>
        <Link
          to={itemPath(row.server, "current", row.item === "server" ? "" : row.item)}
          className="font-mono text-sm wrap-anywhere"
        >
          {row.server}#<Foreign text={row.item} />
        </Link>
        <div className="mt-1 text-sm">
          <Link to={`/rules#${row.rule}`} className="inline-block min-h-6 font-mono">
            {row.rule}
          </Link>
          {row.pointer === null ? "" : ` at ${row.pointer || "the item itself"}`}
        </div>
      </>
    ),
  },
  {
    key: "reason",
    title: "Reason",
    cell: (row) => (
      <>
        <Foreign text={row.reason} />
        <div className="text-sm text-soft">
          {row.asked_by}, {day(row.asked_at)}
        </div>
        {row.answered_by ? (
          <div className="text-sm text-soft">
            {row.state} by {row.answered_by}
            {row.answer_note ? (
              <>
                : <Foreign text={row.answer_note} />
              </>
            ) : null}
          </div>
        ) : null}
      </>
    ),
  },
  {
    key: "until",
    title: "Until",
    value: (row) => row.until,
    nowrap: true,
    cell: (row) => day(row.until),
  },
  {
    key: "acts",
    title: "Answer",
    nowrap: true,
    cell: (row) => (
      <span className="flex gap-2">
        {row.may_answer ? (
          <>
            <ActButton onClick={() => onAct(row, "grant")}>Grant</ActButton>
            <ActButton onClick={() => onAct(row, "refuse")}>Refuse</ActButton>
          </>
        ) : null}
        {row.may_end && !row.may_answer ? (
          <ActButton onClick={() => onAct(row, "end")}>End</ActButton>
        ) : null}
      </span>
    ),
  },
];

function ActButton({ onClick, children }: { onClick: () => void; children: string }) {
  return (
    <button type="button" className="button" data-size="small" onClick={onClick}>
      {children}
    </button>
  );
}

const WORDS: Record<Act, { title: string; about: string }> = {
  grant: {
    title: "Grant",
    about: "The finding is set aside until that day, and counts again after it.",
  },
  refuse: { title: "Refuse", about: "The finding goes on counting." },
  end: { title: "End", about: "The finding counts again at once." },
};

function AnswerDialog({
  answering,
  onClose,
}: {
  answering: [WaiverRow, Act] | null;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const [row, act] = answering ?? [null, "grant" as Act];
  const words = WORDS[act];
  const send = useMutation({
    mutationFn: (form: FormData) =>
      acts.answerWaiver(row?.id ?? 0, { answer: act, note: String(form.get("note") ?? "") }),
    onSuccess: () => {
      client.invalidateQueries();
      onClose();
    },
  });
  return (
    <FormDialog
      title={`${words.title} waiver ${row?.id ?? ""}`}
      open={answering !== null}
      onClose={onClose}
      onSend={send.mutate}
      send={words.title}
      grave={act !== "grant"}
      busy={send.isPending}
      error={send.error}
    >
      {row ? (
        <p>
          <span className="font-mono">{row.rule}</span> at{" "}
          <span className="font-mono wrap-anywhere">
            {row.server}#<Foreign text={row.item} />
          </span>{" "}
          until {day(row.until)}: “<Foreign text={row.reason} />”
        </p>
      ) : null}
      <p>{words.about}</p>
      <TextArea
        label={act === "grant" ? "Note (optional)" : "Why"}
        name="note"
        required={act !== "grant"}
        maxLength={2000}
      />
    </FormDialog>
  );
}
