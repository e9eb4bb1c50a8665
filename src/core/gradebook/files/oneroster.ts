/**
 * The gradebook files of the OneRoster CSV archive (1EdTech, version 1.2; 1.1 is read too): categories, lineItems and
 * results, out and in. Source: semantics.md section 7.
 */
import type { Unzipped } from "fflate";
import { makeArchive } from "../../formats/archive.ts";
import { readTable, type Unreadable, writeCsv } from "../../formats/text.ts";
import type { Item } from "../../plan/types.ts";
import { resolveDates, resolvedInstant } from "../../timing/resolving/resolve.ts";
import type { Sheet } from "../sheet.ts";
import type { MarkEntry, ReadMarks } from "./table.ts";

const scoreStatus = {
  marked: "fully graded",
  excused: "exempt",
  "handed in": "submitted",
} as const;

/** An archive of some students and columns. `at` is the moment written into it. */
export function writeGradebookArchive(
  sheet: Sheet,
  personIds: readonly string[],
  columns: Item[],
  at: number,
): Uint8Array<ArrayBuffer> {
  const { plan, indexOf } = sheet.reach;
  const { course } = plan;
  const modified = new Date(at).toISOString();
  const day = (instant: number | null) => (instant === null ? "" : new Date(instant).toISOString().slice(0, 10));
  const files: Record<string, string> = {};
  const file = (name: string, header: string, rows: string[][]) => {
    files[`${name}.csv`] = writeCsv(header.split(","), rows, { isInterchange: true });
  };
  file("manifest", "propertyName,value", [
    ["manifest.version", "1.0"],
    ["oneroster.version", "1.2"],
    ...["categories", "lineItems", "results"].map((name) => [`file.${name}`, "bulk"]),
    ["source.systemName", "Amber Weave"],
    ["source.systemCode", modified.slice(0, 10)],
  ]);
  file(
    "categories",
    "sourcedId,status,dateLastModified,title,weight",
    course.grading.categories.map(({ id, name, weight }) => [id, "active", modified, name, String(weight)]),
  );
  // The dates of an item are those of whoever comes first: others are theirs alone.
  const first = personIds[0];
  const place = first === undefined ? undefined : indexOf.get(first);
  file(
    "lineItems",
    "sourcedId,status,dateLastModified,title,description,assignDate,dueDate,classSourcedId,categorySourcedId,gradingPeriodSourcedId,resultValueMin,resultValueMax",
    columns.map((item) => {
      const dates = place === undefined ? null : resolveDates(plan, item, sheet.reach.memberships(place));
      const on = (field: "opens" | "due") => day(dates && resolvedInstant(plan, dates, field));
      return [
        item.id,
        "active",
        modified,
        item.title,
        "",
        on("opens"),
        on("due"),
        course.id,
        item.categoryId ?? "",
        "",
        "0",
        String(item.points),
      ];
    }),
  );
  file(
    "results",
    "sourcedId,status,dateLastModified,lineItemSourcedId,studentSourcedId,scoreStatus,score,scoreDate,comment",
    columns.flatMap((item) =>
      personIds.flatMap((personId) => {
        const cell = sheet.cell(item, personId);
        const person = plan.people[personId];
        if (!cell || !person || !(cell.state in scoreStatus)) return [];
        const { state, mark } = cell;
        return [
          [
            `${item.id}-${person.sourcedId}`,
            "active",
            modified,
            item.id,
            person.sourcedId,
            scoreStatus[state as keyof typeof scoreStatus],
            state === "marked" ? String(mark?.points) : "",
            mark ? day(mark.at) : "",
            "",
          ],
        ];
      }),
    ),
  );
  return makeArchive(files);
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
        column: id,
        // A line item of another system is known by its title.
        ...(titles.has(id) ? { title: titles.get(id) } : {}),
        text: gone ? "none" : excused ? "x" : (record.score ?? ""),
      };
    }),
  };
}
