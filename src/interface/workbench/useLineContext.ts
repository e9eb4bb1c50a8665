import { useMemo } from "react";
import type { LineContext } from "../../core/line/line.ts";
import { useParts, useStudents } from "./context.tsx";

/** What typed lines are read with: the course as drafted, without what is only tried, and whoever is in it. */
export function useLineContext(): LineContext {
  const state = useParts("drafted", "now");
  const students = useStudents();
  const { plan } = state.drafted;
  return useMemo(() => ({ plan, personIds: students, now: state.now }), [plan, students, state.now]);
}
