/**
 * The dates and limits of one student for one item, a field at a time: person's override, overrides of groups
 * and sections by the course's policy, base value, allowances; each with where it came from.
 * Source: semantics.md section 6, steps 1 to 4.
 */
import { holdsAt, lookup } from "../plan/lookup.ts";
import type { Allowance, DateField, DateFields, Item, Override, Plan, Target } from "../plan/types.ts";
import { type Calendar, calendarOf } from "./anchors.ts";
import { addDays, instantOf } from "./wall.ts";

export const dateFields: DateField[] = ["opens", "due", "closes", "attempts", "minutes", "accessWord"];
const momentFields = new Set<DateField>(["opens", "due", "closes"]);

/** What a student is in at one moment: everything an override or an audience can name. */
export interface Memberships {
  personId: string;
  groupIds: Set<string>;
  /** Sections of every open enrolment. */
  sectionIds: Set<string>;
  /** Named sets that hold one of the groups. */
  setIds: Set<string>;
  /** Whose class meetings the person's meeting anchors go by. */
  readonly calendar: Calendar;
}

export interface Origin {
  kind: "base" | "override" | "person";
  /** Whom the winning override is for; null for the base value. */
  target: Target | null;
  /** The allowances that changed the value afterwards. */
  allowances: Allowance[];
}

export interface ResolvedField {
  /** Wall-clock text for moments, a number for limits, text for the access word, "none", or null where unset. */
  value: string | number | null;
  origin: Origin;
}
export type ResolvedDates = Record<DateField, ResolvedField>;

export const memberOf = (memberships: Memberships, target: Target): boolean =>
  target.kind === "person"
    ? target.id === memberships.personId
    : target.kind === "group"
      ? memberships.groupIds.has(target.id)
      : target.kind === "set"
        ? memberships.setIds.has(target.id)
        : memberships.sectionIds.has(target.id);

/** Memberships put together from the groups and sections that somebody is in at t. */
export function membershipsIn(
  plan: Plan,
  personId: string,
  groupIds: Set<string>,
  sectionIds: Set<string>,
  t: number,
): Memberships {
  const { setsOfGroup } = lookup(plan);
  const setIds = new Set<string>();
  for (const groupId of groupIds) for (const setId of setsOfGroup.get(groupId) ?? []) setIds.add(setId);
  let calendar: Calendar | null = null;
  return {
    personId,
    groupIds,
    sectionIds,
    setIds,
    get calendar() {
      calendar ??= calendarOf(plan, personId, groupIds, t);
      return calendar;
    },
  };
}

/** What one person is in at t. Only open enrolments count, and placements count only beside one. */
export function membershipsAt(plan: Plan, personId: string, t: number): Memberships {
  const { placementsOfPerson, enrolmentsOfPerson } = lookup(plan);
  const [groupIds, sectionIds] = [new Set<string>(), new Set<string>()];
  let enrolled = false;
  for (const enrolment of enrolmentsOfPerson.get(personId) ?? []) {
    if (!holdsAt(enrolment, t)) continue;
    enrolled = true;
    if (enrolment.sectionId) sectionIds.add(enrolment.sectionId);
  }
  if (enrolled)
    for (const placement of placementsOfPerson.get(personId) ?? [])
      if (holdsAt(placement, t)) groupIds.add(placement.groupId);
  return membershipsIn(plan, personId, groupIds, sectionIds, t);
}

/**
 * Where a target's layer stands in the course's order, and the group in its layer: smaller comes first. A named set
 * stands where the student's first group in it does.
 */
function standing(plan: Plan, target: Target, memberships: Memberships): readonly [number, number] {
  const place = (groupId: string) =>
    [layerRank(plan, { kind: "group", id: groupId }), groupRank(plan, groupId)] as const;
  if (target.kind === "group") return place(target.id);
  if (target.kind !== "set") return [layerRank(plan, target), 0];
  const theirs = (plan.sets[target.id]?.groupIds ?? []).filter((id) => memberships.groupIds.has(id)).map(place);
  return theirs.sort((a, b) => a[0] - b[0] || a[1] - b[1])[0] ?? [Number.MAX_SAFE_INTEGER - 1, 0];
}

/** Where the layer of a target stands in the course's order: smaller comes first. */
export function layerRank(plan: Plan, target: Target): number {
  const order = plan.course.layerOrder;
  if (target.kind === "section") {
    const placed = order.indexOf("sections");
    return placed >= 0 ? placed : Number.MAX_SAFE_INTEGER;
  }
  const layer = plan.layers[plan.groups[target.id]?.layerId ?? ""];
  if (!layer) return Number.MAX_SAFE_INTEGER - 1;
  const placed = order.indexOf(layer.id);
  return placed >= 0 ? placed : order.length + layer.position;
}

const size = (field: DateField, value: string | number, timeZone: string): number =>
  value === "none"
    ? Number.POSITIVE_INFINITY
    : momentFields.has(field)
      ? instantOf(String(value), timeZone)
      : Number(value);

/** Which of two values of a field is the more generous to the student. "None" always is. */
function moreGenerous(plan: Plan, field: DateField, a: string | number, b: string | number): boolean {
  if (a === "none" || b === "none") return a === "none" && b !== "none";
  const [left, right] = [size(field, a, plan.course.timeZone), size(field, b, plan.course.timeZone)];
  return field === "opens" ? left < right : left > right;
}

function pickOverride(plan: Plan, field: DateField, candidates: Override[], memberships: Memberships): Override | null {
  let best: Override | null = null;
  for (const candidate of candidates) {
    if (candidate.dates[field] === undefined) continue;
    if (!best) {
      best = candidate;
      continue;
    }
    const [a, b] = [standing(plan, candidate.target, memberships), standing(plan, best.target, memberships)];
    const [ours, theirs] = [a[0], b[0]];
    if (field === "accessWord") {
      // Two words: the one of the layer that comes first, then the group's.
      if (a[0] < b[0] || (a[0] === b[0] && a[1] < b[1])) best = candidate;
    } else if (plan.course.datePolicy === "layer order" && ours !== theirs) {
      if (ours < theirs) best = candidate;
    } else if (moreGenerous(plan, field, candidate.dates[field] as string, best.dates[field] as string)) {
      best = candidate;
    }
  }
  return best;
}

const groupRank = (plan: Plan, groupId: string): number => plan.groups[groupId]?.position ?? 0;

/** minutes × factor, exact in decimals, rounded up. */
export function timesFactor(minutes: number, factor: string): number {
  const [whole = "0", fraction = ""] = factor.split(".");
  const scale = 10n ** BigInt(fraction.length);
  const product = BigInt(minutes) * BigInt(whole + fraction);
  return Number((product + scale - 1n) / scale);
}

function allow(
  field: DateField,
  value: string | number,
  allowances: Allowance[],
): { value: string | number; used: Allowance[] } {
  if (value === "none") return { value, used: [] };
  const largest = (amount: (allowance: Allowance) => number) => {
    let best: Allowance | null = null;
    for (const allowance of allowances) if (amount(allowance) > (best ? amount(best) : 0)) best = allowance;
    return best;
  };
  if (field === "minutes") {
    const by = largest((allowance) => Number(allowance.minutesFactor ?? 0));
    return by?.minutesFactor
      ? { value: timesFactor(Number(value), by.minutesFactor), used: [by] }
      : { value, used: [] };
  }
  if (field === "due" || field === "closes") {
    const by = largest((allowance) => allowance.extraDays ?? 0);
    return by ? { value: addDays(String(value), by.extraDays ?? 0), used: [by] } : { value, used: [] };
  }
  if (field === "attempts") {
    const by = largest((allowance) => allowance.extraAttempts ?? 0);
    return by ? { value: Number(value) + (by.extraAttempts ?? 0), used: [by] } : { value, used: [] };
  }
  return { value, used: [] };
}

const base: Origin = { kind: "base", target: null, allowances: [] };

const noAllowances: Allowance[] = [];

function resolveFrom(
  plan: Plan,
  item: Item,
  field: DateField,
  overrides: Override[],
  allowances: Allowance[],
  memberships: Memberships,
): ResolvedField {
  let own: Override | null = null;
  let shared: Override[] | null = null;
  for (const override of overrides) {
    if (override.dates[field] === undefined) continue;
    if (override.target.kind === "person") own = override;
    else if (shared) shared.push(override);
    else shared = [override];
  }
  if (own)
    return {
      value: own.dates[field] as string | number,
      origin: { ...base, kind: "person", target: own.target },
    };
  const winner = shared && pickOverride(plan, field, shared, memberships);
  const value = (winner ? winner.dates[field] : item.dates[field]) ?? null;
  const origin: Origin = winner ? { ...base, kind: "override", target: winner.target } : base;
  if (value === null || allowances.length === 0) return { value, origin };
  const allowed = allow(field, value, allowances);
  return { value: allowed.value, origin: { ...origin, allowances: allowed.used } };
}

const theirs = (plan: Plan, item: Item, memberships: Memberships): [Override[], Allowance[]] => {
  const { overridesOfItem, allowances } = lookup(plan);
  return [
    (overridesOfItem.get(item.id) ?? []).filter(({ target }) => memberOf(memberships, target)),
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
  const allowances = lookup(plan).allowances.filter(({ target }) => memberOf(memberships, target));
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
  const { overridesOfItem, allowances } = lookup(plan);
  const changes = (allowance: Allowance) =>
    field === "minutes"
      ? allowance.minutesFactor !== null
      : field === "attempts"
        ? allowance.extraAttempts !== null
        : allowance.extraDays !== null;
  const overridden = (overridesOfItem.get(item.id) ?? []).filter(({ dates }) => dates[field] !== undefined);
  const allowed = field === "opens" || field === "accessWord" ? [] : allowances.filter(changes);
  // An allowance changes nothing of a field that is unset for everyone.
  return [...overridden, ...(item.dates[field] === undefined && overridden.length === 0 ? [] : allowed)].map(
    ({ target }) => target,
  );
}

/** The instant of a moment's value; null where it is unset or "none". */
export const instantOfValue = (plan: Plan, value: ResolvedField["value"] | undefined): number | null =>
  value == null || value === "none" ? null : instantOf(String(value), plan.course.timeZone);

/** The instant of a resolved moment; null where it is unset or "none". */
export const resolvedInstant = (plan: Plan, dates: ResolvedDates, field: "opens" | "due" | "closes"): number | null =>
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

/** Fields that are out of order for a student: opens ≤ due ≤ closes must hold over those that are set. */
export function outOfOrder(plan: Plan, dates: ResolvedDates): string | null {
  const [opens, due, closes] = (["opens", "due", "closes"] as const).map((field) =>
    resolvedInstant(plan, dates, field),
  );
  if (opens != null && due != null && due < opens) return "due before it opens";
  if (due != null && closes != null && closes < due) return "closes before it is due";
  if (opens != null && closes != null && closes < opens) return "closes before it opens";
  return null;
}
export type { DateFields };
