/** Whom on the staff a student may write to, where the course allows it. Source: semantics.md section 9. */
import { compareNames, holdsAt, lookup } from "../plan/lookup.ts";
import type { Person, Plan } from "../plan/types.ts";
import { membershipsAt } from "../timing/resolving/memberships.ts";

/**
 * Instructors of a student's sections and groups at t, by name; the coordinators where nobody teaches them; nobody where
 * the course does not allow it. Support people are not told of: that somebody has one may be nobody else's business.
 */
export function staffToWriteTo(plan: Plan, personId: string, t: number): Person[] {
  if (!plan.course.mayWriteToStaff) return [];
  const { sectionIds, groupIds } = membershipsAt(plan, personId, t);
  const { placementsOfPerson } = lookup(plan);
  const open = Object.values(plan.enrolments).filter((row) => holdsAt(row, t));
  const leads = (staffId: string) =>
    (placementsOfPerson.get(staffId) ?? []).some((row) => holdsAt(row, t) && groupIds.has(row.groupId));
  const teaching = open.filter(
    ({ role, sectionId, personId: staffId }) =>
      role === "instructor" && ((sectionId !== null && sectionIds.has(sectionId)) || leads(staffId)),
  );
  const found = teaching.length > 0 ? teaching : open.filter(({ role }) => role === "coordinator");
  const ids = new Set(found.map((row) => row.personId));
  ids.delete(personId);
  return [...ids].flatMap((id) => plan.people[id] ?? []).sort(compareNames);
}

/** What is said for whoever on the staff has no student and asks the coordinators for some. */
export const askingSubject = "Asks for sections or groups";
