/** What requests ask for, in words. */

import type { RequestDetail, RequestKind } from "../api/types";
import { day } from "./text";

export interface Asked {
  kind: RequestKind;
  server: string;
  version: string;
  item: string;
}

/** Return what a request is about: a release, a server, or an item of one. */
export const subjectOf = (one: Asked): string =>
  [one.server, one.version, one.item].filter(Boolean).join(" ");

/** Return what else is asked for, in words. */
export const termsOf = (terms: RequestDetail["terms"]): string[] =>
  [
    terms.data_class ? `from ${terms.data_class_before} to ${terms.data_class}` : "",
    terms.range ? `${terms.range}: ${terms.items?.join(", ")}` : "",
    terms.kit ? `for ${terms.kit} of ${terms.team}: ${terms.purpose}` : "",
    terms.scheme ? `from ${terms.scheme_before} to ${terms.scheme}` : "",
    terms.sunset_at ? `not to be used after ${day(terms.sunset_at)}` : "",
    terms.replacement ? `${terms.replacement} instead` : "",
  ].filter(Boolean);
