import fc from "fast-check";
import { strToU8, zipSync } from "fflate";
import Papa from "papaparse";
import { describe, expect, test } from "vitest";
import { isArchive, makeArchive, openArchive } from "./archive.ts";
import { cutCells } from "./cells.ts";
import { oneRosterHeader, readOneRoster } from "./oneroster/read.ts";
import { type RosterLine, writeOneRoster } from "./oneroster/write.ts";
import { readFile } from "./read.ts";
import { readTable, writeCsv } from "./text.ts";
import { cellsOf, firstRows, type TextTable, type Unreadable } from "./text-table.ts";
import { readWorkbook } from "./workbooks/read.ts";
import { writeTable } from "./workbooks/write.ts";

const zip = (files: Record<string, string>) =>
  zipSync(Object.fromEntries(Object.entries(files).map(([path, text]) => [path, strToU8(text)])));
const sentence = (value: object) => (value as Unreadable).sentence;

describe("text", () => {
  test("UTF-16 is known without a mark, both ways round", () => {
    const text = "id,name\n1,Ada\n";
    const little = new Uint8Array([...text].flatMap((letter) => [letter.charCodeAt(0), 0]));
    const big = new Uint8Array([...text].flatMap((letter) => [0, letter.charCodeAt(0)]));
    for (const bytes of [little, big])
      expect(readTable("r.csv", bytes)).toMatchObject({
        header: ["id", "name"],
        rows: [["1", "Ada"]],
      });
  });
  test("lines are counted through newlines in quotes and blank lines", () => {
    const table = readTable("r.csv", 'id,note\n1,"a\nb"\n\n2,c\n') as TextTable;
    expect(table.lines).toEqual([2, 5]);
  });
  test("composed and decomposed letters come out alike", () => {
    const table = readTable("r.csv", "id,name\n1,Zoe\u0308\n") as TextTable;
    expect(table.rows[0]?.[1]).toBe("Zoë");
  });
  test("a quote that is never closed is told with its line", () => {
    expect(sentence(readTable("r.csv", 'id,name\n1,Ada\n2,"Ben\n3,Cas\n'))).toMatch(
      /^r\.csv, line 3: a quotation mark/,
    );
  });
  test("a text without quotation marks is cut where the parser would split it", () => {
    const piece = fc.constantFrom("a", "Zoë", "7", " ", "\u00a0", "'=1", ",", ",", "\n", "\n");
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 60 }), (pieces) => {
        const text = pieces.join("");
        const cut = cutCells(text, { delimiter: "," });
        const split = Papa.parse<string[]>(text, { delimiter: ",", newline: "\n" }).data;
        const rows = split.map((cells, at) => ({
          line: at + 1,
          cells: cells.map((cell) => (cell.trim().startsWith("'=") ? cell.trim().slice(1) : cell.trim())),
        }));
        const filled = rows.filter(({ cells }) => cells.some((cell) => cell !== ""));
        expect(cut?.lines).toEqual(filled.map(({ line }) => line));
        filled.forEach(({ cells }, row) => {
          expect(cut?.cells.row(row)).toEqual(cells);
          expect(cut?.cells.width(row)).toBe(cells.length);
          for (const [column, cell] of [...cells, ""].entries()) {
            expect(cut?.cells.holds(row, column, cell)).toBe(true);
            expect(cut?.cells.holds(row, column, `${cell}x`)).toBe(false);
            expect(cut?.cells.isEmpty(row, column)).toBe(cell === "");
          }
        });
      }),
      { numRuns: 300 },
    );
  });
  test("the same rows are read under every mixture of line ends, encodings and quotes", () => {
    const cell = fc.constantFrom("Ada", "Zoë", "Łucja", "o'Neill", "x y", "7", "a;b");
    const row = fc.tuple(cell, cell, fc.constantFrom("D1", "D2"));
    const ending = fc.constantFrom("\n", "\r\n", "\r", "\r\r\n");
    const encode: Record<string, (text: string) => Uint8Array> = {
      "utf-8": (text) => strToU8(text),
      "utf-8 with its mark": (text) => strToU8(`\ufeff${text}`),
      "utf-16": (text) =>
        new Uint8Array(new Uint16Array([0xfeff, ...[...text].map((one) => one.charCodeAt(0))]).buffer),
    };
    const written = fc.tuple(row, ending, fc.boolean());
    fc.assert(
      fc.property(
        fc.array(written, { minLength: 1, maxLength: 12 }),
        fc.constantFrom(...Object.keys(encode)),
        (all, how) => {
          const line = (cells: string[], isQuoted: boolean) =>
            cells.map((one) => (isQuoted || one.includes(";") ? `"${one}"` : one)).join(",");
          const text = all.map(([cells, end, isQuoted]) => line(cells, isQuoted) + end).join("");
          const table = readTable(
            "r.csv",
            (encode[how] as (text: string) => Uint8Array)(`family,given,section\r\n${text}`),
          );
          expect((table as TextTable).rows).toEqual(all.map(([cells]) => cells));
        },
      ),
      // Only the head ends otherwise than the rest, and cells hold more semicolons than commas stand in a line.
      { examples: [[["a;b", "a;b", "Ada"].map((given) => [["Ada", given, "D1"], "\n", false]), "utf-8"]] },
    );
  });
  test("what can only be another file is refused with a question, and at once", () => {
    const joined = "id,name,section\n1,Ada,D1\n2,Ben,D1id,name,section\n3,Cas,D2\n";
    expect(sentence(readTable("two.csv", joined))).toMatch(
      /^two\.csv, line 3: 5 cells stand under a header of 3\. Are two/,
    );
    // Empty cells at the end say nothing.
    expect((readTable("r.csv", "id,name,section\n1,Ada,D1,,,,,\n") as TextTable).rows).toHaveLength(1);
    const wide = (columns: number) => `${Array.from({ length: columns }, (_, at) => `c${at}`).join()}\n`;
    const begun = performance.now();
    expect(sentence(readTable("w.csv", `${wide(301)}${wide(301)}`))).toContain("has 301 columns; 300 can be read");
    expect(sentence(readTable("w.csv", wide(200_000).repeat(20)))).toContain("far too many columns");
    expect(sentence(readTable("c.csv", `id,name\n1,${"x".repeat(40_000)}\n`))).toContain("more than 32,767 letters");
    expect(performance.now() - begun).toBeLessThan(2000);
  });
  test("a table's rows are the same, cut out of the text or listed", () => {
    const plain = readTable("r.csv", "id,name\n 7 ,Ada\n\n8\n") as TextTable;
    const quoted = readTable("r.csv", 'id,"name"\n 7 ,Ada\n\n8\n') as TextTable;
    expect([plain.header, plain.rows, plain.lines]).toEqual([quoted.header, quoted.rows, quoted.lines]);
    expect(firstRows(plain, 1)).toEqual([["7", "Ada"]]);
    expect(cellsOf(quoted).cell(1, 1)).toBe(cellsOf(plain).cell(1, 1));
  });
  test("a picture renamed to .csv is not a text file", () => {
    const picture = new Uint8Array([
      0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 0x0d, 0x49, 0x48, 0x44, 0x52,
    ]);
    expect(sentence(readTable("me.csv", picture))).toContain("not a text file");
  });
  test("what would run as a formula goes out harmless and comes back as it was", () => {
    const cells = ["=1+1", "+44", "-5", "@me", "'=x", "O'Neill", "'quoted'"];
    const csv = writeCsv(["a", "b", "c", "d", "e", "f", "g"], [cells]);
    expect(csv.split("\r\n")[1]).toBe("'=1+1,'+44,'-5,'@me,''=x,O'Neill,'quoted'");
    expect((readTable("r.csv", csv) as TextTable).rows[0]).toEqual(cells);
  });
});

describe("archives", () => {
  test("give their files, and the same content gives the same bytes", () => {
    const bytes = makeArchive({ "a.csv": "x", "in/b.csv": "y" });
    expect(isArchive(bytes)).toBe(true);
    expect(Object.keys(openArchive("a.zip", bytes))).toEqual(["a.csv", "in/b.csv"]);
    expect(makeArchive({ "a.csv": "x", "in/b.csv": "y" })).toEqual(bytes);
  });
  test.each(["../up.csv", "a/../../up.csv", "/etc/passwd", "C:\\x.csv", "a\\..\\..\\x.csv"])(
    "%s climbs out and is refused",
    (path) => {
      expect(sentence(openArchive("a.zip", zip({ [path]: "x" })))).toContain("leaves its folder");
    },
  );
  test("one that would swell beyond the limit is refused by its stated sizes, before it is unpacked", () => {
    const bytes = zipSync({ "big.csv": new Uint8Array(300_000) });
    expect(bytes.length).toBeLessThan(2000);
    expect(sentence(openArchive("a.zip", bytes, 200_000))).toContain("more than 200 kB");
  });
  test("one that is cut off is told so", () => {
    expect(sentence(openArchive("a.zip", zip({ "a.csv": "x" }).slice(0, 60)))).toContain("damaged or cut off");
  });
});

describe("workbooks", () => {
  test("ids keep their zeros, letters their accents, and nothing runs as a formula", async () => {
    const rows = [
      ["000123", "=1+1", "Zoë"],
      ["000124", "", "Ó Néill"],
    ];
    const bytes = await writeTable("xlsx", { sheet: "Roster", header: ["id", "note", "name"], rows });
    const [table] = (await readWorkbook("r.xlsx", bytes)) as TextTable[];
    expect(table).toMatchObject({ header: ["id", "note", "name"], sheet: "Roster" });
    expect(table?.rows).toEqual(rows);
    expect(table?.lines).toEqual([2, 3]);
  });
  test("numbers padded by their format, dates and results of formulas are read as they show", async () => {
    const { Workbook } = (await import("exceljs")).default;
    const workbook = new Workbook();
    workbook.addWorksheet("Notes").addRow(["nothing under this"]);
    const sheet = workbook.addWorksheet("List");
    sheet.addRow(["id", "born", "sum"]);
    const row = sheet.addRow([42, new Date("2004-05-06T00:00:00Z"), { formula: "1+1", result: 2 }]);
    row.getCell(1).numFmt = "000000";
    const tables = (await readWorkbook("r.xlsx", new Uint8Array(await workbook.xlsx.writeBuffer()))) as TextTable[];
    expect(tables.map(({ sheet: name }) => name)).toEqual(["List"]);
    expect(tables[0]?.rows[0]).toEqual(["000042", "2004-05-06", "2"]);
  });
  test("an archive that only claims to be a workbook is refused", async () => {
    expect(sentence(await readWorkbook("r.xlsx", zip({ "xl/workbook.xml": "<no/>" })))).toMatch(
      /could not be read|No sheet/,
    );
  });
});

describe("OneRoster archives", () => {
  const course = {
    id: "c1",
    code: "WSH 240",
    title: "Field Methods",
    term: "Autumn",
    termStart: "2026-09-28",
    termEnd: "2027-01-01",
  };
  const person = (sourcedId: string, sectionCode: string, role = "student"): RosterLine => ({
    sourcedId,
    username: `u${sourcedId}`,
    email: `${sourcedId}@x.example`,
    givenName: "Ada, the first",
    familyName: 'O"Hara',
    sectionCode,
    sectionTitle: `Title of ${sectionCode}`,
    role,
  });
  test("come back as they went out, a row an enrolment", async () => {
    const lines = [person("001", "D1"), person("001", "D2"), person("002", "D1", "instructor")];
    const read = await readFile({ name: "r.zip", content: writeOneRoster(course, lines, 0) });
    expect(read).toMatchObject({ kind: "tables", tables: [{ header: oneRosterHeader }] });
    const table = (read as { tables: TextTable[] }).tables[0];
    expect(table?.rows).toEqual(
      lines.map((line) => [
        line.sourcedId,
        line.username,
        line.email,
        line.givenName,
        line.familyName,
        line.sectionCode,
        line.sectionTitle,
        line.role === "student" ? "student" : "teacher",
      ]),
    );
  });
  test("version 1.1 in a folder, with records marked as gone and one that names nobody", () => {
    const files = {
      "export/manifest.csv": "propertyName,value\noneroster.version,1.1\n",
      "export/classes.csv":
        "sourcedId,status,dateLastModified,title,classCode\nk1,active,,Day,D1\nk2,tobedeleted,,Old,D9\n",
      "export/users.csv":
        "sourcedId,status,dateLastModified,enabledUser,orgSourcedIds,role,username,userIds,givenName,familyName\n007,active,,true,,student,ada,,Ada,Test\n",
      "export/enrollments.csv":
        "sourcedId,status,dateLastModified,classSourcedId,schoolSourcedId,userSourcedId,role\n1,active,,k1,,007,student\n2,tobedeleted,,k1,,007,student\n3,active,,k2,,009,student\n",
    };
    const table = readOneRoster("r.zip", openArchive("r.zip", zip(files)) as never, null) as TextTable;
    expect(table.rows).toEqual([
      ["007", "ada", "", "Ada", "Test", "D1", "Day", "student"],
      // Nothing is dropped in silence: the row stays, and is unreadable for want of an id.
      ["", "", "", "", "", "", "", "student"],
    ]);
    expect(table.lines).toEqual([2, 4]);
  });
  test("one without enrolments is told so", () => {
    const files = { "classes.csv": "sourcedId\n1\n", "users.csv": "sourcedId\n1\n", "enrollments.csv": "sourcedId\n" };
    expect(sentence(readOneRoster("r.zip", openArchive("r.zip", zip(files)) as never, null))).toContain(
      "without enrolments",
    );
  });
});

describe("any file", () => {
  test("a zip of CSV files is a file a section", async () => {
    const read = await readFile({
      name: "all.zip",
      content: zip({ "D1.csv": "id\n1\n", "__MACOSX/D1.csv": "x", "D2.csv": "id\n2\n" }),
    });
    expect(read).toMatchObject({ kind: "tables", tables: [{ name: "D1.csv" }, { name: "D2.csv" }] });
  });
  test("a zip in which one file is empty names that file", async () => {
    const read = await readFile({ name: "all.zip", content: zip({ "D1.csv": "id\n1\n", "D2.csv": "" }) });
    expect(sentence(read)).toMatch(/^In all\.zip: D2\.csv is empty/);
  });
  test("a zip without any roster is told so", async () => {
    expect(sentence(await readFile({ name: "a.zip", content: zip({ "me.png": "x" }) }))).toContain("holds no roster");
  });
  test("more than 200,000 rows or 200 MB are refused with what to do", async () => {
    expect(sentence(await readFile({ name: "a.csv", content: `id\n${"1\n".repeat(200_001)}` }))).toContain(
      "200,001 rows",
    );
    expect(sentence(await readFile({ name: "a.csv", content: "x".repeat(200_000_001) }))).toContain("200 MB");
  });
});
