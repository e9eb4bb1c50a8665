/** Calendars as files and under private addresses: what is in them is decided at every reading. Semantics.md 6 and 9. */

import { createHash, randomBytes } from "node:crypto";
import { v7 } from "uuid";
import type { CalendarAddress, Whose } from "../../api/calendars.ts";
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
import { course } from "../store/courses.ts";
import { rows, run } from "../store/database.ts";
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

/** The calendar as a file; null where it does not exist. `origin`: where the links in it lead; null for none. */
export async function calendarFile(courseId: string, whose: Whose, origin: string | null): Promise<string | null> {
  const stored = await course(courseId);
  const entries = stored && (await entriesOf(courseId, stored.plan, whose));
  if (!stored || !entries) return null;
  const calendar = whose.kind === "staff" ? "staff" : `${whose.kind}/${whose.id}`;
  const counted = await counting(courseId, calendar, entries);
  return writeCalendar(
    nameOf(stored.plan, whose),
    entries.map((entry, at): CalendarEntry => {
      const { key, itemId, start, end, title, place } = entry;
      const { sequence, changedAt } = counted[at] as Counted;
      const address = origin && itemId ? `${origin}/course/${courseId}/item/${itemId}` : null;
      return {
        uid: `${digest(`${calendar} ${key}`).slice(0, 16)}.${courseId}@amber-weave`,
        sequence,
        changedAt,
        start,
        end,
        title,
        text: "",
        place,
        address: whose.kind === "staff" ? null : address,
      };
    }),
  );
}

interface Counted {
  sequence: number;
  changedAt: number;
}

/** How often each entry changed since it was first read; what is new or other than at the last reading is counted now. */
async function counting(courseId: string, calendar: string, entries: Entry[]): Promise<Counted[]> {
  const found = await rows<{ entry: string; content: string; sequence: number; changed_at: number }>(
    "SELECT entry, content, sequence, changed_at FROM calendar_entries WHERE course_id = ? AND calendar = ?",
    [courseId, calendar],
  );
  const known = new Map(found.map((row) => [row.entry, row]));
  const t = now();
  const changed: (string | number)[][] = [];
  const counted = entries.map(({ key, start, end, title, place }): Counted => {
    const [entry, content] = [digest(key), digest(JSON.stringify([start, end, title, place]))];
    const row = known.get(entry);
    if (row?.content === content) return { sequence: row.sequence, changedAt: row.changed_at };
    const sequence = row ? row.sequence + 1 : 0;
    changed.push([courseId, calendar, entry, content, sequence, t]);
    return { sequence, changedAt: t };
  });
  for (let from = 0; from < changed.length; from += 500) {
    const some = changed.slice(from, from + 500);
    // Two who read at once count the same change once.
    await run(
      `INSERT INTO calendar_entries (course_id, calendar, entry, content, sequence, changed_at)
       VALUES ${some.map(() => "(?, ?, ?, ?, ?, ?)").join(", ")}
       ON DUPLICATE KEY UPDATE content = VALUES(content), sequence = VALUES(sequence), changed_at = VALUES(changed_at)`,
      some.flat(),
    );
  }
  return counted;
}

/** Makes an address; what is returned is shown once and kept nowhere. */
export async function makeAddress(courseId: string, accountId: string, whose: Whose): Promise<string> {
  const token = randomBytes(24).toString("base64url");
  await run(
    "INSERT INTO calendar_addresses (id, course_id, token_hash, kind, target_id, account_id, made_at) VALUES (?, ?, ?, ?, ?, ?, ?)",
    [v7(), courseId, digest(token), whose.kind, whose.kind === "staff" ? null : whose.id, accountId, now()],
  );
  return `/calendar/${token}.ics`;
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
export async function calendarAt(token: string, origin: string): Promise<string | null> {
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
  const file = await calendarFile(address.course_id, whose, origin);
  if (file !== null) await run("UPDATE calendar_addresses SET read_at = ? WHERE id = ?", [now(), address.id]);
  return file;
}

/** An answer that is a calendar file. */
export const calendarAnswer = (file: string, name: string): Response =>
  new Response(file, {
    headers: {
      "content-type": "text/calendar; charset=utf-8",
      "content-disposition": `attachment; filename="${name.replaceAll(/[^\w .-]/g, "")}.ics"`,
      "cache-control": "private, no-cache",
    },
  });

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
