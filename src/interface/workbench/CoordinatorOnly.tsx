import type { ReactNode } from "react";
import { useParts } from "./context.tsx";

/** What only the coordinator may do is not offered to others on the staff. */
export function CoordinatorOnly({ children }: { children: ReactNode }) {
  return useParts("scope").scope === null ? children : null;
}
