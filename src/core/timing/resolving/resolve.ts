/**
 * The dates and limits of one student for one item, a field at a time: person's override, overrides of groups
 * and sections by the course's policy, base value, allowances; each with where it came from. Meeting anchors are
 * read by the student's own calendar first.
 * Source: semantics.md section 6, steps 1 to 4. table.ts computes the same for all students at once.
 */

import { addDays, instantOf } from "../../clock/local-time.ts";
import { lookup } from "../../plan/lookup.ts";
import type { Allowance, Anchor, DateField, Item, Override, Plan, Target } from "../../plan/types.ts";
import { isAnchor, wallByCalendar } from "../anchors.ts";
import { type Memberships, memberOf } from "./memberships.ts";
import { precedence } from "./precedence.ts";

export { type Memberships, memberOf, membershipsAt, membershipsIn } from "./memberships.ts";

export const momentFields = ["opens", "due", "closes"] as const;
export type MomentField = (typeof momentFields)[number];
export const dateFields: DateField[] = [...momentFields, "attempts", "minutes", "accessWord"];
export const isMomentField = (field: DateField): field is MomentField =>
  (momentFields as readonly DateField[]).includes(field);

/** What a field may be set to: "none", a wall-clock time or a meeting anchor, a number, a word. */
export type GivenValue = string | number | Anchor;
/** What it comes to for somebody: wall-clock text, a number, a word, "none"; null where it is unset. */
export type Value = string | number | null;

export interface Origin {
  kind: "base" | "override" | "person";
  /** Whom the winning override is for; null for the base value. */
  target: Target | null;
  /** The anchor that was read by the student's calendar; null where the value was given as it is. */
  anchor: Anchor | null;
  /** The allowances that changed the value afterwards. */
  allowances: Allowance[];
}

export interface ResolvedField {
  value: Value;
  /** Whether it is unset because its anchor has no meeting and no fallback for this student. */
  undated: boolean;
  origin: Origin;
}
export type ResolvedDates = Record<DateField, ResolvedField>;

/** A given value as somebody's calendar has it; null where it sets nothing. */
export function valueFor(given: GivenValue | undefined, memberships: Memberships, plan: Plan): Value {
  if (given === undefined) return null;
  return isAnchor(given) ? wallByCalendar(given, memberships.calendar, plan.course.timeZone) : given;
}

/** An override that sets the field for a student, with what it sets it to. */
interface Candidate {
  override: Override;
  value: string | number;
}

const size = (field: DateField, value: string | number, timeZone: string): number =>
  value === "none"
    ? Number.POSITIVE_INFINITY
    : isMomentField(field)
      ? instantOf(String(value), timeZone)
      : Number(value);

/** Which of two values of a field is the more generous to the student. "None" always is. */
function moreGenerous(plan: Plan, field: DateField, a: string | number, b: string | number): boolean {
  if (a === "none" || b === "none") return a === "none" && b !== "none";
  const [left, right] = [size(field, a, plan.course.timeZone), size(field, b, plan.course.timeZone)];
  return field === "opens" ? left < right : left > right;
}

/** Whether a candidate comes before the best so far, by the course's policy. */
function beats(plan: Plan, field: DateField, one: Candidate, best: Candidate, memberships: Memberships): boolean {
  // No word to type beats any word, wherever it stands.
  if (field === "accessWord" && (one.value === "none" || best.value === "none"))
    return one.value === "none" && best.value !== "none";
  const [a, b] = [
    precedence(plan, one.override.target, memberships),
    precedence(plan, best.override.target, memberships),
  ];
  // Two words: the one of the layer that comes first, then the group's.
  if (field === "accessWord") return a[0] < b[0] || (a[0] === b[0] && a[1] < b[1]);
  if (plan.course.datePolicy === "layer order" && a[0] !== b[0]) return a[0] < b[0];
  return moreGenerous(plan, field, one.value, best.value);
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
export function withAllowance(
  field: DateField,
  value: string | number,
  allowances: Allowance[],
): { value: string | number; used: Allowance[] } {
  let largest: Allowance | null = null;
  for (const one of allowances) if (allowedBy(one, field) > (largest ? allowedBy(largest, field) : 0)) largest = one;
  if (value === "none" || !largest) return { value, used: [] };
  const used = [largest];
  if (field === "minutes") return { value: timesFactor(Number(value), largest.minutesFactor as string), used };
  const amount = allowedBy(largest, field);
  return { value: field === "attempts" ? Number(value) + amount : addDays(String(value), amount), used };
}

const anchorIn = (given: GivenValue | undefined): Anchor | null => (isAnchor(given) ? given : null);

function resolveFrom(
  plan: Plan,
  item: Item,
  field: DateField,
  overrides: Override[],
  allowances: Allowance[],
  memberships: Memberships,
): ResolvedField {
  let best: Candidate | null = null;
  for (const override of overrides) {
    const value = valueFor(override.dates[field], memberships, plan);
    if (value === null) continue;
    const { target } = override;
    if (target.kind === "person") {
      const origin: Origin = { kind: "person", target, anchor: anchorIn(override.dates[field]), allowances: [] };
      return { value, undated: false, origin };
    }
    const one = { override, value };
    if (!best || beats(plan, field, one, best, memberships)) best = one;
  }
  const given = best ? best.override.dates[field] : item.dates[field];
  const value = best ? best.value : valueFor(given, memberships, plan);
  const origin: Origin = {
    kind: best ? "override" : "base",
    target: best?.override.target ?? null,
    anchor: anchorIn(given),
    allowances: [],
  };
  if (value === null) return { value, undated: given !== undefined, origin };
  if (allowances.length === 0) return { value, undated: false, origin };
  const allowed = withAllowance(field, value, allowances);
  return { value: allowed.value, undated: false, origin: { ...origin, allowances: allowed.used } };
}

const noAllowances: Allowance[] = [];
/** The allowances that may change dates and limits of an item: to an event they give nothing. */
export const allowancesFor = (plan: Plan, item: Item): Allowance[] =>
  item.kind === "event" ? noAllowances : lookup(plan).allowances;

/** The overrides of an item and the allowances that reach somebody. */
export const theirs = (plan: Plan, item: Item, memberships: Memberships): [Override[], Allowance[]] => {
  const allowances = allowancesFor(plan, item);
  return [
    (lookup(plan).overridesOfItem.get(item.id) ?? []).filter(({ target }) => memberOf(memberships, target)),
    allowances.length === 0 ? noAllowances : allowances.filter(({ target }) => memberOf(memberships, target)),
  ];
};

/** One field for one student out of some overrides: those that are asked about, instead of all there are. */
export function resolveAmong(
  plan: Plan,
  item: Item,
  memberships: Memberships,
  field: DateField,
  overrides: Override[],
): ResolvedField {
  const fitting = overrides.filter(({ target }) => memberOf(memberships, target));
  const allowances = allowancesFor(plan, item).filter(({ target }) => memberOf(memberships, target));
  return resolveFrom(plan, item, field, fitting, allowances, memberships);
}

/** One field of an item for one student. */
export function resolveField(plan: Plan, item: Item, memberships: Memberships, field: DateField): ResolvedField {
  const [overrides, allowances] = theirs(plan, item, memberships);
  return resolveFrom(plan, item, field, overrides, allowances, memberships);
}

/** Every field of an item for one student. */
export function resolveDates(plan: Plan, item: Item, memberships: Memberships): ResolvedDates {
  const [overrides, allowances] = theirs(plan, item, memberships);
  const resolved = {} as ResolvedDates;
  for (const field of dateFields) resolved[field] = resolveFrom(plan, item, field, overrides, allowances, memberships);
  return resolved;
}

/** Whom a field of an item may differ for: the targets of its overrides, and of allowances that change such a field. */
export function differingTargets(plan: Plan, item: Item, field: DateField): Target[] {
  const overridden = (lookup(plan).overridesOfItem.get(item.id) ?? []).filter(
    ({ dates }) => dates[field] !== undefined,
  );
  // An allowance changes nothing of a field that is unset for everyone.
  const isSet = item.dates[field] !== undefined || overridden.length > 0;
  const allowed = isSet ? allowancesFor(plan, item).filter((one) => allowedBy(one, field) > 0) : [];
  return [...overridden, ...allowed].map(({ target }) => target);
}

/** The instant of a moment's value; null where it is unset or "none". */
export const instantOfValue = (plan: Plan, value: Value | undefined): number | null =>
  value == null || value === "none" ? null : instantOf(String(value), plan.course.timeZone);

/** The instant of a resolved moment; null where it is unset or "none". */
export const resolvedInstant = (plan: Plan, dates: ResolvedDates, field: MomentField): number | null =>
  instantOfValue(plan, dates[field].value);

/**
 * What the student is told of where a date came from: named layers and sections only. Dates from a person's
 * override, a private layer or an allowance are simply theirs.
 */
export function toldOrigin(plan: Plan, origin: Origin): string | null {
  if (origin.allowances.length > 0 || origin.kind !== "override" || !origin.target) return null;
  if (origin.target.kind === "section") return "for your section";
  // A set is the staff's own word for some groups: the date is simply theirs.
  if (origin.target.kind === "set") return null;
  const group = plan.groups[origin.target.id];
  const layer = group && plan.layers[group.layerId];
  return group && layer && !layer.private ? `for ${group.label}` : null;
}

/** What is wrong with the order of three moments, of which any may be missing: opens ≤ due ≤ closes must hold. */
export function orderFault(opens: number | null, due: number | null, closes: number | null): string | null {
  if (opens !== null && due !== null && due < opens) return "due before it opens";
  if (due !== null && closes !== null && closes < due) return "closes before it is due";
  if (opens !== null && closes !== null && closes < opens) return "closes before it opens";
  return null;
}
