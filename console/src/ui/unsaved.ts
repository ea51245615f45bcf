/** Asking before a page is left on which something typed is not saved. */

import { useEffect } from "react";
import { useBlocker } from "react-router";

/** Every form of the page with something unsaved in it: the router asks one guard only. */
const unsaved = new Set<symbol>();

/** Say that this form has something unsaved in it, as long as it has. */
export function useUnsaved(is: boolean): void {
  useEffect(() => {
    if (!is) return;
    const form = Symbol("form");
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    unsaved.add(form);
    window.addEventListener("beforeunload", ask);
    return () => {
      unsaved.delete(form);
      window.removeEventListener("beforeunload", ask);
    };
  }, [is]);
}

export const anythingUnsaved = () => unsaved.size > 0;

/** Ask before a link leads away from what is unsaved; once in the frame around all pages. */
export function useLeaveGuard(): void {
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) =>
      unsaved.size > 0 && currentLocation.pathname !== nextLocation.pathname,
  );
  useEffect(() => {
    if (blocker.state !== "blocked") return;
    if (window.confirm("What you have typed is not saved. Leave this page?")) blocker.proceed();
    else blocker.reset();
  }, [blocker]);
}
