/** The releases of a server, to scale in time; the shape of each says the worst of its step. */

import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import type { TimelineStep } from "../../api/types";
import { day, plural } from "../../lib/text";
import { spread } from "../../lib/timeline";
import { ImpactMark } from "../../ui/marks";

/** How many releases stand on the line, and up to how many there is room for a label at each. */
const MOST = 24;
const LABELLED = 6;

export function Timeline({ slug }: { slug: string }) {
  const timeline = useQuery(queries.timeline(slug));
  const all = timeline.data?.steps ?? [];
  const steps = all.slice(-MOST);
  if (steps.length < 2) return null;
  const placed = spread(
    steps.map((step) => new Date(step.at).getTime()),
    9,
  );
  return (
    <section aria-labelledby="timeline">
      <h2 id="timeline" className="mb-2 text-xl">
        In time
      </h2>
      <ol
        className="relative mx-2 mt-6 mb-12 h-1 rounded-full bg-board"
        aria-label="Releases in time"
      >
        {steps.map((step, index) => (
          <li
            key={step.version}
            className="absolute top-1/2 -translate-x-1/2"
            style={{ left: `${4 + 0.92 * (placed[index] ?? 0)}%` }}
          >
            <Link
              to={to(slug, step)}
              className="block -translate-y-1/2 rounded-full bg-sheet p-1 no-underline"
              title={said(step)}
              aria-label={said(step)}
            >
              <Dot step={step} />
            </Link>
            <span
              aria-hidden="true"
              className="absolute top-3.5 left-1/2 -translate-x-1/2 text-center text-xs whitespace-nowrap"
            >
              {steps.length <= LABELLED ? (
                <>
                  <span className="block font-mono">{step.version}</span>
                  <span className="hidden text-soft sm:block">{word(step)}</span>
                </>
              ) : null}
            </span>
          </li>
        ))}
      </ol>
      <p className="flex justify-between text-sm text-soft" aria-hidden="true">
        <span>
          {day(steps[0]?.at ?? null)}
          {all.length > MOST ? `, the last ${MOST} of ${all.length} releases` : ""}
        </span>
        <span>{day(steps.at(-1)?.at ?? null)}</span>
      </p>
    </section>
  );
}

function Dot({ step }: { step: TimelineStep }) {
  return (
    <span className="block size-5 overflow-hidden [&_span_span]:sr-only [&_svg]:m-[3px]">
      <ImpactMark
        impact={step.impact ?? "compatible"}
        silent={step.silent > 0 && step.impact === "caution"}
        reach={[]}
      />
    </span>
  );
}

function word(step: TimelineStep): string {
  if (!step.since) return "the first";
  if (step.silent && step.impact === "caution") return "silent";
  return step.impact ?? "no changes";
}

function said(step: TimelineStep): string {
  const what = step.since
    ? `${word(step)}, ${plural(step.changes, "change")} since ${step.since}`
    : word(step);
  return `${step.version}, ${day(step.at)}: ${what}`;
}

const to = (slug: string, step: TimelineStep): string =>
  step.since
    ? `/compare?old=${slug}@${step.since}&new=${slug}@${step.version}`
    : `/servers/${slug}/${step.version}`;
