import type { Sheet } from "../../../../core/gradebook/sheet.ts";
import { useSliced } from "../../../kit/useSliced.ts";

function* totalsOf(sheet: Sheet): Generator<void, Float64Array> {
  for (const item of sheet.unmade()) {
    sheet.column(item);
    yield;
  }
  return sheet.percentages();
}

/** Percent of each student's total; null until all columns are there: the cells in sight do not wait for them. */
export const useTotals = (sheet: Sheet): Float64Array | null => useSliced([sheet], () => totalsOf(sheet));
