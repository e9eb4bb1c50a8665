import { X } from "lucide-react";
import type { ReactNode } from "react";
import { Button } from "react-aria-components";
import styles from "./controls.module.css";

/** One of several that were chosen, with a way to leave it out again. */
export function Chip({ name, children, onLeaveOut }: { name: string; children?: ReactNode; onLeaveOut(): void }) {
  return (
    <span className={styles.chip}>
      {children}
      {name}
      <Button className={styles.remove as string} aria-label={`Leave out ${name}`} onPress={onLeaveOut}>
        <X size={14} aria-hidden />
      </Button>
    </span>
  );
}
