/** The house style in force: what it says, what another would do, and how it came about. */

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { Style } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { when } from "../../lib/text";
import { type Consent, ConsentButtons, ConsentDialog } from "../../ui/answer";
import { Code, Foreign, Loaded } from "../../ui/parts";
import { ProposalEditor } from "../../ui/proposal";
import { DataTable } from "../../ui/table";
import { VersionState, versionColumns } from "../../ui/versions";
import { Effect, Loosened } from "./effect";
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
  const [answer, setAnswer] = useState<Consent | null>(null);
  const edits = style.may_change && !chosen;
  return (
    <section aria-label={`Version ${style.version}`}>
      <div className="mb-3 flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <VersionState state={style.state} />
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
      {style.read_as_same.length ? (
        <p className="mb-3 text-soft">
          Read as the same:{" "}
          <Foreign text={style.read_as_same.map((pair) => pair.join(" and ")).join(", ")} />
        </p>
      ) : null}
      {style.may_answer ? <ConsentButtons onAnswer={setAnswer} /> : null}
      {edits ? (
        <ProposalEditor
          text={style.text}
          label="The style as TOML"
          hint="Levels by rule, settings, words, hosts, patterns, and levels for single servers."
          ask="See what it would do"
          onPreview={acts.previewStyle}
          onSave={(text, note) => acts.applyStyle({ text, note, seen: style.version })}
        >
          {(effect) => <Effect effect={effect} />}
        </ProposalEditor>
      ) : (
        <Code label="The style as TOML" text={style.text} />
      )}
      <ConsentDialog
        what={`version ${style.version}`}
        answer={answer}
        onAnswer={(chosen, note) => acts.answerStyle(style.version, { answer: chosen, note })}
        onClose={() => setAnswer(null)}
      />
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
              columns={versionColumns("/style")}
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
