import { useMemo } from "react";
import type { LineContext } from "../../core/line/line.ts";
import { useWorkbench } from "./context.tsx";

/** What typed lines are read with: the course as drafted, and whoever is in it. */
export function useLineContext(): LineContext {
  const { plan, reach, state } = useWorkbench();
  return useMemo(() => ({ plan, personIds: reach.students, now: state.now }), [plan, reach.students, state.now]);
}
