import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { Group } from "../../../../core/plan/types.ts";
import { columnsInRow, fitsOneRow, fullWidth, hidesSome, rowsOfColumns } from "./rows.ts";
import type { Column } from "./useBoard.ts";

const column = (id: string | null, people: number): Column => ({
  group: id === null ? null : ({ id } as Group),
  places: Array.from({ length: people }, (_, at) => ({ personId: `${id} ${at}`, groupId: id })),
  size: people,
  held: new Set(),
});
const board = (sizes: number[]) => [column(null, 3), ...sizes.map((people, at) => column(`g${at}`, people))];
const sizes = fc.array(fc.nat(60), { minLength: 1, maxLength: 60 });
const room = { width: fc.integer({ min: 0, max: 2000 }), room: fc.integer({ min: 200, max: 900 }) };

describe("rows of columns", () => {
  test("four groups and the unplaced stand side by side at 1280, five do not", () => {
    expect([fitsOneRow(5, 868), fitsOneRow(6, 868)]).toEqual([true, false]);
    expect([fullWidth(3, 868), fullWidth(5, 868), fullWidth(6, 868)]).toEqual([208, 173, 208]);
  });

  test("every group stands in one row, in order, and no row is wider than its room or higher than the board", () => {
    fc.assert(
      fc.property(sizes, fc.record(room), (people, given) => {
        const rows = rowsOfColumns(board(people), { ...given, full: null });
        expect(rows.flatMap((row) => row.columns)).toEqual(people.map((_, at) => at + 1));
        for (const row of rows) {
          expect(row.columns.length).toBeLessThanOrEqual(columnsInRow(given.width));
          expect(row.height).toBeLessThanOrEqual(given.room);
        }
      }),
    );
  });

  test("where all rows fit they share the room; one group in full makes its row alone higher", () => {
    const columns = board([30, 30, 30, 30, 30, 30, 30, 30]);
    const short = rowsOfColumns(columns, { width: 868, room: 400, full: null });
    expect(short.map((row) => row.columns.length)).toEqual([3, 3, 2]);
    expect(short.every(({ height }) => height < 190 && hidesSome(column("g", 30), height))).toBe(true);
    const [first, second] = rowsOfColumns(columns, { width: 868, room: 400, full: "g0" });
    expect([first?.height, second?.height]).toEqual([400, short[1]?.height]);
    const two = rowsOfColumns(board([9, 9, 9, 9]), { width: 600, room: 700, full: null });
    expect(two.every(({ height }) => !hidesSome(column("g", 9), height))).toBe(true);
  });
});
