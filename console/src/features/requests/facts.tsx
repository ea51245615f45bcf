import type { Assessment, Facts as FactValues, SignOff } from "../../api/types";
import { day, when } from "../../lib/text";
import { Mark } from "../../ui/marks";
import { Foreign } from "../../ui/parts";

const FACTS: [string, string][] = [
  ["kind", "asked for"],
  ["worst_impact", "worst impact"],
  ["silent_changes", "silent changes"],
  ["errors", "errors"],
  ["warnings", "warnings"],
  ["safety_findings", "safety findings"],
  ["newly_writing_tools", "newly writing tools"],
  ["loosened_consent", "consent loosened"],
  ["kits_hit", "kits hit"],
  ["breaking_kits", "kits it breaks"],
  ["same_job_overlaps", "overlaps without a ruling"],
  ["data_class", "data class"],
  ["data_class_rises", "data class rises"],
  ["transports", "transport"],
  ["pinned", "code pinned"],
  ["origin", "origin"],
  ["tokens", "tokens, about"],
];

/** The handful of values that the route was decided by. */
export function Facts({ assessment }: { assessment: Assessment }) {
  const version = assessment.next_version;
  const facts = assessment.facts as FactValues;
  return (
    <section aria-labelledby="facts">
      <h2 id="facts" className="mb-2 text-xl">
        Facts
      </h2>
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
        <dt className="text-soft">version</dt>
        <dd>
          submitted {version.declared}
          {version.scheme === "calendar"
            ? `, declared ${version.breaking ? "" : "not "}to break`
            : version.honest
              ? `, honest ${version.honest}`
              : ", first release"}
        </dd>
        {FACTS.map(([name, words]) => (
          <div key={name} className="contents">
            <dt className="text-soft">{words}</dt>
            <dd>{said(facts[name])}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

function said(value: FactValues[string] | undefined): string {
  if (value === null || value === undefined || value === "") return "none";
  if (Array.isArray(value)) return value.map(transport).join(", ") || "none";
  if (typeof value === "boolean") return value ? "yes" : "no";
  return typeof value === "number" ? value.toLocaleString("en") : value;
}

const transport = (name: string) =>
  name === "http+sse" ? "event stream, which MCP has deprecated" : name;

export function SignOffs({ signOffs }: { signOffs: SignOff[] }) {
  if (signOffs.length === 0) return null;
  return (
    <section aria-labelledby="sign-offs">
      <h2 id="sign-offs" className="mb-2 text-xl">
        Sign-offs
      </h2>
      <ul className="space-y-3">
        {signOffs.map((one) => (
          <li key={`${one.name} ${one.at}`}>
            <p>
              <strong>{one.name}</strong> at {one.desk}: {one.answer.replace("-", " ")}
              {one.voided ? " (voided)" : ""} <span className="text-soft">{when(one.at)}</span>
            </p>
            {one.despite.map((each) => (
              <p key={each.gate} className="ml-4 text-sm">
                <Mark shape="diamond" tone="amber">
                  despite {each.gate.replaceAll("-", " ")}
                </Mark>
                : <Foreign text={each.reason} />
              </p>
            ))}
            {one.conditions.map((each) => (
              <p key={each.id} className="ml-4 text-sm">
                <Mark
                  shape={each.closed_at ? "disc" : "ring"}
                  tone={each.closed_at ? "moss" : "amber"}
                >
                  {each.closed_at ? "done" : "to be done"}
                </Mark>{" "}
                by {each.owner} until {day(each.due)}: <Foreign text={each.text} />
              </p>
            ))}
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
