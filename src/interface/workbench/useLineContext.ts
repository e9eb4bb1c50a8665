import { useMemo } from "react";
import type { LineContext } from "../../core/line/line.ts";
import { useParts, useReach } from "./context.tsx";

/** What typed lines are read with: the course as drafted, without what is only tried, and whoever is in it. */
export function useLineContext(): LineContext {
  const state = useParts("drafted", "now");
  const reach = useReach();
  const { plan } = state.drafted;
  return useMemo(() => ({ plan, personIds: reach.students, now: state.now }), [plan, reach.students, state.now]);
}
