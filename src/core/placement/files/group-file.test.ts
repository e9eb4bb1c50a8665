import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { apply } from "../../commands.ts";
import { readTable, writeCsv } from "../../formats/text.ts";
import type { TextTable } from "../../formats/text-table.ts";
import { readWorkbook } from "../../formats/workbooks/read.ts";
import { writeTable } from "../../formats/workbooks/write.ts";
import { isRefusal } from "../../plan/command.ts";
import { lookup } from "../../plan/lookup.ts";
import type { Group, Plan } from "../../plan/types.ts";
import { addLayer, addSection, addStudent, coursePlan, t0 } from "../../tests/fixture.ts";
import { countLayer } from "../membership.ts";
import { type GroupFile, groupFileHeader, groupFileRows, judgeGroupFile } from "./group-file.ts";

const people = ["ada", "ben", "cy", "di"];
function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South"]);
  addLayer(plan, "Clubs", ["Drone", "Boat"], { rule: "any number" });
  for (const id of people) addStudent(plan, id, ["D1"], id === "di" ? ["Drone", "Boat"] : ["North", "Drone"]);
  plan.groups.North = { ...plan.groups.North, leads: ["ben"], label: "The north" } as Group;
  return plan;
}
const judge = (plan: Plan, csv: string, layer = "", t = t0) =>
  judgeGroupFile(plan, readTable("g.csv", csv) as TextTable, layer, t);
const file = (plan: Plan, csv: string, layer = ""): GroupFile => {
  const judged = judge(plan, csv, layer);
  if ("wrong" in judged) throw new Error(judged.wrong);
  return judged;
};
const id = "11111111-1111-4111-8111-111111111111";
function take(plan: Plan, { groups, into, unlisted }: GroupFile, whole = false): Plan {
  const ends = whole ? unlisted.map(({ groupId, personId }) => ({ groupId, personId })) : [];
  const command = {
    id,
    kind: "layer.takeFile" as const,
    file: "g.csv",
    newLayerRule: "at most one" as const,
    groups: groups.map(({ layer, name, label, leads }) => ({ layer, name, label, leads })),
    into,
    ends,
  };
  const next = apply(plan, command, { now: t0 });
  if (isRefusal(next)) throw new Error(next.sentence);
  return next;
}
const members = (plan: Plan, layer: string) => {
  const found = lookup(plan).layers.find(({ name }) => name === layer);
  return Object.fromEntries(
    countLayer(plan, found?.id ?? "", t0).groups.map(({ group, personIds }) => [group.name, personIds]),
  );
};

describe("out and in again", () => {
  test("CSV and XLSX come back without a difference, labels, leads and empty groups included", async () => {
    const rows = groupFileRows(course(), ["Banks", "Clubs"], t0);
    const sheet = (await readWorkbook(
      "g.xlsx",
      await writeTable("xlsx", { sheet: "Groups", header: groupFileHeader, rows }),
    )) as TextTable[];
    for (const table of [readTable("g.csv", writeCsv(groupFileHeader, rows)) as TextTable, sheet[0] as TextTable]) {
      const judged = judgeGroupFile(course(), table, "", t0) as GroupFile;
      expect(judged.counts).toMatchObject({ same: rows.length });
      expect(judged).toMatchObject({ into: [], unlisted: [] });
      expect(take(course(), judged, true).placements).toEqual(course().placements);
      expect(take(course(), judged, true).groups).toEqual(course().groups);
    }
  });
  test("into an empty course of the same people, everything is made as it was; a second time nothing is new", () => {
    const empty = { ...course(), layers: {}, groups: {}, placements: {} };
    const csv = writeCsv(groupFileHeader, groupFileRows(course(), ["Banks"], t0));
    const made = take(empty, file(empty, csv));
    expect(members(made, "Banks")).toEqual(members(course(), "Banks"));
    expect(Object.values(made.groups).find(({ name }) => name === "North")).toMatchObject({
      label: "The north",
      leads: ["ben"],
    });
    const again = file(made, csv);
    expect(again.counts.same).toBe(again.rows.length);
  });
  test("for any memberships, out then in is only the same", () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom(...people), fc.constantFrom("Drone", "Boat")), { maxLength: 8 }),
        (pairs) => {
          const plan = course();
          plan.placements = {};
          for (const [personId, groupId] of pairs) {
            const row = `${personId} ${groupId}`;
            plan.placements[row] = { id: row, personId, groupId, since: 0, until: null, held: false };
          }
          const judged = file(plan, writeCsv(groupFileHeader, groupFileRows(plan, ["Clubs"], t0)));
          expect([judged.counts.same, judged.into, judged.unlisted]).toEqual([judged.rows.length, [], []]);
        },
      ),
    );
  });
});

describe("judging", () => {
  test("columns in any order, people by id, e-mail or login; every row has one verdict, and counts add up", () => {
    const plan = course();
    const csv =
      "Lead,Student id,Group,Layer\n,ada,South,banks\nyes,cy,North,Banks\n,nobody,North,Banks\n,ada,South,Banks\n,ada,North,Banks\n,di,,Banks\n,di,East,Banks\n";
    const judged = file(plan, csv);
    expect(judged.rows.map(({ verdict, says }) => [verdict, says])).toEqual([
      ["moved", "from North"],
      ["changed", "leads"],
      ["unreadable", "nobody: nobody of this course"],
      ["duplicate", "the same as line 2"],
      ["unreadable", "Test, ada is in south on line 2 already"],
      ["unreadable", "Group: no group is named"],
      ["new", "into East"],
    ]);
    expect(Object.values(judged.counts).reduce((sum, count) => sum + count, 0)).toBe(7);
    const taken = take(plan, judged);
    expect(members(taken, "Banks")).toEqual({ North: ["ben", "cy"], South: ["ada"], East: ["di"] });
    expect(taken.groups.North?.leads).toEqual(["cy"]);
  });
  test("whom the file does not list leaves only where it is the whole of it", () => {
    const csv = "Group,Student id\nNorth,ada\n";
    const judged = file(course(), csv, "Banks");
    expect(judged.unlisted.map(({ personId }) => personId)).toEqual(["ben", "cy"]);
    expect(members(take(course(), judged), "Banks").North).toEqual(["ada", "ben", "cy"]);
    expect(members(take(course(), judged, true), "Banks").North).toEqual(["ada"]);
  });
  test("a file without groups, ids or a layer says what it lacks", () => {
    expect(judge(course(), "Name,Student id\nx,ada\n")).toMatchObject({ wrong: expect.stringContaining("Group") });
    expect(judge(course(), "Group,Name\nNorth,x\n")).toMatchObject({ wrong: expect.stringContaining("Student id") });
    expect(file(course(), "Group,Student id\nNorth,ada\n").counts.unreadable).toBe(1);
  });
});
