/** Forms: labelled fields, choices, and care for unsaved work. */

import { type ReactNode, useEffect, useId, useState } from "react";

export function Labelled({
  label,
  hint,
  children,
}: {
  label: string;
  hint?: string | undefined;
  children: (about: { id: string; "aria-describedby"?: string }) => ReactNode;
}) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className="mb-1 block">
        {label}
      </label>
      {children({ id, ...(hint ? { "aria-describedby": `${id}-hint` } : {}) })}
      {hint ? (
        <p id={`${id}-hint`} className="mt-1 text-sm text-soft">
          {hint}
        </p>
      ) : null}
    </div>
  );
}

export function TextField({
  label,
  hint,
  ...input
}: { label: string; hint?: string } & React.ComponentProps<"input">) {
  return (
    <Labelled label={label} hint={hint}>
      {(about) => <input {...about} {...input} className={`field ${input.className ?? ""}`} />}
    </Labelled>
  );
}

export function TextArea({
  label,
  hint,
  ...input
}: { label: string; hint?: string } & React.ComponentProps<"textarea">) {
  return (
    <Labelled label={label} hint={hint}>
      {(about) => <textarea rows={4} {...about} {...input} className="field" />}
    </Labelled>
  );
}

/** A field that narrows what is shown while one types. */
export function SearchField({
  label,
  value,
  onSearch,
}: {
  label: string;
  value: string;
  onSearch: (text: string) => void;
}) {
  return (
    <TextField
      label={label}
      type="search"
      value={value}
      onChange={(event) => onSearch(event.target.value)}
    />
  );
}

export type Choice = readonly [value: string, words: string];

export function Select({
  label,
  choices,
  hint,
  ...select
}: { label: string; choices: readonly Choice[]; hint?: string } & React.ComponentProps<"select">) {
  return (
    <Labelled label={label} hint={hint}>
      {(about) => (
        <select {...about} {...select} className="field">
          {choices.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
      )}
    </Labelled>
  );
}

/** Copies a text and says so. */
export function CopyButton({ text, children = "Copy" }: { text: string; children?: string }) {
  const [said, setSaid] = useState("");
  useEffect(() => {
    if (!said) return;
    const timer = setTimeout(() => setSaid(""), 2_000);
    return () => clearTimeout(timer);
  }, [said]);
  async function copy() {
    try {
      await navigator.clipboard.writeText(text);
      setSaid("Copied");
    } catch {
      setSaid("Select the text and copy it");
    }
  }
  return (
    <button type="button" className="button" data-size="small" onClick={copy}>
      <span aria-live="polite">{said || children}</span>
    </button>
  );
}

/** A button of one row among others alike: whoever hears the page hears of which. */
export function RowButton({
  children,
  of,
  grave = false,
  onClick,
}: {
  children: string;
  of: string;
  grave?: boolean;
  onClick: () => void;
}) {
  return (
    <button
      type="button"
      className="button whitespace-nowrap"
      data-size="small"
      data-kind={grave ? "grave" : undefined}
      onClick={onClick}
    >
      {children}
      <span className="sr-only"> {of}</span>
    </button>
  );
}
