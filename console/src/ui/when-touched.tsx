/** What is loaded only when someone reaches for it: most visits need neither menu nor list, and they weigh a fifth. */

import {
  type ComponentType,
  type ReactNode,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
} from "react";
import { flushSync } from "react-dom";

/**
 * Draws `standIn`, one plain button or field, until the pointer or the keyboard is on it; then `load`'s part in its
 * place. Focus, caret and what was pressed meanwhile go over to the part, where the key `opens` opens it.
 */
export function WhenTouched<P extends object>({
  load,
  part,
  standIn,
  opens,
  className,
}: {
  load: () => Promise<ComponentType<P>>;
  part: P;
  standIn: ReactNode;
  opens: "Enter" | "ArrowDown";
  className?: string;
}) {
  const holder = useRef<HTMLDivElement>(null);
  const caret = useRef<Caret>(null);
  const pressed = useRef(false);
  const [Part, setPart] = useState<ComponentType<P> | null>(null);

  function touch() {
    if (Part) return;
    load().then(
      (loaded) => {
        caret.current = caretIn(holder.current);
        // Drawn at once: who goes on to the next control in between would be called back.
        flushSync(() => setPart(() => loaded));
      },
      (error: unknown) => {
        if (pressed.current)
          setPart(() => {
            throw error;
          });
      },
    );
  }
  function press() {
    if (Part) return;
    pressed.current = true;
    touch();
  }
  const pressButton = () => {
    if (control(holder.current) instanceof HTMLButtonElement) press();
  };
  useLayoutEffect(() => {
    if (Part) putCaret(holder.current, caret.current);
  }, [Part]);
  useEffect(() => {
    if (!Part || !pressed.current) return;
    const key = new KeyboardEvent("keydown", { key: opens, bubbles: true, cancelable: true });
    control(holder.current)?.dispatchEvent(key);
  }, [Part, opens]);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the control inside is what is pressed; this only listens.
    <div
      ref={holder}
      className={className}
      onPointerEnter={touch}
      onFocus={touch}
      onPointerDown={pressButton}
      onClick={pressButton}
      onInput={press}
      onKeyDown={(event) => {
        if (event.key === "ArrowDown") press();
      }}
    >
      {Part ? <Part {...part} /> : standIn}
    </div>
  );
}

type Caret = { start: number | null; end: number | null } | null;

const control = (holder: HTMLElement | null) =>
  holder?.querySelector<HTMLButtonElement | HTMLInputElement>("button, input") ?? null;

function caretIn(holder: HTMLElement | null): Caret {
  const one = control(holder);
  if (!one || document.activeElement !== one) return null;
  return one instanceof HTMLInputElement
    ? { start: one.selectionStart, end: one.selectionEnd }
    : { start: null, end: null };
}

function putCaret(holder: HTMLElement | null, caret: Caret) {
  const one = control(holder);
  if (!one || !caret) return;
  one.focus({ preventScroll: true });
  if (one instanceof HTMLInputElement) one.setSelectionRange(caret.start, caret.end);
}
