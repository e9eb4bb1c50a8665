import type { ReactNode } from "react";
import { useWorkbench } from "./context.tsx";

/** What only the coordinator may do is not offered to others on the staff. */
export function CoordinatorOnly({ children }: { children: ReactNode }) {
  return useWorkbench().state.scope === null ? children : null;
}
