/** Single keys that do something, unless one is typing or has turned them off (WCAG 2.1.4). */

import { useEffect } from "react";

const KEPT = "tallshelf-keys";

export const keysAreOn = (): boolean => localStorage.getItem(KEPT) !== "off";

export function turnKeys(on: boolean): void {
  if (on) localStorage.removeItem(KEPT);
  else localStorage.setItem(KEPT, "off");
}

/** Let keys do something while this part is on the page. */
export function useKeys(actions: Record<string, () => void>): void {
  useEffect(() => {
    function act(event: KeyboardEvent) {
      const action = actions[event.key];
      const typing =
        event.target instanceof HTMLElement && event.target.closest("input, textarea, select");
      if (!action || typing || event.ctrlKey || event.metaKey || event.altKey || !keysAreOn())
        return;
      event.preventDefault();
      action();
    }
    window.addEventListener("keydown", act);
    return () => window.removeEventListener("keydown", act);
  }, [actions]);
}
