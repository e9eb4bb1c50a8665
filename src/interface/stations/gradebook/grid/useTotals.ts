/** Totals of all students, put together a few milliseconds at a time: the cells in sight do not wait for them. */
import { useEffect, useState } from "react";
import type { Sheet } from "../../../../core/gradebook/sheet.ts";

/** Columns that are made at once all the same: after a mark, those that it touches. */
const few = 20;
/** Milliseconds of work at one time. */
const longest = 20;

/** Percent of each student; null until all columns are there. */
export function useTotals(sheet: Sheet): Float64Array | null {
  const [ready, setReady] = useState<Sheet | null>(null);
  const isReady = ready === sheet || sheet.unmade().length <= few;
  useEffect(() => {
    if (isReady) return;
    const left = sheet.unmade();
    let timer = 0;
    const makeSome = () => {
      const begun = performance.now();
      for (let item = left.pop(); item; item = left.pop()) {
        sheet.column(item);
        if (performance.now() - begun > longest) break;
      }
      if (left.length === 0) setReady(sheet);
      else timer = window.setTimeout(makeSome);
    };
    timer = window.setTimeout(makeSome);
    return () => clearTimeout(timer);
  }, [sheet, isReady]);
  return isReady ? sheet.percentages() : null;
}
