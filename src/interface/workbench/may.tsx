/** What is offered to whom: the server decides, and refuses what was not offered. */
import type { ReactNode } from "react";
import type { StaffMay } from "../../core/plan/types.ts";
import { useParts } from "./context.tsx";

/** Whether whoever works here may do something: the coordinator all, others what they were allowed. */
export function useMay(what: StaffMay): boolean {
  const { scope } = useParts("scope");
  return scope === null || scope.may.includes(what);
}

/** What only the coordinator may do is not offered to others on the staff. */
export function CoordinatorOnly({ children }: { children: ReactNode }) {
  return useParts("scope").scope === null ? children : null;
}
