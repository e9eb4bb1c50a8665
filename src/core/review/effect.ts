/** One thing that is otherwise for a student with a draft than without it. Source: semantics.md section 8. */
import type { DateField } from "../plan/types.ts";
import type { Bits } from "../sets/bits.ts";

/**
 * `gains later`, `loses later`: not at the moment of publication, but before the term ends. `announced`, `veiled`: its
 * title and needs are shown, or no longer, while it is not open. `work`: what they handed in, or were marked for, goes
 * out of their sight with the item. `told`: what is said of its dates, or of what it still needs. `due passed`, `due
 * near`: a due that comes to somebody has passed, or is less than a day away.
 */
export const effectKinds = [
  "gains",
  "gains later",
  "loses",
  "loses later",
  "announced",
  "veiled",
  "work",
  "date",
  "due passed",
  "due near",
  "told",
  "text",
  "hand-in",
  "threads",
  "order",
  "joins",
  "leaves",
  "group",
  "group page",
  "class list",
  "self-placement",
  "calendar",
  "marks",
  "course",
  "enters",
  "exits",
  "leak",
  "leak ends",
] as const;
export type EffectKind = (typeof effectKinds)[number];

export interface Effect {
  kind: EffectKind;
  itemId: string | null;
  groupId: string | null;
  field: DateField | null;
  from: string | number | null;
  to: string | number | null;
}
export interface EffectLine {
  effects: Effect[];
  personIds: string[];
}
/** How much an effect warns of, the worst first; what warns of nothing comes last. */
export function weightOf({ kind, field, from, to }: Effect): number {
  if (kind === "work") return 0;
  if (kind === "date") return isTighter(field as DateField, from, to) ? 1 : 9;
  if (kind === "due passed" || kind === "due near") return 1;
  return kind === "leak" ? 2 : kind === "loses" || kind === "loses later" || kind === "exits" ? 3 : 9;
}

export const plain: Effect = { kind: "gains", itemId: null, groupId: null, field: null, from: null, to: null };

/** Whether a moved date is earlier: opens later is not, due earlier is. Less of a limit is a warning too. */
export function isTighter(field: DateField, from: Effect["from"], to: Effect["to"]): boolean {
  if (field === "accessWord" || field === "opens" || to === null || to === "none") return false;
  if (from === null || from === "none") return true;
  return field === "attempts" || field === "minutes" ? Number(to) < Number(from) : String(to) < String(from);
}

/** Notes an effect on some students of the world. */
export type Add = (effect: Effect, bits: Bits) => void;
