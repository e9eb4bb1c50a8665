/** What waits for somebody in each course that they are on the staff of: findings, work to mark, proposals, drafts, plans, rosters. */
import { sayInstant } from "../../core/clock/local-time.ts";
import type { CourseOf } from "../store/courses.ts";
import { parameters, rows } from "../store/database.ts";
import { type FindingCounts, sayFindings } from "./findings.ts";

export interface Waiting {
  /** "12 to mark". */
  says: string;
  /** Where it is done. */
  href: string;
  /** Whether somebody may see what they should not, or miss what they must. */
  isUrgent: boolean;
}

type Counted = { courseId: string; count: number };

/** By course id, the most urgent first; nothing of courses in which somebody is a student. */
export async function waitingFor(
  accountId: string,
  courses: readonly CourseOf[],
  at: number,
): Promise<Map<string, Waiting[]>> {
  const staff = courses.filter(({ role }) => role === "coordinator" || role === "instructor" || role === "support");
  const own = staff.filter(({ role }) => role === "coordinator").map(({ course }) => course.id);
  const all = staff.map(({ course }) => course.id);
  const [findings, unmarked, proposals, drafts, planned, rosters] = await Promise.all([
    findingsIn(own),
    unmarkedIn(staff, at),
    proposalsIn(own),
    draftsOf(accountId, all),
    plannedBy(accountId, all),
    rostersIn(own),
  ]);
  const waiting = new Map<string, Waiting[]>(all.map((id) => [id, []]));
  const add = (id: string, says: string, station: string, isUrgent = false) =>
    says && waiting.get(id)?.push({ says, href: `/workbench/${id}/${station}`, isUrgent });
  for (const { courseId, ...counts } of findings)
    add(courseId, sayFindings(counts), "reach", counts.leaks + counts.stranded > 0);
  for (const { courseId, count } of rosters)
    add(courseId, count === 1 ? "a roster to look at" : `${count} rosters to look at`, "intake");
  for (const { courseId, count } of proposals)
    add(courseId, count === 1 ? "a proposal" : `${count} proposals`, "review");
  for (const { courseId, count } of unmarked) add(courseId, `${count} to mark`, "gradebook");
  for (const { courseId, count } of drafts)
    add(courseId, count === 1 ? "1 change drafted" : `${count} changes drafted`, "review");
  for (const { courseId, at: moment, timeZone, state } of planned)
    add(
      courseId,
      state === "waiting" ? `publishes ${sayInstant(moment, timeZone)}` : "a planned publication was held back",
      "review",
      state !== "waiting",
    );
  return waiting;
}

const among = async <Row>(ids: string[], ask: (list: string) => Promise<Row[]>): Promise<Row[]> =>
  ids.length === 0 ? [] : ask(parameters(ids));

const findingsIn = (ids: string[]) =>
  among(ids, (list) =>
    rows<FindingCounts & { courseId: string }>(
      `SELECT course_id AS courseId, leaks, stranded, others FROM course_findings WHERE course_id IN (${list})`,
      ids,
    ),
  );

/** Hand-ins of work with points that have no mark, of students whom the asker marks: as many as the gradebook says. */
async function unmarkedIn(staff: CourseOf[], at: number): Promise<Counted[]> {
  const whole = staff.filter(({ role }) => role === "coordinator");
  const scoped = staff.filter(({ role }) => role !== "coordinator");
  const [all, theirs] = await Promise.all([unmarked(whole, "", at), unmarked(scoped, inScope, at)]);
  return [...all, ...theirs].map(({ courseId, count }) => ({ courseId, count: Number(count) }));
}
/** The student is in a section or a group that the asker was given. */
const inScope = `AND (EXISTS (SELECT 1 FROM enrolments s JOIN enrolments e ON e.section_id = s.section_id
      AND e.person_id = h.person_id AND e.until IS NULL WHERE s.person_id = ? AND s.role <> 'student' AND s.until IS NULL)
    OR EXISTS (SELECT 1 FROM placements g JOIN placements p ON p.group_id = g.group_id
      AND p.person_id = h.person_id AND p.until IS NULL WHERE g.person_id = ? AND g.until IS NULL))`;

async function unmarked(courses: CourseOf[], scope: string, at: number): Promise<Counted[]> {
  const asked = courses.map(({ course, personId }) =>
    rows<Counted>(
      `SELECT h.course_id AS courseId, COUNT(DISTINCT h.item_id, h.person_id) AS count FROM hand_ins h
       JOIN items i ON i.id = h.item_id AND i.points IS NOT NULL
       JOIN enrolments o ON o.person_id = h.person_id AND o.role = 'student' AND o.since <= ? AND (o.until IS NULL OR o.until > ?)
       LEFT JOIN marks m ON m.course_id = h.course_id AND m.item_id = h.item_id AND m.person_id = h.person_id
       WHERE h.course_id = ? AND m.item_id IS NULL
         AND NOT EXISTS (SELECT 1 FROM group_marks g JOIN placements p ON p.group_id = g.group_id AND p.person_id = h.person_id
           WHERE g.course_id = h.course_id AND g.item_id = h.item_id)
         ${scope} GROUP BY h.course_id`,
      [at, at, course.id, ...(scope ? [personId, personId] : [])],
    ),
  );
  return (await Promise.all(asked)).flat();
}

const proposalsIn = (ids: string[]) =>
  among(ids, (list) =>
    rows<Counted>(
      `SELECT course_id AS courseId, COUNT(*) AS count FROM proposals
       WHERE course_id IN (${list}) AND state = 'waiting' GROUP BY course_id`,
      ids,
    ),
  );
const draftsOf = (accountId: string, ids: string[]) =>
  among(ids, (list) =>
    rows<Counted>(
      `SELECT course_id AS courseId, COUNT(*) AS count FROM draft_commands
       WHERE account_id = ? AND course_id IN (${list}) AND NOT undone AND planned_id IS NULL GROUP BY course_id`,
      [accountId, ...ids],
    ),
  );
const plannedBy = (accountId: string, ids: string[]) =>
  among(ids, (list) =>
    rows<{ courseId: string; at: number; state: string; timeZone: string }>(
      `SELECT p.course_id AS courseId, p.at, p.state, c.time_zone AS timeZone FROM planned_publications p
       JOIN courses c ON c.id = p.course_id
       WHERE p.account_id = ? AND p.course_id IN (${list}) AND p.state IN ('waiting', 'held back') ORDER BY p.at`,
      [accountId, ...ids],
    ),
  );
const rostersIn = (ids: string[]) =>
  among(ids, (list) =>
    rows<Counted>(
      `SELECT course_id AS courseId, COUNT(*) AS count FROM pulls
       WHERE course_id IN (${list}) AND state = 'waiting' GROUP BY course_id`,
      ids,
    ),
  );
