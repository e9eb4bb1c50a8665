/** Workbooks of other programs, and our own out and in again. */
import fc from "fast-check";
import { strFromU8, strToU8, zipSync } from "fflate";
import { describe, expect, test } from "vitest";
import { fileOf } from "../../../tests/format-files.ts";
import { openArchive } from "../archive.ts";
import { readTable } from "../text.ts";
import type { TextTable } from "../text-table.ts";
import { type OutCell, plainRows } from "./out-table.ts";
import { readWorkbook } from "./read.ts";
import { type TableFormat, tableFormats, writeTable } from "./write.ts";

const sheetsOf = async (name: string, bytes = fileOf(name)) => (await readWorkbook(name, bytes)) as TextTable[];

describe("a workbook of another program", () => {
  test.each(["roster-openpyxl.xlsx", "roster-libreoffice.ods", "roster-libreoffice.xlsx"])(
    "%s: ids keep zeros and letters, per cent is per cent, days and times are themselves",
    async (name) => {
      const [roster, old] = await sheetsOf(name);
      expect(roster?.header).toEqual(["id", "student no", "born", "starts", "share", "score", "note", "hidden"]);
      // The first writer stored no value of its formula; the other program reckoned it.
      const sum = name === "roster-openpyxl.xlsx" ? "" : "2";
      expect(roster?.rows[0]).toEqual(["000042", "S0007", "2004-05-06", "09:30", "85%", "14.25", sum, "x"]);
      expect(roster?.rows[1]?.slice(0, 6)).toEqual(["1234", "S0008", "2026-10-05 09:00", "36:00", "12.5%", "1234.5"]);
      expect(roster?.rows[2]?.[0]).toBe("000009");
      expect(roster?.lines).toEqual([3, 4, 5]);
      expect(old).toMatchObject({ sheet: "Old list", rows: [["1", "D1"]] });
    },
  );
  test.each(["roster-openpyxl.xlsx", "roster-libreoffice.ods", "roster-libreoffice.xlsx"])(
    "%s: what is hidden, in error or above the header is said with its place",
    async (name) => {
      const [roster, old] = await sheetsOf(name);
      const said = roster?.notes?.join("\n") ?? "";
      expect(said).toContain('Left out above the header: "Export of 25 November".');
      expect(said).toContain("Hidden in the workbook, and read all the same: row 4; column H.");
      expect(said).toMatch(/Taken as empty: cell G5, an error of the spreadsheet \(#N\/A\)\./);
      expect(old?.notes?.join()).toContain("the sheet Old list");
      if (name === "roster-openpyxl.xlsx") expect(said).toContain("cell G3, a formula without its value");
    },
  );
  test.each(['date1904="1"', 'date1904="true"', "date1904='true'", "date1904 = '1'"])(
    "days counted from 1904 are those that are meant, spelt %s",
    async (spelling) => {
      const files = openArchive("b.xlsx", fileOf("days-1904-openpyxl.xlsx")) as Record<string, Uint8Array>;
      const book = strFromU8(files["xl/workbook.xml"] as Uint8Array);
      expect(book).toContain('date1904="1"');
      files["xl/workbook.xml"] = strToU8(book.replace('date1904="1"', spelling));
      const [sheet] = await sheetsOf("b.xlsx", zipSync(files));
      expect(sheet?.rows).toEqual([["1", "2004-05-06"]]);
    },
  );
  /** A workbook with these rows in its sheet's own notation. */
  const withSheet = (name: string, rows: string) => {
    const files = openArchive(name, fileOf("days-1904-openpyxl.xlsx")) as Record<string, Uint8Array>;
    const sheet = '<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>';
    return zipSync({ ...files, "xl/worksheets/sheet1.xml": strToU8(`${sheet}${rows}</sheetData></worksheet>`) });
  };
  const text = (at: string, value: string) => `<c r="${at}" t="inlineStr"><is><t>${value}</t></is></c>`;
  const header = `<row r="1">${text("A1", "id")}${text("B1", "section")}</row>`;
  test.each([
    ["a far corner", `<row r="1048576">${text("XFD1048576", "x")}</row>`, "16,384 columns; 300 can be read"],
    ["one column too many", `<row r="2">${text("KO2", "x")}</row>`, "301 columns; 300 can be read"],
    ["a cell like a book", `<row r="2">${text("A2", "x".repeat(32_768))}</row>`, "more than 32,767 letters, in row 2"],
  ])("%s is refused with a sentence, before it is laid out", async (_, rows, says) => {
    const begun = performance.now();
    expect(await readWorkbook("wide.xlsx", withSheet("wide.xlsx", header + rows))).toMatchObject({
      unreadable: true,
      sentence: expect.stringMatching(new RegExp(`${says}.* Is it the file that was meant\\?`)),
    });
    expect(performance.now() - begun).toBeLessThan(5000);
  });
  test("cells that are merely painted, to the last column and row, are nothing", async () => {
    const painted = '<c r="XFD2" s="1"/>';
    const rows = `${header}<row r="2">${text("A2", "007")}${text("KN2", "last")}${painted}</row><row r="1048576">${painted.replace("2", "1048576")}</row>`;
    const [sheet] = await sheetsOf("painted.xlsx", withSheet("painted.xlsx", rows));
    expect(sheet?.rows.map((cells) => [cells.length, cells[0], cells[299]])).toEqual([[300, "007", "last"]]);
  });
  test.each([
    ["columns", 'table:number-columns-repeated="301"', "", "301 columns; 300 can be read"],
    ["rows", "", 'table:number-rows-repeated="1048576"', "1,048,577 rows; 200,000 can be read"],
  ])("of an OpenDocument sheet that repeats its %s for ever, too", async (_, cell, row, says) => {
    const filled = (value: string, more = "") =>
      `<table:table-cell ${more}><text:p>${value}</text:p></table:table-cell>`;
    const content = `<office:document-content xmlns:office="o" xmlns:table="t" xmlns:text="x"><office:body><office:spreadsheet><table:table table:name="S"><table:table-row>${filled("id")}</table:table-row><table:table-row ${row}>${filled("1", cell)}</table:table-row></table:table></office:spreadsheet></office:body></office:document-content>`;
    expect(await readWorkbook("long.ods", zipSync({ "content.xml": strToU8(content) }))).toMatchObject({
      unreadable: true,
      sentence: expect.stringContaining(says),
    });
  });
  test("one whose content is no workbook is refused with what to do", async () => {
    for (const [path, text] of [
      ["content.xml", "<no"],
      ["xl/workbook.xml", "<no/>"],
    ] as const)
      expect(await readWorkbook("b.ods", zipSync({ [path]: strToU8(text) }))).toMatchObject({
        unreadable: true,
        sentence: expect.stringMatching(/Save it again as XLSX or ODS|No sheet of b\.ods/),
      });
  });
});

describe("out and in again", () => {
  const back = async (format: TableFormat, bytes: Uint8Array): Promise<TextTable> =>
    format === "csv"
      ? (readTable("t.csv", bytes) as TextTable)
      : ((await sheetsOf(`t.${format}`, bytes))[0] as TextTable);
  const cell = fc.oneof(
    fc.constantFrom<OutCell>(
      "000123",
      "=1+1",
      "'=1",
      "-3",
      "@home",
      "Zoë <b>&amp;",
      'O"Hara',
      "a\nb",
      "1e5",
      "007",
      "85%",
      "Ó",
      "",
    ),
    fc
      .double({ min: 0, max: 1e6, noNaN: true, maxExcluded: true })
      .map((value): OutCell => Math.round(value * 1000) / 1000),
    fc.constantFrom<OutCell>({ day: "2026-10-05" }, { day: "2026-10-05 09:05" }),
  );
  test.each(tableFormats)("nothing differs as %s", async (format) => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(cell, cell, cell), { minLength: 1, maxLength: 6 }), async (drawn) => {
        const rows = drawn.map((cells, at): OutCell[] => [`p${at}`, "b", ...cells]);
        const bytes = await writeTable(format, {
          sheet: "A & B",
          header: ["id", "two", "three", "four", "five"],
          rows,
        });
        const table = await back(format, bytes);
        expect(table.rows).toEqual(plainRows(rows));
      }),
      { numRuns: 25 },
    );
  });
  test("numbers and days are that to a spreadsheet, and what it would run is guarded alike", async () => {
    const table = {
      sheet: "S",
      header: ["id", "mark", "due", "note"],
      rows: [["01", 14.5, { day: "2026-10-05 09:00" }, "=1+1"]],
    };
    const files = openArchive("t.ods", await writeTable("ods", table)) as Record<string, Uint8Array>;
    const content = strFromU8(files["content.xml"] as Uint8Array);
    expect(content).toContain('office:value-type="float" office:value="14.5"');
    expect(content).toContain('office:date-value="2026-10-05T09:00:00"');
    const { Workbook } = (await import("exceljs")).default;
    const book = new Workbook();
    await book.xlsx.load((await writeTable("xlsx", table)).buffer as ArrayBuffer);
    const row = book.worksheets[0]?.getRow(2);
    expect([1, 2, 3, 4].map((at) => row?.getCell(at).value)).toEqual([
      "01",
      14.5,
      new Date("2026-10-05T09:00:00Z"),
      "'=1+1",
    ]);
    expect(content).toContain("<text:p>&apos;=1+1</text:p>");
    expect(strFromU8(await writeTable("csv", table))).toContain("'=1+1");
  });
  test("the mark of UTF-8 stands before a CSV file where it is asked for, and is no part of the first title", async () => {
    const table = { sheet: "S", header: ["id", "b"], rows: [["1", "2"]] };
    const bytes = await writeTable("csv", table, { byteOrderMark: true });
    expect([...bytes.slice(0, 3)]).toEqual([0xef, 0xbb, 0xbf]);
    expect((await writeTable("csv", table))[0]).toBe(0x69);
    expect((await back("csv", bytes)).header).toEqual(["id", "b"]);
  });
});
