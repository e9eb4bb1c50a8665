/** A registrar's roster of any size, and a course that knows everyone on it. */
import { readTable } from "../src/core/formats/text.ts";
import type { TextTable } from "../src/core/formats/text-table.ts";
import { matchColumns } from "../src/core/intake/columns.ts";
import { reconcile } from "../src/core/intake/reconcile.ts";
import { type RosterRow, rosterRows } from "../src/core/intake/rows.ts";
import { takeIn } from "../src/core/intake/take-in.ts";
import { type ReconcileOptions, wholeRoster } from "../src/core/intake/verdict.ts";
import { blankCourse, type Course, emptyPlan, type Plan } from "../src/core/plan/types.ts";

export const now = Date.UTC(2026, 10, 25, 10);
export const options: ReconcileOptions = { ...wholeRoster, now };

/** The demo registrar's columns (demo/rosters), for any number of students; of every twentieth the name is another. */
export function rosterText(rows: number, changed: boolean): string {
  const lines = ["Student No,Surname,First name,E-mail,Login,Section,Section title,Meets,Year,Entry score,Class"];
  for (let at = 0; at < rows; at++) {
    const given = changed && at % 20 === 0 ? `Given${at}x` : `Given${at}`;
    const section = Math.floor((at * 40) / rows);
    const own = `S${section},Section ${section},Mon Wed Fri 09:00-10:15,${(at % 4) + 1},${41 + (at % 59)},Tue Thu ${13 + (at % 2)}:30`;
    lines.push(
      `00${1_000_000 + at},Family${at % 997},${given},given${at}.family@tarnbeck.example,given${at}.family,${own}`,
    );
  }
  return lines.join("\r\n");
}

export function read(text: string): RosterRow[] {
  const table = readTable("roster.csv", text) as TextTable;
  return rosterRows(table, matchColumns(table));
}

export function emptyCourse(id: string): Plan {
  const course: Course = {
    id,
    code: "B",
    title: "Bench",
    term: "",
    termStart: "2026-09-28",
    termEnd: "2027-01-01",
    timeZone: "Europe/Dublin",
    ...blankCourse,
  };
  return emptyPlan(course);
}

/** The course after everyone was taken in, a while ago. */
export function knownCourse(size: number, id: string, intakeId: string): Plan {
  const empty = emptyCourse(id);
  return takeIn(empty, reconcile(empty, read(rosterText(size, false)), options), intakeId, now - 1000, null);
}
