/** The courses of the institution: a page of them at a time, and entering one. */

import { membershipOf } from "../../core/access/roles.ts";
import { sayInstant } from "../../core/clock/local-time.ts";
import { derivedId, put } from "../../core/plan/command.ts";
import { plainLocale, withLocale } from "../../core/text/locale.ts";
import type { Account } from "../accounts/accounts.ts";
import { noteEvent } from "../accounts/security-events.ts";
import { lockCourse, moveCourse } from "../store/courses.ts";
import { likeWords, parameters, rows, transaction } from "../store/database.ts";
import { type FindingCounts, sayFindings } from "./findings.ts";
import { mostCounted, type Page, pageOf } from "./pages.ts";

/** By the days of its term, unless it is archived. */
export const courseStates = ["to come", "running", "over", "archived"] as const;
export type CourseState = (typeof courseStates)[number];
/** What else may be so of a course. */
export const courseTraits = ["empty", "drafting", "with findings"] as const;
export type CourseTrait = (typeof courseTraits)[number];

export interface ListedCourse {
  id: string;
  code: string;
  title: string;
  term: string;
  state: CourseState;
  students: number;
  /** Names, given name first. */
  coordinators: string;
  /** How many people have drafted something that is not published yet. */
  drafts: number;
  /** What the audit found when it last asked: "2 leaks"; empty where nothing was, or it has not asked yet. */
  findings: string;
}

export interface CourseQuestion {
  words: string;
  term: string;
  state: CourseState | CourseTrait | "";
  page: number;
}

const stateTests: Record<Exclude<CourseState | CourseTrait, "empty">, string> = {
  "to come": "c.archived_at IS NULL AND c.term_start > ?",
  running: "c.archived_at IS NULL AND c.term_start <= ? AND c.term_end >= ?",
  over: "c.archived_at IS NULL AND c.term_end < ?",
  archived: "c.archived_at IS NOT NULL",
  drafting: "EXISTS (SELECT 1 FROM draft_commands d WHERE d.course_id = c.id AND NOT d.undone)",
  "with findings": `EXISTS (SELECT 1 FROM course_findings f WHERE f.course_id = c.id
    AND f.leaks + f.stranded + f.others > 0)`,
};

/** Courses, the latest term first, in the order of their codes. `day`: today, where the institution is. */
export async function coursesListed(
  { words, term, state, page }: CourseQuestion,
  { day, at }: { day: string; at: number },
): Promise<Page<ListedCourse>> {
  const tests = ["1 = 1"];
  const values: string[] = [];
  if (term) {
    tests.push("c.term = ?");
    values.push(term);
  }
  // The few empty ones are found first, and read by their ids: the planner would go through all courses.
  const table = state === "empty" ? `${emptyCourses} AS empty STRAIGHT_JOIN courses c ON c.id = empty.id` : "courses c";
  if (state === "empty") tests.push("c.archived_at IS NULL");
  else if (state) {
    tests.push(stateTests[state]);
    values.push(...[...stateTests[state].matchAll(/\?/g)].map(() => day));
  }
  for (const word of words.split(/\s+/).filter(Boolean).slice(0, 6)) {
    tests.push("CONCAT(c.code, ' ', c.title) LIKE ?");
    values.push(`%${likeWords(word)}%`);
  }
  const where = tests.join(" AND ");
  const [count] = await rows<{ all: number }>(
    `SELECT COUNT(*) AS \`all\` FROM (SELECT 1 FROM ${table} WHERE ${where} LIMIT ${mostCounted + 1}) AS counted`,
    values,
  );
  const { from, most, ...about } = pageOf(page, Number(count?.all ?? 0));
  const found = await rows<Omit<ListedCourse, "state"> & { starts: string; ends: string; archived: number }>(
    `SELECT c.id, c.code, c.title, c.term, c.term_start AS starts, c.term_end AS ends,
       c.archived_at IS NOT NULL AS archived
     FROM (SELECT c.id FROM ${table} WHERE ${where} ORDER BY c.term_start DESC, c.code, c.id LIMIT ${most} OFFSET ${from}) AS page
     JOIN courses c ON c.id = page.id ORDER BY c.term_start DESC, c.code, c.id`,
    values,
  );
  const more = await factsOf(
    found.map(({ id }) => id),
    at,
  );
  return {
    ...about,
    rows: found.map(({ starts, ends, archived, ...course }) => ({
      ...course,
      state: archived ? "archived" : starts > day ? "to come" : ends < day ? "over" : "running",
      ...(more.get(course.id) ?? { students: 0, coordinators: "", drafts: 0, findings: "" }),
    })),
  };
}

/**
 * Courses without a student. Of a course that the audit has asked, it has counted the students, some seconds ago at most; those
 * of the few others, of which it says -1, are looked for.
 */
const emptyCourses = `(SELECT course_id AS id FROM course_findings WHERE students = 0
  UNION ALL SELECT o.course_id FROM course_findings o WHERE o.students = -1 AND NOT EXISTS
    (SELECT 1 FROM enrolments e WHERE e.course_id = o.course_id AND e.role = 'student' AND e.until IS NULL))`;

/** What stands beside each of a page's courses. */
async function factsOf(ids: string[], at: number) {
  const facts = new Map<string, Pick<ListedCourse, "students" | "coordinators" | "drafts" | "findings">>();
  if (ids.length === 0) return facts;
  const found = await rows<
    FindingCounts & { id: string; students: number; coordinators: string | null; drafts: number }
  >(
    `SELECT c.id, COALESCE(f.leaks, 0) AS leaks, COALESCE(f.stranded, 0) AS stranded, COALESCE(f.others, 0) AS others,
       (SELECT COUNT(DISTINCT e.person_id) FROM enrolments e WHERE e.course_id = c.id AND e.role = 'student'
          AND e.since <= ? AND (e.until IS NULL OR e.until > ?)) AS students,
       (SELECT GROUP_CONCAT(DISTINCT CONCAT(p.given_name, ' ', p.family_name) SEPARATOR ', ') FROM enrolments e
          JOIN people p ON p.id = e.person_id WHERE e.course_id = c.id AND e.role = 'coordinator'
          AND e.since <= ? AND (e.until IS NULL OR e.until > ?)) AS coordinators,
       (SELECT COUNT(DISTINCT d.account_id) FROM draft_commands d WHERE d.course_id = c.id AND NOT d.undone) AS drafts
     FROM courses c LEFT JOIN course_findings f ON f.course_id = c.id WHERE c.id IN (${parameters(ids)})`,
    [at, at, at, at, ...ids],
  );
  for (const { id, students, coordinators, drafts, ...counts } of found)
    facts.set(id, {
      students: Number(students),
      coordinators: coordinators ?? "",
      drafts: Number(drafts),
      findings: sayFindings(counts),
    });
  return facts;
}

/** How long an administrator stays in a course that they entered, in milliseconds. */
const staysFor = 8 * 3_600_000;

/**
 * Lets an administrator into a course as a coordinator for a while. The journal says so, and so does the staff's list: nobody
 * looks in unseen. Whoever coordinates it anyway just goes in. False where there is no such course.
 */
export async function enterCourse(
  courseId: string,
  { id: accountId, ...account }: Account,
  at: number,
): Promise<boolean> {
  const entered = await transaction(async (connection) => {
    const stored = await lockCourse(courseId, connection);
    if (!stored) return null;
    const { plan } = stored;
    if (membershipOf(plan, account.sourcedId, at)?.role === "coordinator") return false;
    const known = Object.values(plan.people).find(({ sourcedId }) => sourcedId === account.sourcedId);
    const [familyName = "", givenName = ""] = account.displayName.split(", ");
    const { sourcedId } = account;
    const person = known ?? {
      id: derivedId(courseId, "administrator", sourcedId),
      ...{ sourcedId, givenName, familyName, username: null, email: null, attributes: {} },
    };
    const until = at + staysFor;
    const enrolment = {
      id: derivedId(courseId, "entered", sourcedId, String(at)),
      personId: person.id,
      ...{ sectionId: null, role: "coordinator" as const, since: at, until, origin: "hand" as const, home: false },
    };
    const next = put(put(plan, "people", [person]), "enrolments", [enrolment]);
    const when = withLocale(plainLocale, () => sayInstant(until, plan.course.timeZone));
    const says = `An administrator entered the course, as a coordinator until ${when}`;
    const lines = [{ says, detail: { personId: person.id } }];
    await moveCourse(courseId, stored, next, { accountId, at, kind: "staff", lines }, connection);
    return true;
  });
  if (entered) await noteEvent({ kind: "entered a course", accountId, courseId });
  return entered !== null;
}
