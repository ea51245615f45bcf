/** Marks: a shape and a word for every impact, level and state; never colour alone. */

import type { ReactNode } from "react";
import type { Impact, Level } from "../api/types";

const SHAPES: Record<string, ReactNode> = {
  diamond: <path d="M8 1l7 7-7 7-7-7z" />,
  triangle: <path d="M8 2l7 12H1z" />,
  silent: (
    <>
      <path d="M8 2l7 12H1z" />
      <path d="M1 3l14 12" stroke="var(--sheet)" strokeWidth="4" />
      <path d="M1 3l14 12" stroke="currentColor" strokeWidth="1.6" />
    </>
  ),
  disc: <circle cx="8" cy="8" r="6" />,
  ring: <circle cx="8" cy="8" r="5.2" fill="none" stroke="currentColor" strokeWidth="2.2" />,
  square: <path d="M2 2h12v12H2z" />,
  half: (
    <>
      <path d="M3 3h10v10H3z" fill="none" stroke="currentColor" strokeWidth="2" />
      <path d="M2 2h6v12H2z" />
    </>
  ),
  open: <path d="M3 3h10v10H3z" fill="none" stroke="currentColor" strokeWidth="2" />,
  circles: (
    <g fill="none" stroke="currentColor" strokeWidth="2">
      <circle cx="6" cy="8" r="4.5" />
      <circle cx="10" cy="8" r="4.5" />
    </g>
  ),
  back: <path d="M14 4v5H4M8 4L3.5 9 8 14" fill="none" stroke="currentColor" strokeWidth="2.2" />,
  cross: <path d="M3 3l10 10M13 3L3 13" fill="none" stroke="currentColor" strokeWidth="2.6" />,
  tab: <path d="M3 4h10v9H3z M3 4v9 M1 13h14" fill="none" stroke="currentColor" strokeWidth="2" />,
  dashed: (
    <path
      d="M3 3h10v10H3z"
      fill="none"
      stroke="currentColor"
      strokeWidth="2"
      strokeDasharray="3 2"
    />
  ),
  hatched: (
    <g stroke="currentColor" strokeWidth="2">
      <path d="M2 2h12v12H2z" fill="none" strokeWidth="1.5" />
      <path d="M3 9l6-6M4 13l9-9M8 14l6-6" strokeWidth="1.5" />
    </g>
  ),
  ribbon: <path d="M4 1h8v14l-4-4-4 4z" />,
};

export type Tone = "brick" | "amber" | "moss" | "slate" | "soft";
const TONES: Record<Tone, string> = {
  brick: "text-brick",
  amber: "text-amber",
  moss: "text-moss",
  slate: "text-slate",
  soft: "text-soft",
};

export function Mark({
  shape,
  tone,
  children,
}: {
  shape: string;
  tone: Tone;
  children: ReactNode;
}) {
  return (
    <span className={`inline-flex items-center gap-1.5 font-semibold ${TONES[tone]}`}>
      <svg viewBox="0 0 16 16" className="size-3.5 shrink-0" fill="currentColor" aria-hidden="true">
        {SHAPES[shape]}
      </svg>
      <span>{children}</span>
    </span>
  );
}

const IMPACTS: Record<Impact, [string, Tone]> = {
  breaking: ["diamond", "brick"],
  undecided: ["ring", "slate"],
  caution: ["triangle", "amber"],
  compatible: ["disc", "moss"],
};

export function ImpactMark({
  impact,
  silent,
  reach,
}: {
  impact: Impact;
  silent: boolean;
  reach: string[];
}) {
  const [shape, tone] = silent ? (["silent", "amber"] as const) : IMPACTS[impact];
  const whom = reach.length ? ` for ${reach.join(", ")}` : "";
  return (
    <Mark shape={shape} tone={tone}>
      {(silent ? "silent" : impact) + whom}
    </Mark>
  );
}

const LEVELS: Record<Level, [string, Tone]> = {
  error: ["square", "brick"],
  warning: ["half", "amber"],
  note: ["open", "slate"],
};

export function LevelMark({ level, children }: { level: Level; children?: ReactNode }) {
  const [shape, tone] = LEVELS[level];
  return (
    <Mark shape={shape} tone={tone}>
      {children ?? level}
    </Mark>
  );
}

const STATES: Record<string, [string, Tone]> = {
  draft: ["open", "soft"],
  "in-review": ["ribbon", "amber"],
  published: ["disc", "moss"],
  deprecated: ["hatched", "soft"],
  withdrawn: ["cross", "soft"],
  declined: ["cross", "brick"],
  suspended: ["dashed", "brick"],
  open: ["ribbon", "amber"],
  "sent-back": ["back", "amber"],
  agreed: ["disc", "moss"],
  done: ["disc", "moss"],
  "taken-back": ["open", "soft"],
  empty: ["open", "soft"],
  adopted: ["ring", "slate"],
  mine: ["tab", "amber"],
};
const WORDS: Record<string, string> = {
  empty: "no release yet",
  adopted: "adopted, not reviewed",
  mine: "waits for you",
};

export function StateMark({ state }: { state: string }) {
  const [shape, tone] = STATES[state] ?? (["open", "soft"] as const);
  return (
    <Mark shape={shape} tone={tone}>
      {WORDS[state] ?? state.replace("-", " ")}
    </Mark>
  );
}
