/**
 * Whose value of a moment passes a test, for all students at once: the rules of section 6 as sets. Overrides of a
 * person are final; those of groups and sections go by the course's policy; then the base; allowances move due and
 * closes by whole days. Nothing is asked student by student. Source: semantics.md section 6, steps 1 to 4.
 *
 * This is the rule of timing/resolving/decide.ts said a second time, as sets: two fields of everybody's dates take about
 * 110 ms for 5,000 students and 400 items where all of reach takes 190 (`npm run bench timing reach`). moments.test.ts
 * holds both to each other.
 */

import { addDays, instantOf } from "../clock/local-time.ts";
import { lookup } from "../plan/lookup.ts";
import type { Item, Plan, Target } from "../plan/types.ts";
import { type Algebra, type Bits, isEmpty } from "../sets/bits.ts";
import { type Calendar, isAnchor, wallByCalendar } from "../timing/anchors.ts";
import { inOrder } from "../timing/resolving/precedence.ts";
import type { GivenValue, MomentField } from "../timing/resolving/resolve.ts";

export interface MomentTest {
  field: MomentField;
  /** Asked of the instant; null where it is unset or "none". */
  passes(instant: number | null): boolean;
  /** Of two values the more generous decides: true where it passes if any passes, false where only if all do. */
  ifAny: boolean;
}

export interface MomentWorld {
  plan: Plan;
  sets: Algebra;
  members(target: Target): Bits;
  /** Everyone, by the largest number of extra days that their allowances give. */
  extensions(): { days: number; bits: Bits }[];
  /** Everyone, by whose meetings they go by: meeting anchors are other dates for each. */
  calendars(): { calendar: Calendar; bits: Bits }[];
}

/** Students by the largest extension of due and closes that an allowance gives them. */
export function extensionsOf({ plan, sets, members }: Pick<MomentWorld, "plan" | "sets" | "members">): {
  days: number;
  bits: Bits;
}[] {
  const given = lookup(plan).allowances.filter(({ extraDays }) => extraDays !== null && extraDays > 0);
  const found: { days: number; bits: Bits }[] = [];
  let left = sets.everyone;
  for (const days of [...new Set(given.map(({ extraDays }) => extraDays as number))].sort((a, b) => b - a)) {
    const theirs = given
      .filter(({ extraDays }) => extraDays === days)
      .reduce((bits, { target }) => sets.either(bits, sets.both(left, members(target))), sets.nobody);
    found.push({ days, bits: theirs });
    left = sets.without(left, theirs);
  }
  return [...found, { days: 0, bits: left }];
}

export function momentBits(world: MomentWorld, item: Item, test: MomentTest): Bits {
  const overrides = lookup(world.plan).overridesOfItem.get(item.id) ?? [];
  const { field } = test;
  const { sets } = world;
  if (!isAnchor(item.dates[field]) && !overrides.some(({ dates }) => isAnchor(dates[field])))
    return passing(world, item, test, null);
  return world
    .calendars()
    .reduce(
      (bits, { calendar, bits: theirs }) => sets.either(bits, sets.both(theirs, passing(world, item, test, calendar))),
      sets.nobody,
    );
}

/** Whose value passes, if everyone went by one calendar; null where no value is anchored. */
function passing(world: MomentWorld, item: Item, test: MomentTest, calendar: Calendar | null): Bits {
  const { plan, members } = world;
  const { everyone, nobody, both, either, without } = world.sets;
  const { field, passes, ifAny } = test;
  const { timeZone } = plan.course;
  /** What a given value is by the calendar; an anchor without a meeting sets nothing. */
  const wallOf = (given: GivenValue | undefined): string | undefined =>
    isAnchor(given)
      ? ((calendar && wallByCalendar(given, calendar, timeZone)) ?? undefined)
      : (given as string | undefined);
  const at = (value: string | undefined, days: number): number | null =>
    value === undefined || value === "none" ? null : instantOf(days === 0 ? value : addDays(value, days), timeZone);
  const set = (lookup(plan).overridesOfItem.get(item.id) ?? []).filter(
    ({ dates }) => wallOf(dates[field]) !== undefined,
  );
  const base = wallOf(item.dates[field]);
  if (set.length === 0 && (base === undefined || base === "none" || field === "opens"))
    return passes(at(base, 0)) ? everyone : nobody;

  let holds = nobody;
  let left = everyone;
  for (const { target, dates } of set) {
    if (target.kind !== "person") continue;
    const theirs = members(target);
    left = without(left, theirs);
    holds = passes(at(wallOf(dates[field]), 0)) ? either(holds, theirs) : without(holds, theirs);
  }
  const order = inOrder(plan, set);
  const extensions = field === "opens" || item.kind === "event" ? [{ days: 0, bits: everyone }] : world.extensions();
  for (const { days, bits } of extensions) {
    let rest = both(left, bits);
    if (isEmpty(rest)) continue;
    for (const overrides of order) {
      let [pass, fail] = [nobody, nobody];
      for (const { target, override } of overrides) {
        const theirs = both(rest, members(target));
        if (passes(at(wallOf(override.dates[field]), days))) pass = either(pass, theirs);
        else fail = either(fail, theirs);
      }
      holds = either(holds, ifAny ? pass : without(pass, fail));
      rest = without(without(rest, pass), fail);
    }
    if (passes(at(base, days))) holds = either(holds, rest);
  }
  return holds;
}
