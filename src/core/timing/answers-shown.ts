/** From when a student reads marks and right answers of attempts. Source: semantics.md section 7, attempts. */
import { once } from "../memo.ts";
import type { Item, Plan } from "../plan/types.ts";
import { calendarsIn } from "./anchors.ts";
import { closingsOfItem } from "./instants.ts";
import { type Memberships, resolveDates, resolvedInstant } from "./resolving/resolve.ts";

const lastClosings = once((_plan: Plan) => new Map<string, number | null>());
/** The last moment at which an item may close for anybody: every date it is given, with every extension; null: never. */
function lastClosing(plan: Plan, item: Item): number | null {
  const known = lastClosings(plan);
  if (!known.has(item.id)) {
    const found = closingsOfItem(plan, item, calendarsIn(plan));
    known.set(item.id, found.length === 0 ? null : Math.max(...found));
  }
  return known.get(item.id) ?? null;
}

export type Shown = { shown: true } | { shown: false; from: number | null };

/** Whether marks and right answers of an item are shown to somebody at t, or from when; null: when staff say so. */
export function answersShown(plan: Plan, item: Item, memberships: Memberships, t: number): Shown {
  if (!item.quiz || item.quiz.released) return { shown: true };
  const { shows } = item.quiz;
  if (shows === "at once") return { shown: true };
  if (shows === "when released") return { shown: false, from: null };
  const dates = resolveDates(plan, item, memberships);
  const own = resolvedInstant(plan, dates, "due") ?? resolvedInstant(plan, dates, "closes");
  const from = shows === "after due" ? own : lastClosing(plan, item);
  // Without such a date there is nothing to wait for.
  if (from === null || t > from) return { shown: true };
  return { shown: false, from };
}
