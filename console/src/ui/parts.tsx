/** Parts that every page is made of. */

import type { UseQueryResult } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Problem } from "../api/http";
import { visible } from "../lib/text";

export function Heading({
  title,
  aside,
  children,
}: {
  title: ReactNode;
  aside?: ReactNode;
  children?: ReactNode;
}) {
  return (
    <header className="mb-6 flex flex-wrap items-start justify-between gap-x-8 gap-y-3">
      <div>
        <h1 className="text-3xl">{title}</h1>
        {children ? <div className="mt-1 text-soft">{children}</div> : null}
      </div>
      {aside ? <div className="flex flex-wrap gap-3">{aside}</div> : null}
    </header>
  );
}

export function Sheet({ children, label }: { children: ReactNode; label?: string }) {
  return (
    <section aria-label={label} className="border border-rule bg-sheet p-4 sm:p-6">
      {children}
    </section>
  );
}

export function Trouble({ error }: { error: unknown }) {
  const problem = error instanceof Problem ? error : null;
  return (
    <div role="alert" className="border-l-4 border-brick bg-brick-wash px-4 py-3">
      <p className="font-semibold">{problem?.message ?? "Something went wrong on this page."}</p>
      {problem?.remedy ? <p>{problem.remedy}</p> : null}
    </div>
  );
}

export function Empty({ children }: { children: ReactNode }) {
  return (
    <p className="border border-dashed border-rule px-4 py-8 text-center text-soft">{children}</p>
  );
}

/** Shows a query's waiting, trouble or result. */
export function Loaded<Data>({
  query,
  children,
}: {
  query: UseQueryResult<Data>;
  children: (data: Data) => ReactNode;
}) {
  if (query.data !== undefined) return children(query.data);
  if (query.error) {
    return (
      <div className="space-y-3">
        <Trouble error={query.error} />
        <button type="button" className="button" onClick={() => query.refetch()}>
          Try again
        </button>
      </div>
    );
  }
  return (
    <p role="status" className="py-8 text-soft">
      Loading…
    </p>
  );
}

export function Table({
  head,
  children,
  label,
  widths,
}: {
  head: string[];
  children: ReactNode;
  label: string;
  widths?: string[];
}) {
  return (
    <section
      aria-label={label}
      className="overflow-x-auto border border-rule bg-sheet"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
      tabIndex={0}
    >
      <table
        className={`w-full border-collapse text-left ${widths ? "min-w-[46rem] table-fixed" : ""}`}
      >
        {widths ? (
          <colgroup>
            {head.map((name, index) => (
              <col key={name} style={{ width: widths[index] }} />
            ))}
          </colgroup>
        ) : null}
        <thead>
          <tr>
            {head.map((name) => (
              <th
                key={name}
                scope="col"
                className="border-b border-rule px-4 py-2 font-medium text-soft"
              >
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{children}</tbody>
      </table>
    </section>
  );
}

export function Cell({ children, narrow }: { children: ReactNode; narrow?: boolean }) {
  return (
    <td
      className={`border-b border-rule px-4 py-2.5 align-top ${narrow ? "whitespace-nowrap" : ""}`}
    >
      {children}
    </td>
  );
}

/** Text of strangers: hidden characters are shown, nothing is ever markup. */
export function Foreign({ text }: { text: string }) {
  return (
    <>
      {visible(text).map((piece) =>
        piece.hidden ? (
          <mark
            key={piece.at}
            className="bg-brick-wash px-0.5 font-mono text-xs text-brick"
            title="hidden characters"
          >
            {piece.text}
          </mark>
        ) : (
          <span key={piece.at}>{piece.text}</span>
        ),
      )}
    </>
  );
}

export function Json({ value, label }: { value: unknown; label: string }) {
  return (
    <section
      aria-label={label}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
      tabIndex={0}
      className="max-h-96 overflow-auto bg-paper p-3 font-mono text-sm whitespace-pre"
    >
      <Foreign text={JSON.stringify(value, null, 2)} />
    </section>
  );
}
