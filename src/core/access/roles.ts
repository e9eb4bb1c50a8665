/** Who may do what in a course. Source: semantics.md section 9. */

import { once } from "../memo.ts";
import { holdsAt, lookup } from "../plan/lookup.ts";
import type { Plan, Role } from "../plan/types.ts";

const strength: Role[] = ["coordinator", "instructor", "support", "student", "visitor"];

// Asked at every request.
const bySourcedId = once((table: Plan["people"]) => new Map(Object.values(table).map((one) => [one.sourcedId, one])));

export interface Membership {
  personId: string;
  /** The strongest role among the open enrolments. */
  role: Role;
}

/** The role that counts, of all that somebody has at one time; undefined where they have none. */
export const strongestOf = (roles: readonly Role[]): Role | undefined =>
  strength.find((candidate) => roles.includes(candidate));

/** What somebody is in a course at t, by the registrar's id; null where they are not in it. */
export function membershipOf(plan: Plan, sourcedId: string, t: number): Membership | null {
  const person = bySourcedId(plan.people).get(sourcedId);
  if (!person) return null;
  const roles = (lookup(plan).enrolmentsOfPerson.get(person.id) ?? [])
    .filter((row) => holdsAt(row, t))
    .map(({ role }) => role);
  const role = strongestOf(roles);
  return role ? { personId: person.id, role } : null;
}
