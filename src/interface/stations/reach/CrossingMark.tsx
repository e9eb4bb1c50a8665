import type { Crossing } from "./crossings.ts";
import styles from "./reach.module.css";

/**
 * The group's thread runs down, the item's thread across: over it (open), under it (hidden), half over
 * (later, on a condition, or for some), or in a knot (leak).
 */
export function CrossingMark({ crossing, colour }: { crossing: Crossing; colour: string }) {
  const { kind, members, open } = crossing;
  if (kind === "empty") return <span className={styles.none}>–</span>;
  const partial = kind === "partly" && open > 0;
  return (
    <>
      <svg viewBox="0 0 40 28" width="40" height="28" aria-hidden="true" className={styles.mark}>
        {kind === "open" && (
          <>
            <path d="M20 0V9M20 19V28" stroke={colour} strokeWidth="5" />
            <path d="M2 14H38" stroke="var(--ink)" strokeWidth="3.6" />
          </>
        )}
        {kind === "hidden" && (
          <>
            <path d="M2 14H12M28 14H38" stroke="var(--ink)" strokeWidth="1.4" strokeDasharray="2.5 2.5" />
            <path d="M20 0V28" stroke={colour} strokeWidth="5" />
          </>
        )}
        {kind === "partly" && (
          <>
            <path d="M20 0V9M20 19V28" stroke={colour} strokeWidth="5" />
            <path d="M20 14H38" stroke="var(--ink)" strokeWidth="1.4" strokeDasharray="2.5 2.5" />
            <path d="M2 14H21" stroke="var(--ink)" strokeWidth="3.6" />
          </>
        )}
        {kind === "problem" && (
          <>
            <path d="M20 0V28" stroke={colour} strokeWidth="5" />
            <path
              d="M2 14H13c2 0 3-7 7-7s7 3 7 7-3 7-7 7-5-7-7-7M27 14H38"
              stroke="var(--brick)"
              strokeWidth="3.4"
              fill="none"
            />
          </>
        )}
      </svg>
      {partial && (
        <span className={styles.share}>
          {members < 100 ? `${open}/${members}` : `${Math.min(99, Math.max(1, Math.round((open / members) * 100)))} %`}
        </span>
      )}
    </>
  );
}
