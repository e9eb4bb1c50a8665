/** How the columns of a board lie: side by side while they fit, then in rows of short ones. */
import type { Column } from "./useBoard.ts";

/** As wide as most names, in pixels. */
const columnWidth = 208;
/** Many may be narrower: names are cut at the end, and stand in full under the pointer. */
const narrowest = 168;
export const headHeight = 35;
export const personHeight = 27;
/** A short column shows so many people at least; more are scrolled to, or the group is shown in full. */
const fewPeople = 5;

export interface BoardRow {
  /** Indexes into the columns. */
  columns: number[];
  /** In pixels. */
  height: number;
}

/** Whether the columns fit side by side; else who is unplaced stands at the left, and the groups in rows. */
export const fitsOneRow = (columns: number, width: number): boolean => columns * narrowest <= Math.max(width, 1);

/** How wide a column is that has all its height. */
export const fullWidth = (columns: number, width: number): number =>
  fitsOneRow(columns, width) ? Math.min(columnWidth, Math.floor(width / columns)) : columnWidth;

/** How many groups stand in a row beside whoever is unplaced. */
export const columnsInRow = (width: number): number => Math.max(1, Math.floor((width - columnWidth) / narrowest));

/**
 * The groups' columns in rows, as many in one as fit. A row is as high as its largest group, to a few people or, where
 * all rows fit, its share of the room; the group that is shown in full makes its row as high as it needs, at most `room`.
 */
export function rowsOfColumns(
  columns: readonly Column[],
  { width, room, full }: { width: number; room: number; full: string | null },
): BoardRow[] {
  const groups = columns.flatMap(({ group }, index) => (group ? [index] : []));
  const inRow = columnsInRow(width);
  const rows = Math.ceil(groups.length / inRow);
  const few = Math.max(fewPeople, Math.floor((room / rows - headHeight) / personHeight));
  return Array.from({ length: rows }, (_, row) => {
    const places = groups.slice(row * inRow, (row + 1) * inRow);
    const shown = places.map((index) => peopleShown(columns[index] as Column, { few, full }));
    const height = headHeight + Math.max(1, ...shown) * personHeight + 8;
    return { columns: places, height: Math.min(Math.max(room, 200), height) };
  });
}

const peopleShown = ({ group, places }: Column, { few, full }: { few: number; full: string | null }): number =>
  group?.id === full ? places.length : Math.min(places.length, few);

/** Whether a column of that height hides somebody, so that it can be shown in full. */
export const hidesSome = ({ places }: Column, height: number): boolean =>
  headHeight + places.length * personHeight > height;
