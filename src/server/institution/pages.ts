/** A long list, a page at a time. */
export interface Page<Row> {
  rows: Row[];
  /** How many there are in all; of very many, as many as are counted. */
  all: number;
  /** Whether there are more than are counted: whoever looks for one of them types more of its name. */
  isMore: boolean;
  /** From 1; and how many pages there are. */
  page: number;
  pages: number;
}

const most = 50;
/** So many are counted and paged through; nobody reads further, and no database passes over half a million rows for it. */
export const mostCounted = 10_000;

/** Which part of a list a page is: a page that there is, whatever was asked for. `found`: counted up to one more than the most. */
export function pageOf(asked: number, found: number): Omit<Page<never>, "rows"> & { from: number; most: number } {
  const all = Math.min(found, mostCounted);
  const pages = Math.max(1, Math.ceil(all / most));
  const page = Math.min(pages, Math.max(1, Number.isSafeInteger(asked) ? asked : 1));
  return { all, isMore: found > mostCounted, page, pages, from: (page - 1) * most, most };
}
