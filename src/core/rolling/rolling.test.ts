import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { lookup } from "../plan/lookup.ts";
import { blankQuiz } from "../plan/questions.ts";
import { type Plan, tableNames } from "../plan/types.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  forOnly,
  group,
  meetingAnchor,
  person,
  section,
} from "../tests/fixture.ts";
import { randomCourse } from "../tests/random-course.ts";
import { planSchema, readPlanFile, writePlan } from "./portable.ts";
import { type NewTerm, rollOver } from "./roll-over.ts";

const term: NewTerm = {
  id: "5f0e3a52-4a53-4c5c-9a52-0f7f3a1d2b4c",
  code: "WSH 241",
  title: "Watershed Field Methods",
  term: "Next term",
  termStart: "2027-02-01",
  termEnd: "2027-05-07",
  noClassDays: [{ day: "2027-03-17", title: "Holiday" }],
};
function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Teams", ["Otter", "Heron"]);
  addStudent(plan, "ada", ["D1"], ["Otter"]);
  const otter = plan.groups.Otter;
  if (otter) Object.assign(otter, { leads: ["ada"], code: "weir-7" });
  const teams = plan.layers.Teams;
  if (teams) teams.following = [{ sectionIds: ["D1"], attribute: null, groupId: "Otter" }];
  return plan;
}
/** What the tests spoil in a file. */
interface File {
  format: string;
  course: { termStart: string };
  groups: object[];
  placements: object[];
}
/** A file of a plan as it is, however wrong: what the writer itself would refuse. */
const writePlanAsIs = (plan: Plan): string =>
  JSON.stringify({
    format: "amber-weave plan",
    version: 1,
    course: plan.course,
    ...Object.fromEntries(tableNames.map((name) => [name, Object.values(plan[name])])),
  });
const named = (plan: Plan, title: string) => Object.values(plan.items).find((item) => item.title === title);

describe("a new course out of an old plan", () => {
  test("people stay behind, groups and rules come along, dates keep their week and weekday", () => {
    const plan = course();
    addItem(plan, "lab", {
      kind: "assignment",
      dates: { opens: "2026-09-28T09:00", due: "2026-11-11T17:00", closes: "none", attempts: 2 },
      audience: forOnly(group("Otter"), section("D1")),
      condition: { kind: "from", moment: meetingAnchor(3, { fallback: "2026-10-12T09:00" }) },
    });
    plan.overrides.o = { id: "o", itemId: "lab", target: group("Heron"), dates: { due: meetingAnchor(5) } };
    const { plan: made, left, idOf } = rollOver(plan, term);
    expect([made.people, made.enrolments, made.placements]).toEqual([{}, {}, {}]);
    expect(made.course).toMatchObject({ code: "WSH 241", termStart: "2027-02-01", timeZone: "Europe/Dublin" });
    const lab = named(made, "lab");
    // The seventh Wednesday of one term is that of the other.
    expect(lab?.dates).toEqual({ opens: "2027-02-01T09:00", due: "2027-03-17T17:00", closes: "none", attempts: 2 });
    expect(lab?.audience.to).toEqual([
      { kind: "group", id: idOf("Otter") },
      { kind: "section", id: idOf("D1") },
    ]);
    expect(lab?.condition).toMatchObject({ moment: { meeting: 3, fallback: "2027-02-15T09:00" } });
    expect(Object.values(made.overrides)).toMatchObject([{ itemId: lab?.id, dates: { due: { meeting: 5 } } }]);
    expect(made.groups[idOf("Otter")]).toMatchObject({ leads: [], code: null, layerId: idOf("Teams") });
    expect(made.layers[idOf("Teams")]?.following).toEqual([
      { sectionIds: [idOf("D1")], attribute: null, groupId: idOf("Otter") },
    ]);
    expect(left).toEqual([
      "Codes of groups are not carried: make new ones.",
      '"lab" due on Wed 17 Mar, a day without class: look at it.',
    ]);
  });
  test("the first and the last day of the term are in it, the days around them are not", () => {
    const plan = course();
    const dates = { before: "2026-09-27", first: "2026-09-28", last: "2027-01-01", after: "2027-01-02" };
    for (const [id, day] of Object.entries(dates)) addItem(plan, id, { dates: { due: `${day}T12:00` } });
    expect(rollOver(plan, term).left.filter((says) => says.includes("outside"))).toEqual([
      '"before" due on Sun 31 Jan, outside the new term: look at it.',
      '"after" due on Sat 8 May, outside the new term: look at it.',
    ]);
  });
  test("marks and right answers that staff had shown are not shown to the next term", () => {
    const plan = course();
    addItem(plan, "quiz", { kind: "quiz", quiz: { ...blankQuiz, shows: "when released", released: true } });
    expect(named(rollOver(plan, term).plan, "quiz")?.quiz).toMatchObject({ shows: "when released", released: false });
  });
  test("whatever named single people is listed, and names nobody in their place", () => {
    const plan = course();
    addItem(plan, "alone", { audience: forOnly(person("ada")), dates: { due: "2026-12-31T17:00" } });
    addItem(plan, "both", { audience: forOnly(person("ada"), group("Otter")) });
    addItem(plan, "owned", { owners: ["ada"] });
    plan.course.staffMay = { ada: ["publish"] };
    addItem(plan, "asks", { condition: { kind: "in", targets: [person("ada")] } });
    plan.allowances.a = { id: "a", target: person("ada"), minutesFactor: "1.5", extraDays: null, extraAttempts: null };
    const { plan: made, left } = rollOver(plan, term);
    expect(named(made, "alone")?.audience.to).toEqual([]);
    expect(named(made, "both")?.audience.to).toHaveLength(1);
    expect(made.allowances).toEqual({});
    expect(left).toEqual(
      expect.arrayContaining([
        '"alone" was for named people alone; it is for nobody now.',
        '"both" was for named people too; it is for its groups and sections alone now.',
        'A condition of "asks" named people; it names nobody now.',
        "1 allowance of single people is not carried.",
        "1 item was owned by staff; without people it is yours alone.",
      ]),
    );
    expect(JSON.stringify(made)).not.toContain('"ada"');
  });
  test("every name in it is answered, and the same course makes the same rows, on random courses", () => {
    fc.assert(
      fc.property(randomCourse, ({ plan }) => {
        const { plan: made } = rollOver(plan, term);
        expect(rollOver(plan, term).plan).toEqual(made);
        expect(readPlanFile(writePlan(made, "schema"))).toEqual({ plan: made });
        expect(Object.keys(made.items)).toHaveLength(Object.keys(plan.items).length);
        expect(lookup(made).layers).toHaveLength(lookup(plan).layers.length);
        const old = tableNames.flatMap((name) => Object.keys(plan[name]));
        for (const name of tableNames) for (const id of Object.keys(made[name])) expect(old).not.toContain(id);
      }),
      { numRuns: 60 },
    );
  });
});

describe("a plan as a file", () => {
  test("comes back as it was, on random courses", () => {
    fc.assert(
      fc.property(randomCourse, ({ plan }) => {
        expect(readPlanFile(writePlan(plan, "schema"))).toEqual({ plan });
      }),
      { numRuns: 60 },
    );
  });
  test("what is wrong says where", () => {
    const text = writePlan(course(), "schema");
    const wrong = (change: (file: File) => void) => {
      const file = JSON.parse(text);
      change(file);
      const read = readPlanFile(JSON.stringify(file));
      return "wrong" in read ? read.wrong : "";
    };
    expect(readPlanFile("{")).toMatchObject({ wrong: expect.stringMatching(/^The file is no JSON/) });
    expect(wrong((file) => Object.assign(file, { format: "other" }))).toMatch(
      /^The file is no plan: it does not say "format"/,
    );
    expect(wrong((file) => Object.assign(file, { version: 2 }))).toMatch(/version 2 .* newer/);
    expect(wrong((file) => Object.assign(file.course, { termStart: "soon" }))).toMatch(
      /^course\.termStart: a day such as/,
    );
    expect(wrong((file) => file.groups.push(file.groups[0] ?? {}))).toMatch(
      /^groups, row 3 \(Heron\) has the same id as row 1/,
    );
    expect(wrong((file) => Object.assign(file.placements[0] ?? {}, { groupId: "gone" }))).toMatch(
      /^placements, row 1 \(ada in Otter\): it names gone of the groups, which is not there/,
    );
  });
  test("every kind of fault is told by its row, and whatever is taken can be shown", () => {
    const base = () => {
      const plan = course();
      addItem(plan, "folder", { kind: "folder" });
      addItem(plan, "page", { title: "Kit list", parentId: "folder" });
      addItem(plan, "lab", { kind: "assignment" });
      plan.entrances.e = { id: "e", itemId: "lab", folderId: "folder", position: 1 } as never;
      return plan;
    };
    const spoilt = (change: (plan: Plan) => void): string => {
      const plan = base();
      change(plan);
      const read = readPlanFile(writePlanAsIs(plan));
      return "wrong" in read ? read.wrong : "";
    };
    const row = (plan: Plan, name: "items" | "groups" | "entrances", id: string) =>
      plan[name][id] as never as Record<string, unknown>;
    expect(spoilt(() => {})).toBe("");
    const faults: [string, (plan: Plan) => void][] = [
      ["a time zone such as", (plan) => Object.assign(plan.course, { timeZone: "Mars/Base" })],
      ["a day that there is", (plan) => Object.assign(plan.course, { termEnd: "2027-02-30" })],
      ["a day such as", (plan) => Object.assign(plan.course, { termEnd: "2027-2-3" })],
      ["its term ends before it begins", (plan) => Object.assign(plan.course, { termEnd: "2020-01-01" })],
      [
        "stands under Kit list, which is no folder",
        (plan) => Object.assign(row(plan, "items", "lab"), { parentId: "page" }),
      ],
      ["stands within itself", (plan) => Object.assign(row(plan, "items", "folder"), { parentId: "folder" })],
      ["names nothing of the items", (plan) => Object.assign(row(plan, "items", "lab"), { parentId: "nothing" })],
      [
        "leads into Kit list, which is no folder",
        (plan) => Object.assign(row(plan, "entrances", "e"), { folderId: "page" }),
      ],
      ["same code, as codes are compared", (plan) => Object.assign(row(plan, "groups", "Heron"), { code: "WEIR-7" })],
      ["same code, as codes are compared", (plan) => Object.assign(plan.course, { visitorCode: "weir 7" })],
      [
        "category of the gradebook (tests)",
        (plan) => Object.assign(row(plan, "items", "lab"), { categoryId: "tests" }),
      ],
      [
        "weight",
        (plan) =>
          Object.assign(plan.course, {
            grading: { ...plan.course.grading, categories: [{ id: "c", name: "C", weight: -1, dropLowest: 0 }] },
          }),
      ],
    ];
    for (const [says, change] of faults) expect(spoilt(change), says).toContain(says);
  });
  test("the same plan is the same file, in whatever order its rows and fields came", () => {
    const plan = course();
    const turned = JSON.parse(JSON.stringify(plan), (_, value) =>
      value && typeof value === "object" && !Array.isArray(value)
        ? Object.fromEntries(Object.entries(value).reverse())
        : value,
    );
    expect(writePlan(turned, "schema")).toBe(writePlan(plan, "schema"));
  });
  test("the schema names every table and closes what is asked for", () => {
    const schema = planSchema() as { required: string[]; properties: Record<string, object> };
    expect(schema.required).toEqual(expect.arrayContaining(["format", "version", "course", ...tableNames]));
    expect(schema.properties.format).toMatchObject({ const: "amber-weave plan" });
    expect(JSON.stringify(schema)).toContain("$ref");
  });
});
