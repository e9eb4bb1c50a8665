/** A group's stripe: colour, pattern and mark, the same on every screen, in print and in grey. */
import type { Stripe as StripeValue } from "../../core/plan/types.ts";
import styles from "./Stripe.module.css";

/** The twelve colours are tokens, so that they keep 4.5:1 against their ground in light and in dark. */
export const stripeColour = (stripe: Pick<StripeValue, "colour">): string => `var(--stripe-${stripe.colour})`;

/** Lines of the eight patterns, drawn in an 8 × 8 tile; the first is plain. */
const patterns = [
  "",
  "M-2 10 10 -2",
  "M-2 -2 10 10",
  "M4 0V8",
  "M0 4H8",
  "M-2 10 10 -2M-2 -2 10 10",
  "M2.5 4h3",
  "M4 0V8M0 4H8",
];

export function Stripe({ stripe, isPrivate, wide }: { stripe: StripeValue; isPrivate?: boolean; wide?: boolean }) {
  // Private layers use a plain ink stripe: nothing about them is shown at a glance.
  const colour = isPrivate ? "var(--ink-soft)" : stripeColour(stripe);
  const pattern = isPrivate ? "" : (patterns[stripe.pattern] as string);
  return (
    <span className={`${styles.stripe} ${wide ? styles.wide : ""}`} style={{ borderColor: colour, color: colour }}>
      <svg className={styles.band} viewBox="0 0 8 24" preserveAspectRatio="xMidYMid slice" aria-hidden="true">
        <rect width="8" height="24" fill="currentColor" />
        {[0, 8, 16].map((y) => (
          <path
            key={y}
            d={pattern}
            transform={`translate(0 ${y})`}
            stroke="var(--sheet)"
            strokeWidth="1.6"
            fill="none"
          />
        ))}
      </svg>
      <span className={styles.mark}>{stripe.mark}</span>
    </span>
  );
}
