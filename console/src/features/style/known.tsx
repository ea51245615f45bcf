import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { ProposedKnown } from "../../api/types";
import { plural, when } from "../../lib/text";
import { type Consent, ConsentButtons, ConsentDialog } from "../../ui/answer";
import { Foreign } from "../../ui/parts";

/** What one curator proposes to accept as known, for another to answer. */
export function ProposedKnownFindings() {
  const rows = useQuery(queries.proposedKnown()).data ?? [];
  return rows.map((row) => <Proposed key={row.id} row={row} />);
}

function Proposed({ row }: { row: ProposedKnown }) {
  const [answer, setAnswer] = useState<Consent | null>(null);
  const what = `${plural(row.findings, "finding")} of ${row.server}`;
  return (
    <section aria-label={what} className="mb-6 border-l-4 border-amber bg-amber-wash px-4 py-3">
      <p className="mb-2">
        {row.by} proposes, since {when(row.at)}, that {what} count no more: “
        <Foreign text={row.reason} />”
      </p>
      {row.may_answer ? <ConsentButtons onAnswer={setAnswer} /> : null}
      <ConsentDialog
        what={what}
        answer={answer}
        onAnswer={(chosen, note) => acts.answerKnown(row.id, chosen, note)}
        onClose={() => setAnswer(null)}
      />
    </section>
  );
}
