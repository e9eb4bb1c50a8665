/** The access log of a course, as its coordinator reads it. */
import { type AccessKind, type AccessLine, accessKinds } from "../../core/access/access-line.ts";
import { plainName } from "../../core/plan/lookup.ts";
import type { Plan } from "../../core/plan/types.ts";
import { givenFirst } from "../accounts/accounts.ts";
import { parameters, rows } from "../store/database.ts";

const pageSize = 100;
interface Found extends Omit<AccessLine, "whose"> {
  personId: string | null;
}

/** The access log of a course, the latest first. `before`: the last line that is known. */
export async function readAccessLog(
  plan: Plan,
  { kind, before }: { kind: AccessKind | null; before: string | null },
): Promise<{ lines: AccessLine[]; more: boolean }> {
  const kinds: string[] = kind ? [kind] : [...accessKinds];
  const found = await rows<Found>(
    `SELECT e.id, e.kind, COALESCE(a.display_name, '') AS \`by\`, e.person_id AS personId, e.what, e.at,
       e.last_at AS lastAt, e.times
     FROM security_events e LEFT JOIN accounts a ON a.id = e.account_id
     WHERE e.course_id = ? AND e.kind IN (${parameters(kinds)}) ${before ? "AND e.id < ?" : ""}
     ORDER BY e.id DESC LIMIT ${pageSize + 1}`,
    [plan.course.id, ...kinds, ...(before ? [before] : [])],
  );
  const lines = found.slice(0, pageSize).map(({ personId, by, ...line }): AccessLine => {
    const person = personId === null ? null : plan.people[personId];
    const whose = personId === null ? null : person ? plainName(person) : "somebody who is not in the course any more";
    return { ...line, by: givenFirst(by) || "somebody whose account is gone", whose };
  });
  return { lines, more: found.length > pageSize };
}
