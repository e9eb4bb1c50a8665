/** Calendars as files and under private addresses: what is in them is decided at every reading. Semantics.md 6 and 9. */

import { createHash, randomBytes } from "node:crypto";
import { gzipSync } from "node:zlib";
import { v7 } from "uuid";
import { type CalendarAddress, mostAddresses, type Whose } from "../../api/calendars.ts";
import { membershipOf } from "../../core/access/roles.ts";
import { dayOf, daysBetween, mondayOf } from "../../core/clock/local-time.ts";
import { type CalendarEntry, writeCalendar } from "../../core/formats/icalendar/write.ts";
import { fullName, targetName } from "../../core/plan/lookup.ts";
import type { Plan } from "../../core/plan/types.ts";
import { type Entry, groupEntries, staffEntries, studentEntries } from "../../core/reach/calendars.ts";
import { reachAt } from "../../core/reach/reach.ts";
import { studentPage } from "../../core/reach/student-page.ts";
import { visitorPage } from "../../core/reach/visitor.ts";
import { dateTable } from "../../core/timing/resolving/table.ts";
import { now } from "../clock.ts";
import { attachment } from "../http/attachment.ts";
import { tagged } from "../http/problem.ts";
import { course } from "../store/courses.ts";
import { rows, run, transaction } from "../store/database.ts";
import { courseProgress, studentProgress } from "../store/progress.ts";
import type { ShownCourse } from "../student/shown-course.ts";

const digest = (text: string) => createHash("sha256").update(text).digest("hex");

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
  const stored = await course(courseId);
  const entries = stored && (await entriesOf(courseId, stored.plan, whose));
  if (!stored || !entries) return null;
  const calendar = whose.kind === "staff" ? "staff" : `${whose.kind}/${whose.id}`;
  const { counted, withdrawn } = await counting(courseId, calendar, entries);
  return writeCalendar(nameOf(stored.plan, whose), [...entries.map(written), ...withdrawn.map(cancelled)], {
    timeZone: stored.plan.course.timeZone,
    alarmMinutes,
  });

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

/**
 * Makes an address; what is returned is shown once and kept nowhere. Null where the account has as many of this calendar as
 * anybody needs: each is one more secret that may get lost.
 */
export async function makeAddress(courseId: string, accountId: string, whose: Whose): Promise<string | null> {
  const token = randomBytes(24).toString("base64url");
  const target = whose.kind === "staff" ? null : whose.id;
  return transaction(async (connection) => {
    // Whoever presses twice at once is counted twice.
    await rows("SELECT id FROM accounts WHERE id = ? FOR UPDATE", [accountId], connection);
    const [found] = await rows<{ count: number }>(
      `SELECT COUNT(*) AS count FROM calendar_addresses
       WHERE course_id = ? AND account_id = ? AND kind = ? AND target_id <=> ?`,
      [courseId, accountId, whose.kind, target],
      connection,
    );
    if ((found?.count ?? 0) >= mostAddresses) return null;
    await run(
      "INSERT INTO calendar_addresses (id, course_id, token_hash, kind, target_id, account_id, made_at) VALUES (?, ?, ?, ?, ?, ?, ?)",
      [v7(), courseId, digest(token), whose.kind, target, accountId, now()],
      connection,
    );
    return `/calendar/${token}.ics`;
  });
}

interface AddressRow {
  id: string;
  course_id: string;
  kind: Whose["kind"];
  target_id: string | null;
  account_id: string;
  made_at: number;
  read_at: number | null;
}

/** Addresses of a course: all of them for staff, of one account alone for a student. */
export async function addressesOf(
  courseId: string,
  plan: Plan,
  accountId: string,
  onlyOwn: boolean,
): Promise<CalendarAddress[]> {
  const found = await rows<AddressRow>(
    `SELECT * FROM calendar_addresses WHERE course_id = ? ${onlyOwn ? "AND account_id = ? AND kind = 'student'" : ""} ORDER BY made_at DESC`,
    onlyOwn ? [courseId, accountId] : [courseId],
  );
  return found.map(({ id, kind, target_id, account_id, made_at, read_at }) => {
    const person = kind === "student" ? plan.people[target_id ?? ""] : undefined;
    const says =
      kind === "staff"
        ? "All of the course, for staff"
        : kind === "group"
          ? targetName(plan, { kind: "group", id: target_id ?? "" })
          : person
            ? fullName(person)
            : "somebody who left";
    return { id, kind, says, madeAt: made_at, readAt: read_at, own: account_id === accountId };
  });
}

/** Withdraws an address; from then on it is as if it had never been. Gives whether there was one. */
export async function withdrawAddress(courseId: string, addressId: string, onlyOf: string | null): Promise<boolean> {
  const gone = await run(
    `DELETE FROM calendar_addresses WHERE course_id = ? AND id = ? ${onlyOf ? "AND account_id = ? AND kind = 'student'" : ""}`,
    onlyOf ? [courseId, addressId, onlyOf] : [courseId, addressId],
  );
  return gone > 0;
}

/** What stands at an address now; null where there is no such address, or whoever made it may no longer see it. */
export async function calendarAt(token: string, options: FileOptions): Promise<string | null> {
  const [address] = await rows<AddressRow & { sourced_id: string }>(
    `SELECT calendar_addresses.*, accounts.sourced_id FROM calendar_addresses
     JOIN accounts ON accounts.id = account_id WHERE token_hash = ?`,
    [digest(token)],
  );
  const stored = address && (await course(address.course_id));
  if (!address || !stored) return null;
  const membership = membershipOf(stored.plan, address.sourced_id, now());
  const isStaff = membership?.role === "coordinator";
  // A student's own address ends with their enrolment; one that staff made, with theirs.
  const isOwn = address.kind === "student" && membership?.personId === address.target_id;
  if (!isStaff && !isOwn) return null;
  const whose: Whose =
    address.kind === "staff" ? { kind: "staff" } : { kind: address.kind, id: address.target_id ?? "" };
  const file = await calendarFile(address.course_id, whose, options);
  if (file !== null) await run("UPDATE calendar_addresses SET read_at = ? WHERE id = ?", [now(), address.id]);
  return file;
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
