/** What somebody is in at a moment: everything that an override, an allowance or an audience can name. */
import { holdsAt, lookup, studentsAt } from "../../plan/lookup.ts";
import type { Item, Plan, Target } from "../../plan/types.ts";
import type { Algebra, Bits } from "../../sets/bits.ts";
import { type Calendar, calendarOf } from "../anchors.ts";

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

/**
 * The students of a course at a moment, as the dates of all of them at once ask for them: what a reach is as far as dates
 * are concerned. Sets of students are bits, by their place in `students`.
 */
export interface StudentsAt {
  plan: Plan;
  t: number;
  students: readonly string[];
  indexOf: ReadonlyMap<string, number>;
  everyone: Bits;
  sets: Algebra;
  /** Who is in what: the same object for the same memberships. */
  membershipSets: object;
  memberships(index: number): Memberships;
  members(target: Target): Bits;
  /** Students by whose meetings they go by. */
  calendars(): { calendar: Calendar; bits: Bits }[];
  /** Whom an item is meant for. */
  meant(item: Item): Bits;
}

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

/** Students of a section, group or named set at t, or the one student who is named, by name. */
export function studentsAmong(plan: Plan, target: Target, t: number): string[] {
  const fits = (personId: string) => {
    if (target.kind === "person") return personId === target.id;
    const { groupIds, sectionIds } = membershipsAt(plan, personId, t);
    if (target.kind === "set") return (plan.sets[target.id]?.groupIds ?? []).some((id) => groupIds.has(id));
    return (target.kind === "group" ? groupIds : sectionIds).has(target.id);
  };
  return studentsAt(plan, t).filter(fits);
}
