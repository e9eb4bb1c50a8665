/** A new course out of a plan, in one transaction: the coordinator in it, and a copy of every file. Source: semantics.md 8. */
import type { PoolConnection } from "mysql2/promise";
import { derivedId } from "../../core/plan/command.ts";
import { difference } from "../../core/plan/difference.ts";
import { emptyPlan, type Person, type Plan } from "../../core/plan/types.ts";
import { type NewTerm, rollOver } from "../../core/rolling/roll-over.ts";
import { now } from "../clock.ts";
import { rows, transaction } from "../store/database.ts";
import { writeJournal } from "../store/journal.ts";
import { insertCourse, writeDifference } from "../store/plan-rows.ts";
import { copyFile } from "../store/work-copy.ts";

/** Bytes of the files that items of the old course hold; a file that is not there any more leaves its item without. */
export async function copyFiles(
  courseId: string,
  from: Plan,
  to: Plan,
  idOf: (id: string) => string,
  connection: PoolConnection,
): Promise<string[]> {
  const missing: string[] = [];
  /** Ids of files of the new course, with whether there was anything to copy. */
  const done = new Map<string, boolean>();
  for (const { file, title, id: itemId } of Object.values(from.items)) {
    if (!file) continue;
    const id = idOf(file.id);
    const known = done.get(id);
    if (known === true) continue;
    const isThere = await copyFile(courseId, file.id, to.course.id, id, connection);
    done.set(id, isThere);
    if (isThere) continue;
    missing.push(`The file of "${title}" was not found: choose one again.`);
    const item = to.items[idOf(itemId)];
    if (item) item.file = null;
  }
  return missing;
}

/**
 * Makes the course, once however often it is asked. Files are copied out of `courseId` alone, the course of whoever asks:
 * a plan that came as a file may say that it is of any other.
 */
export function makeCourse(
  courseId: string,
  from: Plan,
  term: NewTerm,
  coordinator: Person,
  accountId: string,
): Promise<{ id: string; left: string[] }> {
  const at = now();
  const { plan, left, idOf } = rollOver(from, term);
  return transaction(async (connection) => {
    const [there] = await rows("SELECT 1 FROM courses WHERE id = ?", [term.id], connection);
    if (there) return { id: term.id, left };
    await insertCourse(plan.course, connection);
    const missing = await copyFiles(courseId, from, plan, idOf, connection);
    const personId = derivedId(term.id, coordinator.id);
    plan.people[personId] = { ...coordinator, id: personId };
    const enrolmentId = derivedId(term.id, coordinator.id, "coordinator");
    const open = { personId, sectionId: null, role: "coordinator" as const, since: at, until: null };
    plan.enrolments[enrolmentId] = { id: enrolmentId, ...open, origin: "hand", home: false };
    await writeDifference(term.id, difference(emptyPlan(plan.course), plan), connection);
    const says = `Made from ${from.course.code} ${from.course.term}`;
    const entry = { accountId, at, kind: "publication" as const, lines: [{ says }] };
    await writeJournal(term.id, 0, entry, connection);
    return { id: term.id, left: [...left, ...missing] };
  });
}
