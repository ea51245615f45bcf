/** Parts that every page is made of. */

import type { UseQueryResult } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { useSearchParams } from "react-router";
import { Problem } from "../api/http";
import { visible } from "../lib/text";

export function Heading({
  title,
  name,
  aside,
  children,
}: {
  title: ReactNode;
  /** What the browser's tab says, where the title is more than text. */
  name?: string;
  aside?: ReactNode;
  children?: ReactNode;
}) {
  return (
    <header className="mb-6 flex flex-wrap items-start justify-between gap-x-8 gap-y-3">
      <div>
        <title>{`${name ?? title} · Tall Shelf`}</title>
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

export function Trouble({
  error,
  onRetry,
  children,
}: {
  error: unknown;
  onRetry?: () => void;
  children?: ReactNode;
}) {
  const problem = error instanceof Problem ? error : null;
  return (
    <div role="alert" className="border-l-4 border-brick bg-brick-wash px-4 py-3">
      <p className="font-semibold">
        <Foreign text={problem?.message ?? "Something went wrong on this page."} />
      </p>
      {problem?.remedy ? (
        <p>
          <Foreign text={problem.remedy} />
        </p>
      ) : null}
      {problem?.requestId ? (
        <p className="text-sm">
          Tell a steward the number of this request: <code>{problem.requestId}</code>
        </p>
      ) : null}
      {children ? <p>{children}</p> : null}
      {onRetry ? (
        <button type="button" className="button mt-2" data-size="small" onClick={onRetry}>
          Try again
        </button>
      ) : null}
    </div>
  );
}

/** Says that the filters let nothing through, and takes them away. */
export function NoMatches() {
  const [, setFilters] = useSearchParams();
  return (
    <Empty>
      No matches.{" "}
      <button type="button" className="button" data-size="small" onClick={() => setFilters({})}>
        Clear filters
      </button>
    </Empty>
  );
}

export function Empty({ children }: { children: ReactNode }) {
  return (
    <p className="border border-dashed border-rule px-4 py-8 text-center text-soft">{children}</p>
  );
}

/** Shows a query's waiting, trouble or result; a result that could not be renewed is shown as that. */
export function Loaded<Data>({
  query,
  children,
}: {
  query: Pick<UseQueryResult<Data>, "data" | "error" | "refetch">;
  children: (data: Data) => ReactNode;
}) {
  if (query.data !== undefined) {
    return (
      <>
        {query.error ? (
          <div className="mb-4">
            <Trouble error={query.error} onRetry={() => query.refetch()}>
              What you see may be out of date.
            </Trouble>
          </div>
        ) : null}
        {children(query.data)}
      </>
    );
  }
  if (query.error) return <Trouble error={query.error} onRetry={() => query.refetch()} />;
  return <Waiting />;
}

export function Waiting() {
  return (
    <p role="status" className="py-8 text-soft">
      Loading…
    </p>
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
  return <Code text={JSON.stringify(value, null, 2)} label={label} />;
}

export function Code({ text, label }: { text: string; label: string }) {
  return (
    <section
      aria-label={label}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
      tabIndex={0}
      className="max-h-96 overflow-auto bg-paper p-3 font-mono text-sm whitespace-pre"
    >
      <Foreign text={text} />
    </section>
  );
}
