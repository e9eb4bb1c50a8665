/** Attempts of those whom the filter of the gradebook shows. */
import type { AttemptRow } from "../../../../api/attempts.ts";
import type { Plan } from "../../../../core/plan/types.ts";
import { membersThen } from "../../../../core/reach/group-work.ts";

/** One that is a group's is shown where any of its members is. */
export function attemptsAmong(plan: Plan, attempts: AttemptRow[], personIds: readonly string[]): AttemptRow[] {
  const persons = new Set(personIds);
  return attempts.filter(({ isGroup, holderId, begunAt }) =>
    isGroup ? membersThen(plan, holderId, begunAt).some((id) => persons.has(id)) : persons.has(holderId),
  );
}
