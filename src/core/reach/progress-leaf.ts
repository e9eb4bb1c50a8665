/**
 * What a condition about somebody's progress comes to: the one decision, of what is found of a student by a moment.
 * Source: semantics.md section 5.
 */
import { reachesPercent } from "../plan/percent.ts";
import type { Mark, Opening } from "../plan/progress.ts";
import type { Condition, Plan } from "../plan/types.ts";

export type ProgressLeaf = Extract<Condition, { itemId: string }>;

/** What a student has to show for it. `reaches`, `below`: a mark that does, or does not, reach the percentage. */
export type Found = "nothing" | "excused" | "reaches" | "below" | "done";

/** Whether a leaf holds for somebody of whom that is found. */
export function holdsWith(kind: ProgressLeaf["kind"], found: Found): boolean {
  if (kind === "lessThan") return found === "below";
  return found !== "nothing" && found !== "below";
}

/** What a mark is to a leaf; undefined: there is none. A mark counts from the moment that it was given. */
export function foundOfMark(leaf: ProgressLeaf, plan: Plan, mark: Mark | undefined, t: number): Found {
  if (!mark || mark.at > t) return "nothing";
  if (mark.excused) return "excused";
  const possible = plan.items[leaf.itemId]?.points;
  if (!("percent" in leaf) || mark.points === null || !possible) return "nothing";
  return reachesPercent(mark.points, possible, leaf.percent) ? "reaches" : "below";
}

/** What a hand-in is to a leaf that asks for one. */
export const foundOfHandIn = ({ at }: { at: number }, t: number): Found => (at <= t ? "done" : "nothing");

/** What an opening is to a leaf that asks whether somebody opened an item, or marked it as read. */
export function foundOfOpening(leaf: ProgressLeaf, opening: Opening | undefined, t: number): Found {
  const at = leaf.kind === "opened" ? opening?.at : opening?.readAt;
  return at != null && at <= t ? "done" : "nothing";
}
