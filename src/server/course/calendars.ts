/** Calendars as files and on a page: what is in them is decided at every reading. Semantics.md 6 and 9. */

import { gzipSync } from "node:zlib";
import type { Whose } from "../../api/calendars.ts";
import { dayOf, daysBetween, mondayOf } from "../../core/clock/local-time.ts";
import { type CalendarEntry, writeCalendar } from "../../core/formats/icalendar/write.ts";
import type { Plan } from "../../core/plan/types.ts";
import { type Entry, groupEntries, staffEntries, studentEntries } from "../../core/reach/calendars.ts";
import { reachAt } from "../../core/reach/reach.ts";
import { studentPage } from "../../core/reach/student-page.ts";
import { visitorPage } from "../../core/reach/visitor.ts";
import { dateTable } from "../../core/timing/resolving/table.ts";
import { digest } from "../accounts/digest.ts";
import { now } from "../clock.ts";
import { attachment } from "../http/attachment.ts";
import { tagged } from "../http/problem.ts";
import { type CourseOf, course } from "../store/courses.ts";
import { rows, run } from "../store/database.ts";
import { courseProgress, studentProgress } from "../store/progress.ts";
import type { ShownCourse } from "../student/shown-course.ts";

async function entriesOf(courseId: string, plan: Plan, whose: Whose): Promise<Entry[] | null> {
  const t = now();
  if (whose.kind === "student") {
    const page =
      studentPage(plan, await studentProgress(courseId, whose.id, plan), whose.id, t) ?? visitorPage(plan, whose.id, t);
    return page && studentEntries(page);
  }
  const group = whose.kind === "group" ? plan.groups[whose.id] : null;
  if (whose.kind === "group" && (!group || group.archivedAt !== null)) return null;
  const { progress } = await courseProgress(courseId);
  const reach = reachAt(plan, progress, t);
  return group ? groupEntries(reach, group) : staffEntries(dateTable(reach));
}

/** What a calendar is called where it is read: never by a private layer. */
function nameOf(plan: Plan, whose: Whose): string {
  const group = whose.kind === "group" ? plan.groups[whose.id] : undefined;
  const told = group && !plan.layers[group.layerId]?.private ? `, ${group.label}` : "";
  return `${plan.course.code} ${plan.course.title}${told}`;
}

export interface FileOptions {
  /** Where the links in it lead; null for none. */
  origin: string | null;
  /** How long before each entry a reminder comes; null: none does. */
  alarmMinutes?: number | null;
}

/** Minutes before an entry that an address asks for; null where it asks for no reminder. */
export function alarmIn(params: URLSearchParams): number | null {
  const minutes = Number(params.get("alarm") || Number.NaN);
  return Number.isInteger(minutes) && minutes >= 0 && minutes <= mostAlarmMinutes ? minutes : null;
}

/** The calendar as a file; null where it does not exist. */
export async function calendarFile(
  courseId: string,
  whose: Whose,
  { origin, alarmMinutes = null }: FileOptions,
): Promise<string | null> {
  const written = await writtenEntries(courseId, whose, origin);
  if (!written) return null;
  const { plan, entries } = written;
  return writeCalendar(nameOf(plan, whose), entries, { timeZone: plan.course.timeZone, alarmMinutes });
}

/** What somebody has to do in all the courses in which they are a student, as one calendar; empty where they are in none. */
export async function wholeCalendarFile(
  courses: readonly CourseOf[],
  { origin, alarmMinutes = null }: FileOptions,
): Promise<string> {
  const own = courses.filter(({ role }) => role === "student");
  const found = await Promise.all(
    own.map(({ course, personId }) => writtenEntries(course.id, { kind: "student", id: personId }, origin)),
  );
  const there = found.filter((one) => one !== null);
  // An entry says which course it is of: there it stands among others.
  const entries = there.flatMap(({ plan, entries: theirs }) =>
    theirs.map((entry) => ({ ...entry, title: `${plan.course.code}: ${entry.title}` })),
  );
  return writeCalendar("Your courses", entries, { timeZone: there[0]?.plan.course.timeZone ?? "UTC", alarmMinutes });
}

async function writtenEntries(
  courseId: string,
  whose: Whose,
  origin: string | null,
): Promise<{ plan: Plan; entries: CalendarEntry[] } | null> {
  const stored = await course(courseId);
  const entries = stored && (await entriesOf(courseId, stored.plan, whose));
  if (!stored || !entries) return null;
  const calendar = whose.kind === "staff" ? "staff" : `${whose.kind}/${whose.id}`;
  const { counted, withdrawn } = await counting(courseId, calendar, entries);
  return { plan: stored.plan, entries: [...entries.map(written), ...withdrawn.map(cancelled)] };

  function written({ itemId, ...entry }: Entry, at: number): CalendarEntry {
    const { sequence, changedAt, uid } = counted[at] as Counted;
    const address = origin && itemId ? `${origin}/course/${courseId}/item/${itemId}` : null;
    return {
      ...entry,
      uid: `${uid}.${courseId}@amber-weave`,
      sequence,
      changedAt,
      address: whose.kind === "staff" ? null : address,
      isLocal: itemId === null,
      isWithdrawn: false,
    };
  }

  /** Nothing is told of it but that it is gone: they may not see it any more. */
  function cancelled({ uid, sequence, changedAt, start }: Withdrawn): CalendarEntry {
    const about = { uid: `${uid}.${courseId}@amber-weave`, sequence, changedAt, start, end: null };
    const nothing = { text: "", place: "", address: null, category: null };
    return { ...about, ...nothing, title: "Withdrawn", isLocal: false, isWithdrawn: true };
  }
}

const mostAlarmMinutes = 7 * 24 * 60;
/** How long something that is gone is told as cancelled: programs that fetch seldom hear of it as well. */
const withdrawnForMs = 60 * 86_400_000;

interface Counted {
  uid: string;
  sequence: number;
  changedAt: number;
}
interface Withdrawn extends Counted {
  start: number;
}
interface CountedRow {
  entry: string;
  content: string;
  sequence: number;
  changed_at: number;
  uid: string | null;
  start_at: number | null;
  withdrawn_at: number | null;
}

/** How often each entry changed since it was first read; what is new, other or gone since the last reading is counted now. */
async function counting(
  courseId: string,
  calendar: string,
  entries: Entry[],
): Promise<{ counted: Counted[]; withdrawn: Withdrawn[] }> {
  const found = await rows<CountedRow>(
    `SELECT entry, content, sequence, changed_at, uid, start_at, withdrawn_at FROM calendar_entries
     WHERE course_id = ? AND calendar = ?`,
    [courseId, calendar],
  );
  const known = new Map(found.map((row) => [row.entry, row]));
  const t = now();
  const changed: CountedRow[] = [];
  const counted = entries.map(({ key, ...entry }): Counted => {
    const [id, content] = [digest(key), digest(JSON.stringify(entry))];
    const row = known.get(id);
    known.delete(id);
    const uid = digest(`${calendar} ${key}`).slice(0, 16);
    const isSame = row?.content === content && row.withdrawn_at === null;
    const sequence = row ? row.sequence + (isSame ? 0 : 1) : 0;
    const changedAt = isSame ? row.changed_at : t;
    if (!isSame || row.uid === null)
      changed.push({
        entry: id,
        content,
        sequence,
        changed_at: changedAt,
        uid,
        start_at: entry.start,
        withdrawn_at: null,
      });
    return { uid, sequence, changedAt };
  });
  const withdrawn: Withdrawn[] = [];
  for (const row of known.values()) {
    const { uid, start_at: start } = row;
    if (uid === null || start === null) continue;
    const later =
      row.withdrawn_at === null ? { ...row, sequence: row.sequence + 1, changed_at: t, withdrawn_at: t } : row;
    if (later !== row) changed.push(later);
    if (t - (later.withdrawn_at ?? t) < withdrawnForMs)
      withdrawn.push({ uid, start, sequence: later.sequence, changedAt: later.changed_at });
  }
  await storeCounted(courseId, calendar, changed);
  return { counted, withdrawn };
}

async function storeCounted(courseId: string, calendar: string, changed: CountedRow[]): Promise<void> {
  for (let from = 0; from < changed.length; from += 500) {
    const some = changed.slice(from, from + 500);
    // Two who read at once count the same change once.
    await run(
      `INSERT INTO calendar_entries
         (course_id, calendar, entry, content, sequence, changed_at, uid, start_at, withdrawn_at)
       VALUES ${some.map(() => "(?, ?, ?, ?, ?, ?, ?, ?, ?)").join(", ")}
       ON DUPLICATE KEY UPDATE content = VALUES(content), sequence = VALUES(sequence), changed_at = VALUES(changed_at),
         uid = VALUES(uid), start_at = VALUES(start_at), withdrawn_at = VALUES(withdrawn_at)`,
      some.flatMap((row) => [
        courseId,
        calendar,
        row.entry,
        row.content,
        row.sequence,
        row.changed_at,
        row.uid,
        row.start_at,
        row.withdrawn_at,
      ]),
    );
  }
}

/** An answer that is a calendar file: nothing where the asker has it as it is, and small where they can unpack it. */
export function calendarAnswer(request: Request, file: string, name: string): Response {
  const isPacked = /\bgzip\b/.test(request.headers.get("accept-encoding") ?? "");
  const answer = tagged(request, `${digest(file).slice(0, 32)}${isPacked ? "-gzip" : ""}`, () => {
    const headers = {
      "content-type": "text/calendar; charset=utf-8",
      "content-disposition": attachment(`${name}.ics`),
      ...(isPacked ? { "content-encoding": "gzip" } : {}),
    };
    return new Response(isPacked ? gzipSync(file) : file, { headers });
  });
  answer.headers.set("vary", "accept-encoding");
  return answer;
}

export interface CalendarWeek {
  monday: string;
  /** Of the term; below one before it. */
  number: number;
  past: boolean;
  entries: Entry[];
}
/** Everything that the student sees and has a date for, and their meetings, by weeks. */
export function calendarPage({ page, plan }: ShownCourse): CalendarWeek[] {
  const { timeZone, termStart } = plan.course;
  const weeks = new Map<string, Entry[]>();
  for (const entry of studentEntries(page)) {
    const monday = mondayOf(dayOf(entry.start, timeZone));
    weeks.set(monday, [...(weeks.get(monday) ?? []), entry]);
  }
  const today = mondayOf(dayOf(page.reach.t, timeZone));
  return [...weeks]
    .map(([monday, entries]) => ({
      monday,
      number: Math.floor(daysBetween(mondayOf(termStart), monday) / 7) + 1,
      past: monday < today,
      entries,
    }))
    .sort((a, b) => (a.monday < b.monday ? -1 : 1));
}
