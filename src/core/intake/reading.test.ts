import { describe, expect, test } from "vitest";
import { readTable, writeCsv } from "../formats/text.ts";
import type { TextTable } from "../formats/text-table.ts";
import { matchColumns, matchProblem } from "./columns.ts";
import { rosterRows, splitName } from "./rows.ts";

const table = (text: string | Uint8Array) => readTable("roster.csv", text) as TextTable;

describe("reading", () => {
  test.each([
    ["commas", "id,name\n1,Ada"],
    ["semicolons", "id;name\n1;Ada"],
    ["tabs and CRLF", "id\tname\r\n1\tAda\r\n"],
  ])("%s", (_name, text) => {
    expect(table(text)).toMatchObject({
      header: ["id", "name"],
      rows: [["1", "Ada"]],
      lines: [2],
    });
  });
  test("encodings: a mark, UTF-16 and Windows-1252", () => {
    const utf16 = new Uint8Array([
      0xff,
      0xfe,
      ...[..."id,name\n1,Zoë"].flatMap((letter) => [letter.charCodeAt(0) & 255, letter.charCodeAt(0) >> 8]),
    ]);
    const windows = new Uint8Array([..."id,name\n1,Zo"].map((letter) => letter.charCodeAt(0)).concat(0xeb));
    for (const bytes of [utf16, windows, new TextEncoder().encode("\ufeffid,name\n1,Zoë")])
      expect(table(bytes).rows[0]?.[1]).toBe("Zoë");
  });
  test("old Mac and DOS code pages are recognised by where letters stand, and said; a few bad bytes are told with their line", () => {
    const names = "id,name\n1,Zoë Müller\n2,René Núñez\n3,Søren Åberg";
    const dos: Record<string, number> = { ë: 0x89, ü: 0x81, é: 0x82, ú: 0xa3, ñ: 0xa4, ø: 0x9b, Å: 0x8f };
    const mac: Record<string, number> = { ë: 0x91, ü: 0x9f, é: 0x8e, ú: 0x9c, ñ: 0x96, ø: 0xbf, Å: 0x81 };
    const written = (page: Record<string, number>) =>
      new Uint8Array([...names].map((letter) => page[letter] ?? letter.charCodeAt(0)));
    for (const [page, says] of [
      [dos, "DOS code page 850"],
      [mac, "Mac Roman"],
    ] as const) {
      const read = table(written(page));
      expect(read.rows.map(([, name]) => name)).toEqual(["Zoë Müller", "René Núñez", "Søren Åberg"]);
      expect(read.notes?.join()).toContain(says);
    }
    expect(table(written({})).notes).toBeUndefined();
    const broken = new TextEncoder().encode(names);
    const at = broken.lastIndexOf(0xc3);
    broken[at] = 0xff;
    expect(table(broken).rows[0]).toEqual(["1", "Zoë Müller"]);
    expect(table(broken).notes?.[0]).toMatch(/^Line 4: a letter was damaged/);
  });
  test("what spreadsheets put around a list is taken off and said: sep=, titles above, ids kept as text, invisible marks", () => {
    const read = table(
      'sep=;\nAutumn list;;\n\nid;name;section\n="0012";Ada;D1\n"=""0013""";Ben;D1\n00\u200b14;Cas;D1',
    );
    expect(read.header).toEqual(["id", "name", "section"]);
    expect(read.rows.map(([id]) => id)).toEqual(["0012", "0013", "0014"]);
    expect(read.lines).toEqual([5, 6, 7]);
    expect(read.notes).toEqual(["Taken off: 1 invisible character.", 'Left out above the header: "Autumn list".']);
    const plain = table("Autumn list,,\nid,name,section\n0012,Ada,D1");
    expect([plain.header[0], plain.rows, plain.lines]).toEqual(["id", [["0012", "Ada", "D1"]], [3]]);
    // Joiners stay where a script needs them.
    expect(table("id,name\n1,\u0645\u06cc\u200c\u0631\u0648\u0645").rows[0]?.[1]).toContain("\u200c");
  });
  test("quotes with newlines inside keep the line numbers right", () => {
    const read = table('id,name\n1,"Ada\nLovelace"\n\n2,Ben');
    expect(read.lines).toEqual([2, 5]);
  });
  test("an empty file, a header alone and a picture are refused with what to do", () => {
    for (const content of ["", "id,name\n", new Uint8Array([0x89, 0x50, 0x4e, 0x47, 0, 0, 0, 13])]) {
      expect(readTable("x.csv", content)).toMatchObject({
        unreadable: true,
        sentence: expect.stringMatching(/x\.csv.*(Export)/),
      });
    }
  });
  test("cells that a spreadsheet would run are made harmless", () => {
    expect(writeCsv(["a"], [["=1+1"], ["fine"]])).toBe("a\r\n'=1+1\r\nfine\r\n");
  });
});

describe("columns", () => {
  test("by header", () => {
    const read = table(
      "Student No,Surname,First name,E-mail,Login,Section,Section title,Meets,Year\n0012,A,B,c@d.e,x,D1,Day,Mon 09:00,2",
    );
    expect(matchColumns(read)).toEqual([
      "id",
      "familyName",
      "givenName",
      "email",
      "username",
      "section",
      "sectionTitle",
      "meets",
      "attribute",
    ]);
  });
  test("by content where the header says nothing", () => {
    const lines = Array.from(
      { length: 12 },
      (_, index) => `00${4000 + index},"Okafor, N${index}",n${index}@x.example,${index % 2 ? "D1" : "EV"}`,
    );
    expect(matchColumns(table(`A,B,C,D\n${lines.join("\n")}`))).toEqual(["id", "fullName", "email", "section"]);
  });
  test("a column that holds the course's own section codes is the section, in a short list too", () => {
    const read = table("Who,Where,Zodiac\n00240037,D1,Crab\n00240074,EV,Fish\n");
    expect(matchColumns(read, ["d1", "EV"])).toEqual(["id", "section", "attribute"]);
    expect(matchColumns(read)).toEqual(["id", "attribute", "attribute"]);
  });
  test("what is lacking is said", () => {
    expect(matchProblem(["email"], false)).toMatch(/registrar's id/);
    expect(matchProblem(["id"], false)).toMatch(/section/);
    expect(matchProblem(["id"], true)).toBeNull();
    expect(matchProblem(["id", "id", "section"], false)).toMatch(/Two columns/);
  });
  test("names in either order, and leading zeros stay", () => {
    expect([splitName("Okafor, Ngozi Ann"), splitName("Ngozi Ann Okafor")]).toEqual(
      Array(2).fill({ familyName: "Okafor", givenName: "Ngozi Ann" }),
    );
    expect(rosterRows(table("id,section\n007,D1"), ["id", "section"])[0]?.sourcedId).toBe("007");
  });
  test("unreadable rows name the column and why", () => {
    const read = rosterRows(table("id,mail,section\n,a@b.c,D1\n1,nowhere,D1\n2,a@b.c,\n3,a@b.c,D1,extra"), [
      "id",
      "email",
      "section",
    ]);
    expect(read.map(({ problem }) => problem)).toEqual([
      "id: no id",
      'mail: "nowhere" is not an e-mail address',
      "section: no section",
      expect.stringMatching(/4 cells under 3 titles/),
    ]);
  });
});
