/** The house style in force: what it says, what another would do, and how it came about. */

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { queries } from "../../api/shelf";
import type { Style, StyleRow } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { when } from "../../lib/text";
import { Mark } from "../../ui/marks";
import { Code, Foreign, Loaded } from "../../ui/parts";
import { type Column, DataTable } from "../../ui/table";
import { AnswerStyleDialog, type StyleAnswer } from "./answer";
import { Editor } from "./editor";
import { Loosened } from "./effect";
import { StyleHeading } from "./pages";

export function Component() {
  const [read] = useParamsOf();
  const version = read("version");
  const style = useQuery(queries.style(version));
  return (
    <>
      <StyleHeading title="House style">
        Levels and settings of the rules, the word list, and the hosts in use, as TOML.
      </StyleHeading>
      <Loaded query={style}>
        {(found) => <StyleSheet key={found.version} style={found} chosen={version !== ""} />}
      </Loaded>
      <History />
    </>
  );
}

function StyleSheet({ style, chosen }: { style: Style; chosen: boolean }) {
  const [answer, setAnswer] = useState<StyleAnswer | null>(null);
  const edits = style.may_change && !chosen;
  return (
    <section aria-label={`Version ${style.version}`}>
      <div className="mb-3 flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <StyleState state={style.state} />
        <span>
          Version {style.version}
          {style.at ? `, by ${style.by} on ${when(style.at)}` : ""}
          {style.agreed_by ? `, agreed to by ${style.agreed_by}` : ""}
        </span>
        <span className="text-soft">
          “<Foreign text={style.note} />”
        </span>
        {chosen ? <Link to="/style">The one in force</Link> : null}
      </div>
      {style.loosened.length && (chosen || style.state === "proposed") ? (
        <Loosened title="It lets pass what the version before did not" words={style.loosened} />
      ) : null}
      {style.may_answer ? (
        <div className="mb-4 flex flex-wrap gap-3">
          <button
            type="button"
            className="button"
            data-kind="main"
            onClick={() => setAnswer("agree")}
          >
            Agree
          </button>
          <button
            type="button"
            className="button"
            data-kind="grave"
            onClick={() => setAnswer("decline")}
          >
            Decline
          </button>
        </div>
      ) : null}
      {edits ? <Editor style={style} /> : <Code label="The style as TOML" text={style.text} />}
      <AnswerStyleDialog style={style} answer={answer} onClose={() => setAnswer(null)} />
    </section>
  );
}

function History() {
  const styles = useQuery(queries.styles());
  return (
    <section aria-labelledby="history" className="mt-10">
      <h2 id="history" className="mb-2 text-xl">
        Versions
      </h2>
      <Loaded query={styles}>
        {(rows) =>
          rows.length ? (
            <DataTable
              label="Versions of the house style"
              columns={COLUMNS}
              rows={rows}
              rowKey={(row) => row.version}
              sort="-version"
            />
          ) : (
            <p className="text-soft">
              The default style is in force; the house has not written its own yet.
            </p>
          )
        }
      </Loaded>
    </section>
  );
}

function StyleState({ state }: { state: StyleRow["state"] }) {
  const shapes = {
    "in force": ["disc", "moss"],
    proposed: ["ribbon", "amber"],
    declined: ["cross", "brick"],
    "was in force": ["open", "soft"],
  } as const;
  const [shape, tone] = shapes[state];
  return (
    <Mark shape={shape} tone={tone}>
      {state}
    </Mark>
  );
}

const COLUMNS: Column<StyleRow>[] = [
  {
    key: "version",
    title: "Version",
    value: (row) => row.version,
    cell: (row) => (
      <Link
        to={`/style?version=${row.version}`}
        aria-label={`Version ${row.version}`}
        className="font-semibold"
      >
        {row.version}
      </Link>
    ),
  },
  {
    key: "state",
    title: "State",
    value: (row) => row.state,
    nowrap: true,
    cell: (row) => <StyleState state={row.state} />,
  },
  { key: "note", title: "Why", cell: (row) => <Foreign text={row.note} /> },
  {
    key: "by",
    title: "By",
    value: (row) => row.by,
    cell: (row) => (
      <>
        {row.by}
        {row.agreed_by ? (
          <div className="text-sm text-soft">agreed to by {row.agreed_by}</div>
        ) : null}
      </>
    ),
  },
  {
    key: "at",
    title: "At",
    value: (row) => row.at,
    nowrap: true,
    cell: (row) => when(row.at),
  },
];
