/** An intake under way, as the worker keeps it. */
import { strToU8, zipSync } from "fflate";
import { describe, expect, test } from "vitest";
import { writeTable } from "../formats/workbooks/write.ts";
import type { Plan } from "../plan/types.ts";
import { addLayer, addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { compare, look, mendable, readFiles, type Source, sampleOf, tableOf } from "./session.ts";
import { type ReconcileOptions, wholeRoster } from "./verdict.ts";

const options: ReconcileOptions = { ...wholeRoster, now: t0 };
const silent = () => undefined;
const read = async (files: { name: string; content: string | Uint8Array }[]) => {
  const { sources, unreadable } = await readFiles(files, { codes: ["D1", "EV"], progressed: silent });
  expect(unreadable).toEqual([]);
  return sources;
};
const choicesOf = (sources: Source[], sectionCode = "") =>
  sources.map((source) => ({ match: sampleOf(source, ["D1", "EV"]).match, sectionCode }));

function course(): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "sections", ["gD1", "gEV"], {
    following: ["D1", "EV"].map((code) => ({ sectionIds: [code], attribute: null, groupId: `g${code}` })),
  });
  addStudent(plan, "ada", ["D1"], ["gD1"]);
  addStudent(plan, "ben", ["D1"], ["gD1"]);
  return plan;
}

describe("reading several files", () => {
  test("two of one name are told apart, so that a line is one line of one file", async () => {
    const sources = await read([
      { name: "roster.csv", content: "id,section\n1,D1\n" },
      { name: "roster.csv", content: "id,section\n2,EV\n" },
      { name: "both.zip", content: zipSync({ "x/roster.csv": strToU8("id,section\n3,EV\n") }) },
    ]);
    expect(sources.map((source) => tableOf(source).name)).toEqual(["roster.csv", "roster.csv (2)", "roster.csv (3)"]);
    const { rows } = look(course(), sources, choicesOf(sources), { ...options, partial: true }, null);
    expect(rows.map(({ file, line, sourcedId }) => `${file} ${line} ${sourcedId}`)).toEqual([
      "roster.csv 2 1",
      "roster.csv (2) 2 2",
      "roster.csv (3) 2 3",
    ]);
  });
  test("what cannot be read is told beside what can", async () => {
    const { sources, unreadable } = await readFiles(
      [
        { name: "good.csv", content: "id,section\n1,D1\n" },
        { name: "bad.csv", content: "" },
      ],
      { codes: [], progressed: silent },
    );
    expect([sources.length, unreadable.map(({ name }) => name)]).toEqual([1, ["bad.csv"]]);
  });
  test("how far it is never goes back, and ends at the whole", async () => {
    const shares: number[] = [];
    const content = `id,section\n${"1,D1\n".repeat(2000)}`;
    await readFiles(
      [1, 2, 3].map((number) => ({ name: `${number}.csv`, content })),
      { codes: [], progressed: (share) => shares.push(share) },
    );
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares.at(-1)).toBe(1);
  });
});

test("of a workbook the sheet that looks most like a roster is taken, and the others can be", async () => {
  const { Workbook } = (await import("exceljs")).default;
  const workbook = new Workbook();
  const rows = Array.from({ length: 30 }, (_, at) => [`Term ${at}`, "note"]);
  workbook.addWorksheet("Terms").addRows([["Term", "Note"], ...rows]);
  workbook.addWorksheet("People").addRows([
    ["Student id", "E-mail", "Section"],
    ["00ada", "ada@x.example", "D1"],
  ]);
  const sources = await read([{ name: "r.xlsx", content: new Uint8Array(await workbook.xlsx.writeBuffer()) }]);
  const source = sources[0] as Source;
  expect(sampleOf(source, [])).toMatchObject({
    name: "r.xlsx",
    sheet: "People",
    sheets: ["Terms", "People"],
    header: ["Student id", "E-mail", "Section"],
    sample: [["00ada", "ada@x.example", "D1"]],
    count: 1,
    match: ["id", "email", "section"],
  });
  expect(sampleOf({ ...source, chosen: 0 }, [])).toMatchObject({ sheet: "Terms", count: 30 });
});
test("a workbook of one sheet offers no choice", async () => {
  const content = await writeTable("xlsx", { sheet: "Roster", header: ["id", "section"], rows: [["1", "D1"]] });
  const [source] = await read([{ name: "r.xlsx", content }]);
  expect(sampleOf(source as Source, []).sheets).toEqual([]);
});

describe("looking", () => {
  const list = 'id,name,section\n00ada,"Test, ada",EV\n9,"New, Dee",EV\n';
  test("people who are new are counted, and whom the course knows are named", async () => {
    const sources = await read([{ name: "r.csv", content: list }]);
    const { consequences } = look(course(), sources, choicesOf(sources), { ...options, partial: true }, null);
    expect(consequences.groups).toEqual([
      { layerId: "sections", groupId: "gD1", gains: { known: [], count: 0 }, loses: { known: ["ada"], count: 1 } },
      { layerId: "sections", groupId: "gEV", gains: { known: ["ada"], count: 2 }, loses: { known: [], count: 0 } },
    ]);
  });
  test("nothing of the plan is changed by it, and in an empty course a group for each section is foreseen", async () => {
    const plan = course();
    const before = JSON.stringify(plan);
    const sources = await read([{ name: "r.csv", content: list }]);
    look(plan, sources, choicesOf(sources), options, null);
    expect(JSON.stringify(plan)).toBe(before);
    const { consequences, reconciled } = look(coursePlan(), sources, choicesOf(sources), options, "Sections");
    expect(reconciled.sizes).toEqual({ EV: 2 });
    expect(consequences.groups).toMatchObject([{ gains: { known: [], count: 2 } }]);
  });
  test("a file without a section column takes the section that is said of it", async () => {
    const sources = await read([{ name: "evening.csv", content: "id\n9\n" }]);
    expect(look(course(), sources, choicesOf(sources, "EV"), options, null).rows[0]).toMatchObject({
      sectionCode: "EV",
    });
  });
  test("comparing asks the same tables, and needs no section", async () => {
    const sources = await read([{ name: "list.csv", content: "id\n00ada\n" }]);
    const found = compare(course(), sources, choicesOf(sources), { kind: "section", id: "D1" }, t0);
    expect([found.both.length, found.onlyHere.map(({ id }) => id)]).toEqual([1, ["ben"]]);
  });
});

test("rows to mend of several files keep their own columns; a section that was said of a file stands beside them", async () => {
  const sources = await read([
    { name: "a.csv", content: "id,e-mail,section\n1,not an address,D1\n" },
    { name: "b.csv", content: "Given name,Family name,id\nCas,Test,\n" },
  ]);
  const { reconciled } = look(course(), sources, choicesOf(sources, "EV"), options, null);
  const { header, rows } = mendable(sources, reconciled);
  expect(header).toEqual(["id", "e-mail", "section", "Given name", "Family name", "Section", "File", "Line", "Reason"]);
  expect(rows).toEqual([
    ["1", "not an address", "D1", "", "", "", "a.csv", "2", expect.stringContaining("e-mail")],
    ["", "", "", "Cas", "Test", "EV", "b.csv", "2", "id: no id"],
  ]);
});

test("rows to mend carry their cells, file, line and reason, and come in again once they are mended", async () => {
  const sources = await read([
    { name: "a.csv", content: "id,e-mail,section\n1,not an address,D1\n2,b@x.example,D1\n" },
    { name: "b.csv", content: "id,e-mail,section\n,c@x.example,EV\n" },
  ]);
  const { reconciled } = look(course(), sources, choicesOf(sources), options, null);
  const { header, rows } = mendable(sources, reconciled);
  expect(header).toEqual(["id", "e-mail", "section", "File", "Line", "Reason"]);
  expect(rows).toEqual([
    ["1", "not an address", "D1", "a.csv", "2", 'e-mail: "not an address" is not an e-mail address'],
    ["", "c@x.example", "EV", "b.csv", "2", "id: no id"],
  ]);
});
