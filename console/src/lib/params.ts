/** Reading and changing the address's query, so that whatever is chosen can be linked to. */

import { useCallback } from "react";
import { useSearchParams } from "react-router";

export type Change = Record<string, string | null>;

/**
 * Return the query's values, and a way to change some of them (null or empty takes one out).
 * A change takes the place of the address; with `"push"` one can go back to the one before.
 */
export function useParamsOf(): [
  (name: string) => string,
  (change: Change, how?: "replace" | "push") => void,
] {
  const [params, setParams] = useSearchParams();
  const read = useCallback((name: string) => params.get(name) ?? "", [params]);
  const write = useCallback(
    (change: Change, how: "replace" | "push" = "replace") =>
      setParams(
        (now) => {
          const next = new URLSearchParams(now);
          for (const [name, value] of Object.entries(change)) {
            if (value) next.set(name, value);
            else next.delete(name);
          }
          return next;
        },
        { replace: how === "replace", preventScrollReset: true },
      ),
    [setParams],
  );
  return [read, write];
}
