/**
 * The dates and limits of one student for one item, a field at a time: the facts that decide.ts decides by, and where
 * the value came from. Meeting anchors are read by the student's own calendar first.
 * Source: semantics.md section 6, steps 1 to 4. table.ts gathers the facts of all students at once.
 */

import { instantOf } from "../../clock/local-time.ts";
import { lookup } from "../../plan/lookup.ts";
import type { Allowance, Anchor, DateField, Item, Override, Plan, Target } from "../../plan/types.ts";
import { isAnchor, wallByCalendar } from "../anchors.ts";
import { allowedBy, type Candidate, dateFields, decide, type MomentField, type Value } from "./decide.ts";
import { type Memberships, memberOf } from "./memberships.ts";
import { precedence } from "./precedence.ts";

export {
  allowedBy,
  dateFields,
  isMomentField,
  type MomentField,
  momentFields,
  timesFactor,
  type Value,
} from "./decide.ts";
export { type Memberships, memberOf, membershipsAt, membershipsIn } from "./memberships.ts";

/** What a field may be set to: "none", a wall-clock time or a meeting anchor, a number, a word. */
export type GivenValue = string | number | Anchor;
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

const anchorIn = (given: GivenValue | undefined): Anchor | null => (isAnchor(given) ? given : null);

/** The overrides among some that set a field for somebody, with what they set it to by their calendar. */
export function candidatesAmong(
  plan: Plan,
  overrides: readonly Override[],
  field: DateField,
  memberships: Memberships,
): Candidate[] {
  return overrides.flatMap((override) => {
    const value = valueFor(override.dates[field], memberships, plan);
    return value === null ? [] : [{ override, value, place: () => precedence(plan, override.target, memberships) }];
  });
}

function resolveFrom(
  { plan, item, memberships }: { plan: Plan; item: Item; memberships: Memberships },
  field: DateField,
  [overrides, allowances]: [Override[], Allowance[]],
): ResolvedField {
  const candidates = candidatesAmong(plan, overrides, field, memberships);
  const own = item.dates[field];
  const { value, winner, used } = decide(plan, field, {
    candidates,
    base: valueFor(own, memberships, plan),
    allowances,
  });
  const given = winner ? winner.override.dates[field] : own;
  const target = winner?.override.target ?? null;
  const kind = target === null ? "base" : target.kind === "person" ? "person" : "override";
  return {
    value,
    undated: value === null && given !== undefined,
    origin: { kind, target, anchor: anchorIn(given), allowances: used },
  };
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
  return resolveFrom({ plan, item, memberships }, field, [fitting, allowances]);
}

/** One field of an item for one student. */
export function resolveField(plan: Plan, item: Item, memberships: Memberships, field: DateField): ResolvedField {
  return resolveFrom({ plan, item, memberships }, field, theirs(plan, item, memberships));
}

/** Every field of an item for one student. */
export function resolveDates(plan: Plan, item: Item, memberships: Memberships): ResolvedDates {
  const given = theirs(plan, item, memberships);
  const resolved = {} as ResolvedDates;
  for (const field of dateFields) resolved[field] = resolveFrom({ plan, item, memberships }, field, given);
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
