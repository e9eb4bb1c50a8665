/**
 * The gradebook as a table: a row a student, a column an item, out as CSV or XLSX and in again. Students are matched
 * by the registrar's id, columns by title. Source: semantics.md section 7.
 */

import { refused, type TextTable, type Unreadable } from "../../formats/text-table.ts";
import type { OutCell } from "../../formats/workbooks/out-table.ts";
import { fullName, homeEnrolment } from "../../plan/lookup.ts";
import type { Item } from "../../plan/types.ts";
import { fold } from "../../text/caseless.ts";
import { type DecimalSign, decimalSignOf } from "../../text/numbers.ts";
import { type JudgedMark, judgeMark, type MarkVerdict, sayMark } from "../entry.ts";
import type { Sheet } from "../sheet.ts";

/** One mark of a file, before it is judged: whom and what it names, and the text of the mark. */
export interface MarkEntry {
  where: string;
  /** Registrar's id, username or address. */
  student: string;
  /** The id or the title of a column. */
  column: string;
  /** The title beside an id that may be another system's. */
  title?: string | undefined;
  text: string;
}
export interface ReadMarks {
  name: string;
  entries: MarkEntry[];
  /** Columns of the file that are nobody's mark, such as names and totals. */
  ignored: string[];
  /** What else is to be said of the file: hidden rows, sheets that hold no marks. */
  notes: string[];
}

/** Columns of one title are told apart by a number. */
export function titlesOf(columns: Item[]): string[] {
  const seen = new Map<string, number>();
  return columns.map(({ title }) => {
    const count = (seen.get(fold(title)) ?? 0) + 1;
    seen.set(fold(title), count);
    return count === 1 ? title : `${title} #${count}`;
  });
}

const leading = ["id", "name", "section"];

/** Header and rows of some students and columns; the total comes last, to be read, not to be taken in. */
export function marksTable(
  sheet: Sheet,
  personIds: readonly string[],
  columns: Item[],
): { header: string[]; rows: OutCell[][] } {
  const { plan, t } = sheet.reach;
  const totals = sheet.percentages();
  return {
    header: [...leading, ...titlesOf(columns), "Total"],
    rows: personIds.map((personId) => {
      const person = plan.people[personId];
      const total = totals[sheet.reach.indexOf.get(personId) ?? -1];
      return [
        person?.sourcedId ?? "",
        person ? fullName(person) : "",
        plan.sections[homeEnrolment(plan, personId, t)?.sectionId ?? ""]?.code ?? "",
        ...columns.map((item): OutCell => {
          const mark = sheet.cell(item, personId)?.mark ?? null;
          return mark && !mark.excused && mark.points !== null ? mark.points : sayMark(mark);
        }),
        total === undefined || Number.isNaN(total) ? "" : Math.round(total * 10) / 10,
      ];
    }),
  };
}

const idTitles = ["id", "sourcedid", "student id", "student number", "number", "username", "user name", "email"];

type MarksTable = Pick<TextTable, "name" | "header" | "rows" | "lines" | "sheet" | "notes">;
/** Where a table names students, and which of its columns are items; null where no column names students. */
function columnsIn(table: MarksTable, columns: Item[]) {
  const header = table.header.map((title) => fold(title.trim()));
  const who = idTitles.map((title) => header.indexOf(title)).find((at) => at >= 0);
  if (who === undefined) return null;
  const titles = titlesOf(columns).map(fold);
  const ignored: string[] = [];
  const marked = header.flatMap((title, at) => {
    const column = columns[titles.indexOf(title)];
    if (column) return [{ at, column }];
    if (at !== who && title !== "") ignored.push(table.header[at] as string);
    return [];
  });
  return { who, marked, ignored };
}

/** The marks of a file's tables as entries, of every sheet that fits; unreadable where no column names students. */
export function readMarksTables(tables: MarksTable[], columns: Item[]): ReadMarks | Unreadable {
  const found = tables.map((table) => ({ table, in: columnsIn(table, columns) }));
  const naming = found.filter((one) => one.in !== null);
  const marking = naming.filter((one) => one.in && one.in.marked.length > 0);
  const fitting = marking.length > 0 ? marking : naming.slice(0, 1);
  const name = tables[0]?.name ?? "";
  if (fitting.length === 0)
    return refused(
      name,
      `${name} has no column that names students: one titled id, username or email. Add it, and choose the file again.`,
    );
  const left = found.filter((one) => !fitting.includes(one)).map(({ table }) => table.sheet ?? table.name);
  return {
    name,
    ignored: [...new Set(fitting.flatMap((one) => one.in?.ignored ?? []))],
    notes: [
      ...fitting.flatMap(({ table }) => table.notes ?? []),
      ...(left.length > 0
        ? [`Not read, since no marks stand there: the sheet${left.length === 1 ? "" : "s"} ${left.join(", ")}.`]
        : []),
    ],
    entries: fitting.flatMap(({ table, in: places }) =>
      table.rows.flatMap((cells, row) =>
        (places?.marked ?? []).map(({ at, column }) => ({
          where: `${fitting.length > 1 && table.sheet ? `${table.sheet}, ` : ""}line ${table.lines[row]}`,
          student: cells[places?.who ?? -1] ?? "",
          column: column.id,
          text: cells[at] ?? "",
        })),
      ),
    ),
  };
}

/**
 * Every entry with its verdict. `within`: whose marks may be changed here; others are outside scope. `sign`: the decimal
 * sign of the file, where its reader said it; null: as its own numbers tell.
 */
export function judgeEntries(
  sheet: Sheet,
  entries: MarkEntry[],
  within: ReadonlySet<string>,
  sign: DecimalSign | null = null,
): JudgedMark[] {
  const { plan, indexOf } = sheet.reach;
  const people = new Map<string, string>();
  for (const person of Object.values(plan.people))
    for (const name of [person.email, person.username, person.sourcedId]) if (name) people.set(fold(name), person.id);
  const columns = new Map<string, Item>();
  for (const item of [...sheet.columns].reverse()) columns.set(fold(item.title), item);
  for (const item of sheet.columns) columns.set(item.id, item);
  const seen = new Map<string, string>();
  const decimal = sign ?? decimalSignOf(entries.map(({ text }) => text));
  return entries.map(({ where, student, column, title, text }): JudgedMark => {
    const item = columns.get(column) ?? columns.get(fold(title ?? column));
    const personId = people.get(fold(student.trim()));
    const wrong = (verdict: MarkVerdict, says: string): JudgedMark => ({
      verdict,
      where,
      text,
      says,
      personId: personId ?? null,
      itemId: item?.id ?? null,
      before: null,
      after: null,
    });
    if (!item) return wrong("unknown column", `no column is called "${title ?? column}"`);
    if (!personId || !indexOf.has(personId)) return wrong("unknown student", `no student here has the id "${student}"`);
    if (!within.has(personId)) return wrong("outside scope", "is not among the students in view");
    const key = `${personId}/${item.id}`;
    const before = seen.get(key);
    if (before !== undefined && text.trim() !== "") return wrong("twice", `${before} has a mark for them already`);
    if (text.trim() !== "") seen.set(key, where);
    return judgeMark(sheet, item, personId, text, { where, decimal });
  });
}
