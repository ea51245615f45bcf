/** Tables that sort by their heads and come in pages; sort and page live in the address. */

import type { ReactNode } from "react";
import { useParamsOf } from "../lib/params";
import { paged, readSort, sorted, type Value, writeSort } from "../lib/rows";
import { plural } from "../lib/text";

export interface Column<Row> {
  key: string;
  title: string;
  cell: (row: Row) => ReactNode;
  /** What to sort by, where all rows are here; a column without it cannot be sorted. */
  value?: (row: Row) => Value;
  number?: boolean;
  nowrap?: boolean;
}

const PAGE = 100;

export function DataTable<Row>({
  label,
  columns,
  rows,
  rowKey,
  sort: otherwise,
}: {
  label: string;
  columns: Column<Row>[];
  rows: Row[];
  rowKey: (row: Row) => string | number;
  sort: string;
}) {
  const [read, write] = useParamsOf();
  const head = useHead<Row>(otherwise);
  const sort = readSort(read("sort"), otherwise);
  const by = columns.find((column) => column.key === sort.key);
  const ordered = by?.value ? sorted(rows, by.value, sort.down) : rows;
  const page = paged(ordered, Number(read("page")), PAGE);
  return (
    <>
      <Rows
        label={label}
        columns={columns}
        rows={page.rows}
        rowKey={rowKey}
        head={(column) => head(column, column.value !== undefined)}
      />
      <Pager
        label="Pages of the table"
        noun="row"
        page={page.page}
        pages={page.pages}
        rows={rows.length}
        onPage={(next) => write({ page: next === 1 ? null : String(next) })}
      />
    </>
  );
}

/**
 * A table of rows that come page by page, in the order of the service: it sorts by the columns that `sorts` names,
 * from the largest down where they hold numbers. The sort lives in the address.
 */
export function GrowingTable<Row>({
  label,
  columns,
  rows,
  rowKey,
  sorts = [],
  sort: otherwise = "",
  more,
  onMore,
  busy,
  stale = false,
}: {
  label: string;
  columns: Column<Row>[];
  rows: Row[];
  rowKey: (row: Row) => string | number;
  sorts?: readonly string[];
  sort?: string;
  /** What the button says that fetches more; empty where there is no more. */
  more: string;
  onMore: () => void;
  busy: boolean;
  /** Whether these are the rows of what was asked for before. */
  stale?: boolean;
}) {
  const head = useHead<Row>(otherwise);
  return (
    <>
      <Rows
        label={label}
        columns={columns}
        rows={rows}
        rowKey={rowKey}
        stale={stale}
        head={(column) => head(column, sorts.includes(column.key))}
      />
      {more ? (
        <button type="button" className="button mt-4" disabled={busy} onClick={onMore}>
          {more}
        </button>
      ) : null}
    </>
  );
}

/** Return how the head of a column is drawn, whether one may sort by it or not. */
function useHead<Row>(otherwise: string) {
  const [read, write] = useParamsOf();
  const sort = readSort(read("sort"), otherwise);
  return (column: Column<Row>, sortable: boolean) => (
    <Head
      key={column.key}
      column={column}
      sorted={column.key === sort.key ? (sort.down ? "descending" : "ascending") : null}
      onSort={
        sortable
          ? () => {
              const down = column.key === sort.key ? !sort.down : Boolean(column.number);
              const text = writeSort({ key: column.key, down });
              write({ sort: text === otherwise ? null : text, page: null });
            }
          : null
      }
    />
  );
}

function Rows<Row>({
  label,
  columns,
  rows,
  rowKey,
  stale = false,
  head,
}: {
  label: string;
  columns: Column<Row>[];
  rows: Row[];
  rowKey: (row: Row) => string | number;
  stale?: boolean;
  head: (column: Column<Row>) => ReactNode;
}) {
  return (
    <Scrolling label={label}>
      <table className="w-full min-w-[40rem] border-collapse text-left" aria-busy={stale}>
        <thead>
          <tr>{columns.map(head)}</tr>
        </thead>
        <tbody className={stale ? "opacity-60" : ""}>
          {rows.map((row) => (
            <tr key={rowKey(row)} className="hover:bg-paper">
              {columns.map((column) => (
                <td
                  key={column.key}
                  className={`border-b border-rule px-4 py-2.5 align-top ${column.number ? "text-right tabular-nums" : ""} ${column.nowrap ? "whitespace-nowrap" : ""}`}
                >
                  {column.cell(row)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </Scrolling>
  );
}

function Head<Row>({
  column,
  sorted: direction,
  onSort,
}: {
  column: Column<Row>;
  sorted: "ascending" | "descending" | null;
  onSort: (() => void) | null;
}) {
  return (
    <th
      scope="col"
      {...(direction ? { "aria-sort": direction } : {})}
      className={`border-b-2 border-rule px-4 py-2 font-medium whitespace-nowrap text-soft ${column.number ? "text-right" : ""}`}
    >
      {onSort ? (
        <button
          type="button"
          onClick={onSort}
          className="cursor-pointer font-medium hover:text-ink data-on:text-ink"
          {...(direction ? { "data-on": true } : {})}
        >
          {column.title}
          <span aria-hidden="true" className={direction ? "ml-1" : "invisible ml-1"}>
            {direction === "descending" ? "▾" : "▴"}
          </span>
        </button>
      ) : (
        column.title
      )}
    </th>
  );
}

export function Pager({
  label,
  noun,
  page,
  pages,
  rows,
  onPage,
}: {
  label: string;
  noun: string;
  page: number;
  pages: number;
  rows: number;
  onPage: (page: number) => void;
}) {
  if (pages === 1) return null;
  return (
    <nav aria-label={label} className="mt-3 flex flex-wrap items-center gap-3">
      <button
        type="button"
        className="button"
        data-size="small"
        disabled={page === 1}
        onClick={() => onPage(page - 1)}
      >
        Previous
      </button>
      <span>
        Page {page} of {pages}, {plural(rows, noun)}
      </span>
      <button
        type="button"
        className="button"
        data-size="small"
        disabled={page === pages}
        onClick={() => onPage(page + 1)}
      >
        Next
      </button>
    </nav>
  );
}

/** A region that scrolls sideways by itself, so that the page does not. */
export function Scrolling({ label, children }: { label: string; children: ReactNode }) {
  return (
    <section
      aria-label={label}
      className="relative overflow-x-auto border border-rule bg-sheet"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
      tabIndex={0}
    >
      {children}
    </section>
  );
}
