/**
 * What a field comes to, out of the facts about somebody: the one decision that dates and limits are made by. The facts
 * are gathered for one student by resolve.ts, and for all of them at once by table.ts.
 * Source: semantics.md section 6, steps 1 to 4.
 */
import { addDays, instantOf } from "../../clock/local-time.ts";
import type { Allowance, DateField, Override, Plan } from "../../plan/types.ts";

export const momentFields = ["opens", "due", "closes"] as const;
export type MomentField = (typeof momentFields)[number];
export const dateFields: DateField[] = [...momentFields, "attempts", "minutes", "accessWord"];
export const isMomentField = (field: DateField): field is MomentField =>
  (momentFields as readonly DateField[]).includes(field);

/** What a field comes to for somebody: wall-clock text, a number, a word, "none"; null where it is unset. */
export type Value = string | number | null;

/** An override that sets the field for somebody, with what it sets it to. */
export interface Candidate {
  override: Override;
  value: string | number;
  /** Where its target's layer stands in the course's order, and the group in its layer: smaller comes first. */
  place(): readonly [number, number];
  /** The value as a number to compare by; kept once it was worked out. */
  size?: number;
}

export interface FieldFacts {
  candidates: readonly Candidate[];
  /** What the item itself sets the field to, for them. */
  base: Value;
  /** The allowances that reach them. */
  allowances: readonly Allowance[];
}

export interface Decision {
  value: Value;
  /** The override that holds; null: the item's own value does. */
  winner: Candidate | null;
  /** The allowances that changed the value afterwards. */
  used: Allowance[];
}

const none: Allowance[] = [];

/** A student's own override is final; then those of groups and sections; then the item's own value; then allowances. */
export function decide(plan: Plan, field: DateField, { candidates, base, allowances }: FieldFacts): Decision {
  let winner: Candidate | null = null;
  for (const one of candidates) {
    if (one.override.target.kind === "person") return { value: one.value, winner: one, used: none };
    if (!winner || comesBefore(plan, field, one, winner)) winner = one;
  }
  const value = winner ? winner.value : base;
  if (value === null || allowances.length === 0) return { value, winner, used: none };
  return { ...withAllowance(field, value, allowances), winner };
}

/** Why one override of a group or section comes before another. */
export type Priority = "no word" | "layer" | "group" | "generous";

/** By what `one` comes before `other`; null where it does not. */
export function comesBefore(plan: Plan, field: DateField, one: Candidate, other: Candidate): Priority | null {
  if (field === "accessWord") return wordComesBefore(one, other);
  if (plan.course.datePolicy === "layer order") {
    const [[a], [b]] = [one.place(), other.place()];
    if (a !== b) return a < b ? "layer" : null;
  }
  return isMoreGenerous(plan, field, one, other) ? "generous" : null;
}

/** Of two words the one of the layer that comes first, then of the group; no word to type beats any word. */
function wordComesBefore(one: Candidate, other: Candidate): Priority | null {
  if (one.value === "none" || other.value === "none")
    return one.value === "none" && other.value !== "none" ? "no word" : null;
  const [a, b] = [one.place(), other.place()];
  if (a[0] !== b[0]) return a[0] < b[0] ? "layer" : null;
  return a[1] < b[1] ? "group" : null;
}

function sizeOf(field: DateField, candidate: Candidate, timeZone: string): number {
  const { value } = candidate;
  candidate.size ??= isMomentField(field) ? instantOf(String(value), timeZone) : Number(value);
  return candidate.size;
}

/** Whether a value of a field is the more generous to the student. "None" always is. */
function isMoreGenerous(plan: Plan, field: DateField, one: Candidate, other: Candidate): boolean {
  if (one.value === "none" || other.value === "none") return one.value === "none" && other.value !== "none";
  const { timeZone } = plan.course;
  const [left, right] = [sizeOf(field, one, timeZone), sizeOf(field, other, timeZone)];
  return field === "opens" ? left < right : left > right;
}

/** minutes × factor, exact in decimals, rounded up. */
export function timesFactor(minutes: number, factor: string): number {
  const [whole = "0", fraction = ""] = factor.split(".");
  const scale = 10n ** BigInt(fraction.length);
  const product = BigInt(minutes) * BigInt(whole + fraction);
  return Number((product + scale - 1n) / scale);
}

/** How much an allowance gives to a field; 0 where it gives nothing. */
export function allowedBy({ minutesFactor, extraDays, extraAttempts }: Allowance, field: DateField): number {
  if (field === "minutes") return Number(minutesFactor ?? 0);
  if (field === "attempts") return extraAttempts ?? 0;
  return field === "due" || field === "closes" ? (extraDays ?? 0) : 0;
}

/** A value with the largest of some allowances. "None" stays none. */
function withAllowance(
  field: DateField,
  value: string | number,
  allowances: readonly Allowance[],
): { value: string | number; used: Allowance[] } {
  let largest: Allowance | null = null;
  for (const one of allowances) if (allowedBy(one, field) > (largest ? allowedBy(largest, field) : 0)) largest = one;
  if (value === "none" || !largest) return { value, used: none };
  const used = [largest];
  if (field === "minutes") return { value: timesFactor(Number(value), largest.minutesFactor as string), used };
  const amount = allowedBy(largest, field);
  return { value: field === "attempts" ? Number(value) + amount : addDays(String(value), amount), used };
}
