import { useMemo, useRef } from "react";
import { type DateTable, dateTable } from "../../../core/timing/resolving/table.ts";
import { useReach } from "../../workbench/context.tsx";

/** Everyone's dates in the drafted plan; what a change did not touch is taken over from the table before. */
export function useDateTable(): DateTable {
  const reach = useReach();
  const before = useRef<DateTable>(undefined);
  return useMemo(() => {
    before.current = dateTable(reach, before.current);
    return before.current;
  }, [reach]);
}
