/** A step of the plan that somebody takes live: in a transaction of its own under the course's lock. Source: semantics.md section 8. */
import type { PoolConnection } from "mysql2/promise";
import { type Refusal, refuse } from "../../core/plan/command.ts";
import type { Plan } from "../../core/plan/types.ts";
import type { JournalKind } from "../../core/review/journal.ts";
import { now } from "../clock.ts";
import { lockCourse, moveCourse, remember } from "../store/courses.ts";
import { transaction } from "../store/database.ts";

export type Step<Extra = object> = ({ plan: Plan; says: string } & Extra) | Refusal;

/** Takes a step of the plan and writes it with its line in the journal, or gives why not; nothing is half done. */
export async function liveStep<Extra extends object>(
  courseId: string,
  accountId: string,
  kind: JournalKind,
  step: (plan: Plan, at: number) => Step<Extra>,
): Promise<Step<Extra>> {
  const { result, stored } = await transaction(async (connection: PoolConnection) => {
    const before = await lockCourse(courseId, connection);
    if (!before) return { result: refuse("course.gone", "The course is no longer there."), stored: null };
    const at = now();
    const result = step(before.plan, at);
    if ("refused" in result || result.plan === before.plan) return { result, stored: null };
    const entry = { accountId, at, kind, lines: [{ says: result.says }] };
    const revision = await moveCourse(courseId, before, result.plan, entry, connection);
    return { result, stored: { revision, plan: result.plan } };
  });
  if (stored) remember(courseId, stored);
  return result;
}
