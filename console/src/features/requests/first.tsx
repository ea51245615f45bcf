import { Link } from "react-router";
import type { Finding, Overlap, RequestDetail } from "../../api/types";
import { itemPath } from "../../lib/text";
import { GroupNote } from "../../ui/changes-summary";
import { LevelMark, Mark } from "../../ui/marks";
import { Foreign } from "../../ui/parts";
import { MeaningRulings } from "../overlap/meaning";
import { OverlapMark, Ruled } from "../overlap/parts";

const LEVELS = ["error", "warning", "note"];

/** What a reviewer should look at first: what fails the check, then changes, findings and overlaps. */
export function First({ request }: { request: RequestDetail }) {
  const { assessment } = request;
  // An act on what is published changes none of its items.
  const publishes = request.kind === "publish";
  const groups = (publishes ? (request.changes_summary?.groups ?? []) : []).filter(
    (one) => one.impact !== "compatible",
  );
  const findings = assessment.findings
    .filter((one) => !one.waived && !one.known)
    .sort((left, right) => LEVELS.indexOf(left.level) - LEVELS.indexOf(right.level));
  const overlaps = (assessment.overlaps ?? []).filter((one) => one.class === "same-job");
  const compare =
    publishes && assessment.base && assessment.base !== "first"
      ? `/compare?old=${assessment.base}&new=${request.server}@${request.version}`
      : "";
  return (
    <section aria-labelledby="first">
      <div className="mb-2 flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 id="first" className="text-xl">
          {publishes ? "Look at these first" : `What is found in ${request.about ?? "it"}`}
        </h2>
        {compare ? <Link to={compare}>Compare with {assessment.base}</Link> : null}
      </div>
      <Verdict passed={assessment.passed} because={assessment.because} />
      <ul className="divide-y divide-rule border-y border-rule">
        {groups.map((one) => (
          <li key={`${one.kind} ${one.message} ${one.places[0]?.item}`} className="py-3">
            {one.places.length === 1 ? (
              <Where request={request} item={one.places[0]?.item ?? ""} />
            ) : null}
            <MeaningRulings
              release={`${request.server}@${request.version}`}
              base={assessment.base?.split("@")[1] ?? ""}
            >
              <GroupNote group={one} changes={assessment.changes ?? []} />
            </MeaningRulings>
          </li>
        ))}
        {findings.map((one) => (
          <FindingRow
            key={`${one.fingerprint} ${one.span} ${one.message}`}
            request={request}
            finding={one}
          />
        ))}
        {overlaps.map((one) => (
          <OverlapRow
            key={`${one.a.item} ${one.b.server} ${one.b.item}`}
            request={request}
            one={one}
          />
        ))}
        {groups.length + findings.length + overlaps.length === 0 ? (
          <li className="py-3 text-soft">Nothing stands out.</li>
        ) : null}
      </ul>
    </section>
  );
}

function Verdict({ passed, because }: { passed: boolean; because: string[] }) {
  if (passed) {
    return (
      <p className="mb-3">
        <Mark shape="disc" tone="moss">
          the check passes
        </Mark>
      </p>
    );
  }
  return (
    <div className="mb-3 border-l-4 border-brick bg-brick-wash px-4 py-2">
      <p className="font-semibold">The check does not pass</p>
      <ul className="list-disc pl-5">
        {because.map((reason) => (
          <li key={reason}>
            <Foreign text={reason} />
          </li>
        ))}
      </ul>
    </div>
  );
}

function Where({ request, item }: { request: RequestDetail; item: string }) {
  return (
    <Link
      to={itemPath(request.server, versionOf(request), item === "server" ? "" : item)}
      className="font-mono text-sm wrap-anywhere"
    >
      <Foreign text={item} />
    </Link>
  );
}

/** The version that an assessment is of: for an act on a server, of its current release. */
const versionOf = (request: RequestDetail) => request.about?.split("@")[1] ?? "current";

function FindingRow({ request, finding }: { request: RequestDetail; finding: Finding }) {
  return (
    <li className="py-3">
      <Where request={request} item={finding.item} />
      <div>
        <LevelMark level={finding.level}>
          {finding.level}: {finding.rule}
        </LevelMark>
        <p>
          <Foreign text={finding.message} />
        </p>
      </div>
    </li>
  );
}

function OverlapRow({ request, one }: { request: RequestDetail; one: Overlap }) {
  return (
    <li className="py-3">
      <Where request={request} item={one.a.item} />
      <div>
        <OverlapMark overlap={one}> {one.b.server}</OverlapMark>{" "}
        <Link
          to={itemPath(one.b.server ?? "", "current", one.b.item)}
          className="font-mono text-sm wrap-anywhere"
        >
          {one.b.item}
        </Link>
      </div>
      <p className="text-soft">
        <Foreign text={one.reasons.join("; ")} />
      </p>
      <Ruled overlap={one} own={one.a} />
    </li>
  );
}
