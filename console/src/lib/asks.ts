/** What requests ask for, in words. */

import type { RequestDetail, RequestKind } from "../api/types";
import { day } from "./text";

export interface Asked {
  kind: RequestKind;
  server: string;
  version: string;
  item: string;
}

const VERBS: Record<RequestKind, string> = {
  publish: "publish",
  deprecate: "deprecate",
  withdraw: "withdraw",
  lift: "lift the suspension of",
  "data-class": "change the data class of",
};

export const VERB_CHOICES = (Object.keys(VERBS) as RequestKind[]).map(
  (kind) => [kind, VERBS[kind]] as const,
);

/** Return what a request is about: a release, a server, or an item of one. */
export const subjectOf = (one: Asked): string =>
  [one.server, one.version, one.item].filter(Boolean).join(" ");

export const verbOf = (kind: RequestKind): string => VERBS[kind];

/** Return what else is asked for, in words. */
export const termsOf = (terms: RequestDetail["terms"]): string[] =>
  [
    terms.data_class ? `from ${terms.data_class_before} to ${terms.data_class}` : "",
    terms.sunset_at ? `not to be used after ${day(terms.sunset_at)}` : "",
    terms.replacement ? `${terms.replacement} instead` : "",
  ].filter(Boolean);
