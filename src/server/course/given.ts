/** What somebody on the staff is told of their own scope. */
import type { Given } from "../../api/course.ts";
import { coordinatorsAt } from "../../core/access/staff.ts";
import { plainName } from "../../core/plan/lookup.ts";
import type { CourseAccess } from "../http/guard.ts";

type Access = Pick<CourseAccess, "scope" | "plan" | "whole" | "membership">;

/** Null for the coordinator. `at`: epoch milliseconds. */
export function givenTo({ scope, plan, whole, membership }: Access, at: number): Given | null {
  return (
    scope && {
      own: [...scope.own].filter((id) => plan.groups[id]),
      sectionIds: [...scope.sectionIds],
      groupIds: [...scope.groupIds],
      personId: membership.personId,
      may: plan.course.staffMay[membership.personId] ?? [],
      coordinators: coordinatorsAt(whole, at).map(plainName),
    }
  );
}
