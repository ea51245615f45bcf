/** Small helpers for text that people read. */

export const plural = (count: number, noun: string): string =>
  `${count.toLocaleString("en")} ${noun}${count === 1 ? "" : "s"}`;

export const short = (digest: string): string => digest.replace(/^sha256:/, "").slice(0, 12);

const moment = new Intl.DateTimeFormat("en-GB", {
  day: "numeric",
  month: "long",
  hour: "2-digit",
  minute: "2-digit",
  timeZone: "UTC",
});

export const when = (iso: string | null): string =>
  iso ? `${moment.format(new Date(iso))} UTC` : "";

const date = new Intl.DateTimeFormat("en-GB", {
  day: "numeric",
  month: "short",
  year: "numeric",
  timeZone: "UTC",
});

export const day = (iso: string | null): string => (iso ? date.format(new Date(iso)) : "");

const HIDDEN = /[\p{Cc}\p{Cf}\p{Co}\p{Cn}\p{Zl}\p{Zp}\p{Default_Ignorable_Code_Point}\u2800]/u;
/** One selector of a variant after a sign that has variants is part of how that is written. */
const VARIANT = /^[\p{Extended_Pictographic}\p{Script=Han}0-9#*]\p{Variation_Selector}$/u;

/** What is surely a token; the finding about it says so, and nobody needs to read it. */
const TOKEN =
  /\b(tls_|gh[pousr]_|github_pat_|glpat-|xox[abprs]-|[sr]k_(?:live|test)_|AKIA|AIza)[A-Za-z0-9_-]{12,}/g;

export const masked = (text: string): string => text.replace(TOKEN, "$1…");

export interface Piece {
  at: number;
  text: string;
  hidden: boolean;
}

/** Split a text so that what nobody would see can be shown as visible escapes. */
export function visible(text: string): Piece[] {
  const pieces: Piece[] = [];
  let at = 0;
  let before = "";
  for (const one of masked(text)) {
    const hidden = HIDDEN.test(one) && !"\n\t\r".includes(one) && !VARIANT.test(before + one);
    before = one;
    const shown = hidden
      ? `U+${one.codePointAt(0)?.toString(16).toUpperCase().padStart(4, "0")} `
      : one;
    const last = pieces.at(-1);
    if (last && last.hidden === hidden) last.text += shown;
    else pieces.push({ at, text: shown, hidden });
    at += one.length;
  }
  return pieces;
}

/** Write a JSON value on one line that can be broken between members. */
export const spaced = (value: unknown): string =>
  JSON.stringify(value, null, 1).replace(/\n\s*/g, " ");

/** Write how long ago or ahead a moment is, in the largest unit that says something. */
export function fromNow(iso: string, now: Date): string {
  const seconds = (new Date(iso).getTime() - now.getTime()) / 1000;
  const units: [Intl.RelativeTimeFormatUnit, number][] = [
    ["day", 86_400],
    ["hour", 3_600],
    ["minute", 60],
  ];
  const [unit, size] = units.find(([, one]) => Math.abs(seconds) >= one) ?? ["minute", 60];
  return relative.format(Math.round(seconds / size), unit);
}

const relative = new Intl.RelativeTimeFormat("en", { numeric: "auto" });

/** Write the path to an item of a release, or to the release. */
export const itemPath = (slug: string, version: string, item = ""): string =>
  `/servers/${encodeURIComponent(slug)}/${encodeURIComponent(version)}${item ? `#${encodeURIComponent(item)}` : ""}`;
