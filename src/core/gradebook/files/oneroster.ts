/**
 * The gradebook files of the OneRoster CSV archive (1EdTech, version 1.2; 1.1 is read too): categories, lineItems and
 * results, out and in. Source: semantics.md section 7.
 */
import type { Unzipped } from "fflate";
import { dayOf } from "../../clock/local-time.ts";
import { type Line, writeLines } from "../../formats/oneroster/lines.ts";
import { readTable } from "../../formats/text.ts";
import type { Unreadable } from "../../formats/text-table.ts";
import { homeEnrolment } from "../../plan/lookup.ts";
import type { Course, Item } from "../../plan/types.ts";
import { collect } from "../../sets/collect.ts";
import { resolveDates, resolvedInstant } from "../../timing/resolving/resolve.ts";
import type { Sheet } from "../sheet.ts";
import type { MarkEntry, ReadMarks } from "./table.ts";

const scoreStatus = {
  marked: "fully graded",
  excused: "exempt",
  "handed in": "submitted",
} as const;

/** The columns of each file, in the order of the standard. */
const headers = {
  academicSessions: "sourcedId,status,dateLastModified,title,type,startDate,endDate,parentSourcedId,schoolYear",
  categories: "sourcedId,status,dateLastModified,title,weight",
  lineItems:
    "sourcedId,status,dateLastModified,title,description,assignDate,dueDate,classSourcedId,categorySourcedId,gradingPeriodSourcedId,resultValueMin,resultValueMax",
  results: "sourcedId,status,dateLastModified,lineItemSourcedId,studentSourcedId,scoreStatus,score,scoreDate,comment",
};
type Name = keyof typeof headers;
/** A class of the roster archive, which is a section, with its students among those who go out. */
interface ClassOfRoster {
  id: string;
  personIds: string[];
}
/** A column is a line item of each class: its dates there are those of whoever comes first in it. */
const lineItemId = (item: Item, { id }: ClassOfRoster): string => `${item.id}/${id}`;

function classesOf(sheet: Sheet, personIds: readonly string[]): ClassOfRoster[] {
  const { plan, t } = sheet.reach;
  const codeOf = (personId: string) =>
    plan.sections[homeEnrolment(plan, personId, t)?.sectionId ?? ""]?.code ?? plan.course.id;
  return [...collect(personIds, codeOf)].map(([id, those]) => ({ id, personIds: those }));
}

function lineItemOf(sheet: Sheet, item: Item, one: ClassOfRoster): Line {
  const { plan, indexOf } = sheet.reach;
  const { course } = plan;
  const place = indexOf.get(one.personIds[0] ?? "");
  const dates = place === undefined ? null : resolveDates(plan, item, sheet.reach.memberships(place));
  const on = (field: "opens" | "due") => {
    const instant = dates && resolvedInstant(plan, dates, field);
    return instant === null ? "" : dayOf(instant, course.timeZone);
  };
  return {
    sourcedId: lineItemId(item, one),
    title: item.title,
    assignDate: on("opens"),
    dueDate: on("due"),
    classSourcedId: one.id,
    categorySourcedId: item.categoryId ?? "",
    gradingPeriodSourcedId: `period-${course.id}`,
    resultValueMin: "0",
    resultValueMax: String(item.points),
  };
}

function resultsOf(sheet: Sheet, item: Item, one: ClassOfRoster): Line[] {
  const { plan } = sheet.reach;
  return one.personIds.flatMap((personId) => {
    const cell = sheet.cell(item, personId);
    const person = plan.people[personId];
    if (!cell || !person || !(cell.state in scoreStatus)) return [];
    const { state, mark } = cell;
    return [
      {
        sourcedId: `${item.id}-${person.sourcedId}`,
        lineItemSourcedId: lineItemId(item, one),
        studentSourcedId: person.sourcedId,
        scoreStatus: scoreStatus[state as keyof typeof scoreStatus],
        score: state === "marked" ? String(mark?.points) : "",
        scoreDate: mark ? dayOf(mark.at, plan.course.timeZone) : "",
      },
    ];
  });
}

/** The term, and the one grading period in it. */
function sessionsOf({ id, term, termStart, termEnd }: Course): Line[] {
  const about = { startDate: termStart, endDate: termEnd, schoolYear: termEnd.slice(0, 4) };
  return [
    { sourcedId: `term-${id}`, title: term, type: "term", ...about },
    { sourcedId: `period-${id}`, title: term, type: "gradingPeriod", parentSourcedId: `term-${id}`, ...about },
  ];
}

/** An archive of some students and columns; classes are those of the roster archive. `at` is the moment written into it. */
export function writeGradebookArchive(
  sheet: Sheet,
  personIds: readonly string[],
  columns: Item[],
  at: number,
): Uint8Array<ArrayBuffer> {
  const { course } = sheet.reach.plan;
  const classes = classesOf(sheet, personIds);
  const each = <Made>(make: (item: Item, one: ClassOfRoster) => Made): Made[] =>
    columns.flatMap((item) => classes.map((one) => make(item, one)));
  const lines: Record<Name, Line[]> = {
    academicSessions: sessionsOf(course),
    categories: course.grading.categories.map(({ id, name, weight }) => ({
      sourcedId: id,
      title: name,
      weight: String(weight),
    })),
    lineItems: each((item, one) => lineItemOf(sheet, item, one)),
    results: each((item, one) => resultsOf(sheet, item, one)).flat(),
  };
  return writeLines(headers, lines, at);
}

const fileOf = (files: Unzipped, name: string) =>
  Object.keys(files).find((path) => path.toLowerCase().split("/").at(-1) === name);

export const looksLikeGradebook = (files: Unzipped): boolean =>
  ["lineitems.csv", "results.csv"].every((name) => fileOf(files, name) !== undefined);

/** The results of an archive as entries; those taken back are taken away. */
export function readGradebookArchive(name: string, files: Unzipped): ReadMarks | Unreadable {
  const records = (file: string): { line: number; record: Record<string, string> }[] | Unreadable => {
    const table = readTable(file, files[fileOf(files, file) as string] as Uint8Array, {
      isInterchange: true,
    });
    if ("unreadable" in table) return { ...table, sentence: `In ${name}: ${table.sentence}` };
    return table.rows.map((cells, row) => ({
      line: table.lines[row] as number,
      record: Object.fromEntries(table.header.map((title, at) => [title, cells[at] ?? ""])),
    }));
  };
  const [lineItems, results] = [records("lineitems.csv"), records("results.csv")];
  if ("unreadable" in lineItems) return lineItems;
  if ("unreadable" in results) return results;
  const titles = new Map(lineItems.map(({ record }) => [record.sourcedId, record.title ?? ""]));
  return {
    name,
    ignored: [],
    notes: [],
    entries: results.map(({ line, record }): MarkEntry => {
      const id = record.lineItemSourcedId ?? "";
      const excused = record.scoreStatus?.toLowerCase() === "exempt";
      const gone = record.status?.toLowerCase() === "tobedeleted";
      return {
        where: `results.csv, line ${line}`,
        student: record.studentSourcedId ?? "",
        // A line item of ours is a column in one class.
        column: id.split("/")[0] ?? id,
        // A line item of another system is known by its title.
        ...(titles.has(id) ? { title: titles.get(id) } : {}),
        text: gone ? "none" : excused ? "x" : (record.score ?? ""),
      };
    }),
  };
}
