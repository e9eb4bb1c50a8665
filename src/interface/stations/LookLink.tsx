import { useWorkbench } from "../workbench/context.tsx";
import base from "./station.module.css";

interface LookLinkProps {
  personId: string;
  /** What to open of theirs; their outline where it is not given. */
  itemId?: string;
}

/** Opens a student's own pages through their eyes, beside the workbench. */
export function LookLink({ personId, itemId }: LookLinkProps) {
  const { store } = useWorkbench();
  const address = `/look/${store.courseId}/${personId}${itemId ? `/item/${itemId}` : ""}`;
  return (
    <a href={address} target="_blank" rel="noreferrer" className={base.lookLink}>
      Look through their eyes
    </a>
  );
}
