/** A OneRoster CSV archive (1EdTech, version 1.2) out of lines: its files, and the manifest that says which of the standard's it holds. */
import { makeArchive } from "../archive.ts";
import { writeCsv } from "../text.ts";

const fileNames =
  "academicSessions categories classes classResources courses courseResources demographics enrollments lineItemLearningObjectiveIds lineItems lineItemScoreScales orgs resources resultLearningObjectiveIds results resultScoreScales roles scoreScales userProfiles userResources users".split(
    " ",
  );

/** `whole`: the files that list everything there is. */
const manifestOf = (whole: readonly string[], at: number): string =>
  writeCsv(
    ["propertyName", "value"],
    [
      ["manifest.version", "1.0"],
      ["oneroster.version", "1.2"],
      ...fileNames.map((name) => [`file.${name}`, whole.includes(name) ? "bulk" : "absent"]),
      ["source.systemName", "Amber Weave"],
      ["source.systemCode", new Date(at).toISOString().slice(0, 10)],
    ],
    { isInterchange: true },
  );

/** Cells by their columns; what is left out is blank. */
export type Line = Record<string, string>;

/** `columns`: of each file, in the order of the standard; `at`: the moment written into it, epoch milliseconds. */
export function writeLines<Name extends string>(
  columns: Record<Name, string>,
  lines: Record<Name, Line[]>,
  at: number,
): Uint8Array<ArrayBuffer> {
  const dateLastModified = new Date(at).toISOString();
  const names = Object.keys(columns) as Name[];
  const files = names.map((name) => {
    const header = columns[name].split(",");
    const rows = lines[name].map((line) => {
      const cells: Line = { status: "active", dateLastModified, ...line };
      return header.map((column) => cells[column] ?? "");
    });
    return [`${name}.csv`, writeCsv(header, rows, { isInterchange: true })];
  });
  return makeArchive({ "manifest.csv": manifestOf(names, at), ...Object.fromEntries(files) });
}
