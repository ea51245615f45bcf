/** Who is asked, and why: the routing rules, what others would have done, and the desks. */

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { DeskRow, Routing } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { day, when } from "../../lib/text";
import { type Consent, ConsentButtons, ConsentDialog } from "../../ui/answer";
import { Code, Empty, Foreign, Heading, Loaded } from "../../ui/parts";
import { ProposalEditor } from "../../ui/proposal";
import { DataTable } from "../../ui/table";
import { Tabs } from "../../ui/tabs";
import { VersionState, versionColumns } from "../../ui/versions";
import { REQUEST_PAGES } from "../requests/pages";
import { Loosened } from "../style/effect";
import { Rehearsal } from "./rehearsal";

const DAYS = 90;

export function Component() {
  const [read] = useParamsOf();
  const version = read("version");
  const routing = useQuery(queries.routing(version));
  const versions = useQuery(queries.routingVersions());
  const desks = useQuery(queries.desks());
  return (
    <>
      <Heading title="Routing and desks">
        A request reaches those who must agree, and nobody else: each rule whose conditions hold
        asks its desk.
      </Heading>
      <Tabs label="Requests" pages={REQUEST_PAGES} />
      <Loaded query={routing}>
        {(found) => <Rules key={found.version} routing={found} chosen={version !== ""} />}
      </Loaded>
      <section aria-labelledby="desks" className="mt-10">
        <h2 id="desks" className="mb-2 text-xl">
          Desks
        </h2>
        <Loaded query={desks}>{(rows) => <Desks rows={rows} />}</Loaded>
      </section>
      <section aria-labelledby="history" className="mt-10">
        <h2 id="history" className="mb-2 text-xl">
          Versions
        </h2>
        <Loaded query={versions}>
          {(rows) =>
            rows.length ? (
              <DataTable
                label="Versions of the routing rules"
                columns={versionColumns("/routing")}
                rows={rows}
                rowKey={(row) => row.version}
                sort="-version"
              />
            ) : (
              <p className="text-soft">The rules that ship with the service are in force.</p>
            )
          }
        </Loaded>
      </section>
    </>
  );
}

function Rules({ routing, chosen }: { routing: Routing; chosen: boolean }) {
  const [answer, setAnswer] = useState<Consent | null>(null);
  const label = "The routing rules as TOML";
  return (
    <section aria-label={`Version ${routing.version}`}>
      <div className="mb-3 flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <VersionState state={routing.state} />
        <span>
          Version {routing.version}
          {routing.at ? `, by ${routing.by} on ${when(routing.at)}` : ""}
          {routing.agreed_by ? `, agreed to by ${routing.agreed_by}` : ""}
        </span>
        <span className="text-soft">
          “<Foreign text={routing.note} />”
        </span>
        {chosen ? <Link to="/routing">The ones in force</Link> : null}
      </div>
      {routing.loosened.length && (chosen || routing.state === "proposed") ? (
        <Loosened title="They ask less than the version before" words={routing.loosened} />
      ) : null}
      {routing.may_answer ? <ConsentButtons onAnswer={setAnswer} /> : null}
      {routing.may_change && !chosen ? (
        <ProposalEditor
          text={routing.text}
          label={label}
          hint="Each rule has a name, a desk, a reason, and the conditions under which it asks."
          ask={`Try on the last ${DAYS} days`}
          onPreview={(text) => acts.tryRouting(text, DAYS)}
          onSave={(text, note) => acts.applyRouting({ text, note, seen: routing.version })}
        >
          {(rehearsal) => <Rehearsal rehearsal={rehearsal} days={DAYS} />}
        </ProposalEditor>
      ) : (
        <Code label={label} text={routing.text} />
      )}
      <ConsentDialog
        what={`version ${routing.version}`}
        answer={answer}
        onAnswer={(given, note) => acts.answerRouting(routing.version, { answer: given, note })}
        onClose={() => setAnswer(null)}
      />
    </section>
  );
}

function Desks({ rows }: { rows: DeskRow[] }) {
  if (rows.length === 0) return <Empty>There is no desk yet.</Empty>;
  return (
    <ul className="grid gap-4 sm:grid-cols-2 lg:grid-cols-3">
      {rows.map((desk) => (
        <li key={desk.desk} className="border border-rule bg-sheet p-4">
          <h3 className="font-serif text-lg font-semibold">{desk.title}</h3>
          <p className="font-mono text-sm text-soft">{desk.desk}</p>
          {desk.lead ? <p>led by {desk.lead}</p> : null}
          <ul className="mt-2">
            {desk.members.map((one) => (
              <li key={one.username}>
                {one.name} <span className="text-sm text-soft">since {day(one.since)}</span>
              </li>
            ))}
          </ul>
          {desk.members.length === 0 ? <p className="text-soft">nobody sits here</p> : null}
          {desk.owner_team_excluded ? null : (
            <p className="mt-2 text-sm text-soft">Members of the owner team may sign here.</p>
          )}
        </li>
      ))}
    </ul>
  );
}
