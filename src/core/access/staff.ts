/** Staff of a course: who is given which sections and groups, invited, changed and withdrawn at once. Source: semantics.md section 9. */

import { type PersonCard, withPerson } from "../intake/commands.ts";
import { openPlacements } from "../placement/commands.ts";
import { derivedId, put, type Refusal, refuse } from "../plan/command.ts";
import { compareNames, fullName, holdsAt, isStudentAt, lookup } from "../plan/lookup.ts";
import { withCourse } from "../plan/tables.ts";
import {
  type Enrolment,
  isStaffRole,
  type Person,
  type Placement,
  type Plan,
  type Role,
  type StaffMay,
  type StaffRole,
  staffRoles,
} from "../plan/types.ts";
import { isolated } from "../text/names.ts";

/** What somebody is given; a coordinator sees all of the course, whatever stands here. */
export interface Given {
  role: StaffRole;
  sectionIds: string[];
  groupIds: string[];
  may: StaffMay[];
}
export interface StaffMember extends Given {
  person: Person;
}

/** Whether somebody may give marks and comments in a course: coordinator and instructors do, support where it is allowed. */
export const mayMark = (plan: Plan, personId: string, role: Role): boolean =>
  role === "coordinator" ||
  role === "instructor" ||
  (role === "support" && (plan.course.staffMay[personId] ?? []).includes("mark"));

const openStaff = (plan: Plan, personId: string, t: number) =>
  (lookup(plan).enrolmentsOfPerson.get(personId) ?? []).filter((row) => isStaffRole(row.role) && holdsAt(row, t));

/** Everybody on the staff at t, by name. */
export function staffAt(plan: Plan, t: number): StaffMember[] {
  const personIds = new Set(
    Object.values(plan.enrolments).flatMap((row) => (isStaffRole(row.role) && holdsAt(row, t) ? [row.personId] : [])),
  );
  return [...personIds]
    .flatMap((id) => plan.people[id] ?? [])
    .sort(compareNames)
    .map((person) => {
      const rows = openStaff(plan, person.id, t);
      return {
        person,
        role: staffRoles.find((role) => rows.some((row) => row.role === role)) ?? "support",
        sectionIds: rows.flatMap(({ sectionId }) => sectionId ?? []),
        groupIds: openPlacements(plan, person.id, t).map(({ groupId }) => groupId),
        may: plan.course.staffMay[person.id] ?? [],
      };
    });
}

/** Who coordinates at t, by name. */
export const coordinatorsAt = (plan: Plan, t: number): Person[] =>
  staffAt(plan, t).flatMap(({ role, person }) => (role === "coordinator" ? [person] : []));

/** Why somebody cannot be anything but coordinator: nobody else is one. */
function isLast(plan: Plan, personId: string, t: number): Refusal | null {
  const [only, another] = coordinatorsAt(plan, t);
  return only?.id === personId && !another
    ? refuse("staff.last", `${isolated(fullName(only))} is the only coordinator. Make somebody else one first.`)
    : null;
}

function endRows<Row extends Enrolment | Placement>(rows: Row[], now: number): Row[] {
  return rows.map((row) => ({ ...row, until: Math.max(now, row.since) }));
}

/** Gives somebody of the course just what is wanted from now on: what they had else ends, and stays on record. */
function give(plan: Plan, id: string, personId: string, given: Given, now: number): Plan | Refusal {
  const last = given.role === "coordinator" ? null : isLast(plan, personId, now);
  if (last) return last;
  if (given.sectionIds.some((one) => !plan.sections[one]))
    return refuse("section.gone", "One of these sections is no longer there. Choose again.");
  if (given.groupIds.some((one) => plan.groups[one]?.archivedAt !== null))
    return refuse("group.gone", "One of these groups is no longer there. Choose again.");
  const sections: (string | null)[] = given.sectionIds.length > 0 ? [...new Set(given.sectionIds)] : [null];
  const rows = openStaff(plan, personId, now);
  const places = openPlacements(plan, personId, now);
  const stays = (row: Enrolment) => row.role === given.role && sections.includes(row.sectionId);
  const base = { personId, since: now, until: null };
  const begun = sections
    .filter((sectionId) => !rows.some((row) => stays(row) && row.sectionId === sectionId))
    .map(
      (sectionId): Enrolment => ({
        ...base,
        id: derivedId(id, "staff", personId, sectionId ?? "course"),
        sectionId,
        role: given.role,
        origin: "hand",
        home: false,
      }),
    );
  const placed = [...new Set(given.groupIds)]
    .filter((groupId) => !places.some((row) => row.groupId === groupId))
    .map((groupId): Placement => ({ ...base, id: derivedId(id, "staff", personId, groupId), groupId, held: true }));
  const { [personId]: _, ...others } = plan.course.staffMay;
  const staffMay = given.may.length > 0 ? { ...others, [personId]: given.may } : others;
  const ended = endRows(
    rows.filter((row) => !stays(row)),
    now,
  );
  const left = endRows(
    places.filter((row) => !given.groupIds.includes(row.groupId)),
    now,
  );
  const next = put(put(plan, "enrolments", [...ended, ...begun]), "placements", [...left, ...placed]);
  return withCourse(next, { staffMay });
}

/** Somebody of the institution joins the staff. */
export function inviteStaff(plan: Plan, id: string, card: PersonCard, given: Given, now: number): Plan | Refusal {
  const added = withPerson(plan, id, card);
  if ("refused" in added) return added;
  if (openStaff(added.plan, added.personId, now).length > 0)
    return refuse(
      "staff.there",
      `${isolated(fullName(card))} is on the staff already. Change what they were given instead.`,
    );
  // Nobody is put over others whose fellow student they are.
  if (isStudentAt(added.plan, added.personId, now))
    return refuse(
      "staff.student",
      `${isolated(fullName(card))} is a student of this course, and cannot be on its staff too.`,
    );
  return give(added.plan, id, added.personId, given, now);
}

export function changeStaff(plan: Plan, id: string, personId: string, given: Given, now: number): Plan | Refusal {
  if (openStaff(plan, personId, now).length === 0)
    return refuse("staff.gone", "They are not on the staff any more. Invite them again.");
  return give(plan, id, personId, given, now);
}

/** Somebody is out from now on; what they wrote and marked stays. */
export function withdrawStaff(plan: Plan, personId: string, now: number): Plan | Refusal {
  const rows = openStaff(plan, personId, now);
  if (rows.length === 0) return refuse("staff.gone", "They are not on the staff any more.");
  const last = isLast(plan, personId, now);
  if (last) return last;
  const { [personId]: _, ...staffMay } = plan.course.staffMay;
  const next = put(
    put(plan, "enrolments", endRows(rows, now)),
    "placements",
    endRows(openPlacements(plan, personId, now), now),
  );
  return withCourse(next, { staffMay });
}
