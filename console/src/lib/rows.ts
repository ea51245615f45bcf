/** Sorting and paging of rows that are all here; what is chosen lives in the address. */

export type Value = string | number | boolean | null | undefined;

export interface Sort {
  key: string;
  down: boolean;
}

/** Read a sort as it stands in the address: `tokens`, or `-tokens` for the largest first. */
export function readSort(text: string | null, otherwise: string): Sort {
  const chosen = text || otherwise;
  return chosen.startsWith("-")
    ? { key: chosen.slice(1), down: true }
    : { key: chosen, down: false };
}

export const writeSort = (sort: Sort): string => (sort.down ? `-${sort.key}` : sort.key);

const collator = new Intl.Collator("en", { numeric: true });

/** Order two values: numbers by size, texts as people do; what is missing comes last either way. */
function order(left: Value, right: Value, down: boolean): number {
  const [none, nothing] = [left ?? "", right ?? ""].map((one) => one === "");
  if (none || nothing) return Number(none) - Number(nothing);
  const found =
    typeof left === "number" && typeof right === "number"
      ? left - right
      : collator.compare(String(left), String(right));
  return down ? -found : found;
}

export function sorted<Row>(rows: Row[], value: (row: Row) => Value, down: boolean): Row[] {
  return [...rows].sort((left, right) => order(value(left), value(right), down));
}

/** Cut one page out of the rows; pages count from 1, and one that is not there is the nearest. */
export function paged<Row>(rows: Row[], page: number, size: number) {
  const pages = Math.max(1, Math.ceil(rows.length / size));
  const shown = Math.min(Math.max(1, page || 1), pages);
  return { pages, page: shown, rows: rows.slice((shown - 1) * size, shown * size) };
}
