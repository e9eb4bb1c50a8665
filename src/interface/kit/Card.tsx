import { type ReactNode, useEffect, useId, useRef } from "react";
import styles from "./card.module.css";

interface CardProps {
  title: string;
  /** Escape asks for it. */
  onClose(): void;
  children: ReactNode;
}

/** What is made or changed, beside what it changes: all else stays in reach. */
export function Card({ title, onClose, children }: CardProps) {
  const titleId = useId();
  const card = useRef<HTMLElement>(null);
  useEffect(() => {
    const before = document.activeElement;
    const field = card.current?.querySelector<HTMLElement>("[data-autofocus], input, textarea");
    if (!card.current?.contains(before)) field?.focus();
    return () => {
      // Where nothing else took the focus meanwhile, it goes back to where it was.
      if (document.activeElement === document.body && before instanceof HTMLElement) before.focus();
    };
  }, []);
  return (
    <section
      ref={card}
      role="dialog"
      aria-labelledby={titleId}
      data-card
      className={styles.card}
      onKeyDown={(event) => {
        const isListOpen = (event.target as HTMLElement).getAttribute("aria-expanded") === "true";
        if (event.key === "Escape" && !event.defaultPrevented && !isListOpen) onClose();
      }}
    >
      <h3 id={titleId}>{title}</h3>
      {children}
    </section>
  );
}

/** What ends a card: in sight however long it is. */
export const CardActions = ({ children }: { children: ReactNode }) => <div className={styles.actions}>{children}</div>;
