import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { applyDifference, difference } from "../plan/difference.ts";
import type { Plan } from "../plan/types.ts";
import { addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { reconcile } from "./reconcile.ts";
import type { RosterRow } from "./rows.ts";
import { takeIn, unusableRows } from "./take-in.ts";
import { type Reconciled, type ReconcileOptions, verdicts, wholeRoster } from "./verdict.ts";

const options: ReconcileOptions = { ...wholeRoster, now: t0 };

let line = 1;
const row = (sourcedId: string, sectionCode: string, fields: Partial<RosterRow> = {}): RosterRow => ({
  file: "f",
  line: ++line,
  sourcedId,
  username: "",
  email: "",
  givenName: "",
  familyName: "",
  sectionCode,
  sectionTitle: "",
  meets: "",
  role: "student",
  attributes: {},
  problem: null,
  ...fields,
});
/** ada and ben in D1, cas in EV; registrar's ids are 00ada and so on. */
function course(): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addStudent(plan, "ada", ["D1"]);
  addStudent(plan, "ben", ["D1"]);
  addStudent(plan, "cas", ["EV"]);
  return plan;
}
const judge = (rows: RosterRow[], changes: Partial<ReconcileOptions> = {}, plan = course()) =>
  reconcile(plan, rows, { ...options, ...changes });
const said = (result: Reconciled) => result.rows.map(({ verdict }) => verdict);
const gone = (result: Reconciled) => result.missing.map(({ person }) => person.id);

describe("verdicts", () => {
  test("same, new, moved, changed and missing from roster", () => {
    const result = judge([
      row("00ada", "D1"),
      row("00cas", "D1"),
      row("00new", "EV"),
      row("00ben", "D1", { givenName: "Benedict" }),
    ]);
    expect(said(result)).toEqual(["same", "moved", "new", "changed"]);
    expect(result.rows[3]?.changes).toEqual([{ field: "givenName", from: "ben", to: "Benedict" }]);
    expect(gone(result)).toEqual([]);
    expect(gone(judge([row("00ada", "D1")]))).toEqual(["ben"]);
    expect(gone(judge([row("00ada", "D1")], { partial: true }))).toEqual([]);
  });
  test("whoever is listed in a section of theirs as well as in another joins it beside, and moves from nowhere", () => {
    const plan = course();
    const both = plan.enrolments["ada in D1"] as Plan["enrolments"][string];
    plan.enrolments["ada in EV"] = { ...both, id: "ada in EV", sectionId: "EV" };
    addSection(plan, "D2");
    const listed = [row("00ben", "D1"), row("00cas", "EV"), row("00ada", "D2")];
    expect(said(judge(listed, {}, plan))).toEqual(["same", "same", "moved"]);
    expect(said(judge([...listed, row("00ada", "EV")], {}, plan))).toEqual(["same", "same", "new", "same"]);
  });
  test("a blank cell keeps what is stored", () => {
    const plan = course();
    const rows = [row("00ada", "D1"), row("00ben", "D1")];
    expect(takeIn(plan, judge(rows, {}, plan), "00000000-0000-7000-8000-000000000009", t0, null)).toEqual(plan);
  });
  test("returning comes back, and finds its person", () => {
    const plan = course();
    Object.assign(plan.enrolments["ada in D1"] as object, { until: 5 });
    const result = judge([row("00ada", "EV")], { partial: true }, plan);
    expect(said(result)).toEqual(["returning"]);
    const next = takeIn(plan, result, "00000000-0000-7000-8000-000000000001", t0, null);
    expect(Object.keys(next.people)).toHaveLength(3);
    expect(
      Object.values(next.enrolments).filter(({ personId, until }) => personId === "ada" && until === null),
    ).toHaveLength(1);
  });
  test("someone added by hand or by code is never missing", () => {
    const plan = course();
    Object.assign(plan.enrolments["ben in D1"] as object, { origin: "hand" });
    expect(gone(judge([row("00ada", "D1")], {}, plan))).toEqual([]);
  });
  test("an unknown section is unreadable until it is accepted as new; in an empty course all are new", () => {
    expect(said(judge([row("00x", "D9")]))).toEqual(["unreadable"]);
    expect(judge([row("00x", "D9")]).unknownSections).toEqual(["D9"]);
    expect(said(judge([row("00x", "D9")], { acceptedSections: ["D9"] }))).toEqual(["new"]);
    expect(judge([row("00x", "D9")], {}, coursePlan()).newSections).toEqual(["D9"]);
  });
  test("the same id and section twice: equal rows, the first stands; conflicting rows, none is used until one is chosen", () => {
    expect(said(judge([row("00ada", "D1"), row("00ada", "D1")]))).toEqual(["same", "duplicate"]);
    const rows = [row("00ada", "D1", { givenName: "Ada" }), row("00ada", "D1", { givenName: "Adah" })];
    const conflicting = judge(rows);
    expect(said(conflicting)).toEqual(["duplicate", "duplicate"]);
    expect(unusableRows(conflicting)).toHaveLength(2);
    // Not even in an unusable row: ada is listed, ben is not.
    expect(gone(conflicting)).toEqual(["ben"]);
    expect(said(judge(rows, { chosen: [`f:${rows[1]?.line}`] }))).toEqual(["duplicate", "changed"]);
  });
  test("the same id in two sections: both stand; rows that disagree about the person conflict across sections too", () => {
    expect(said(judge([row("00ada", "D1"), row("00ada", "EV")], { partial: true }))).toEqual(["same", "new"]);
    const rows = [row("00ada", "D1", { givenName: "Ada" }), row("00ada", "EV", { givenName: "Adah" })];
    expect(said(judge(rows))).toEqual(["duplicate", "duplicate"]);
  });
  test("two people may exchange logins; two rows that claim one value both clash", () => {
    expect(said(judge([row("00ada", "D1", { username: "ben" }), row("00ben", "D1", { username: "ada" })]))).toEqual([
      "changed",
      "changed",
    ]);
    expect(
      said(judge([row("00ada", "D1", { email: "one@x.example" }), row("00ben", "D1", { email: "ONE@x.example" })])),
    ).toEqual(["clash", "clash"]);
    expect(said(judge([row("00new", "D1", { username: "CAS" })]))).toEqual(["clash"]);
  });
  test("a login that differs by case alone is the same; its owner stands beside somebody else who claims it", () => {
    const owner = row("00ada", "D1", { username: "ADA", email: "Ada@X.example" });
    expect(said(judge([owner]))).toEqual(["same"]);
    expect(said(judge([owner, row("00new", "D1", { username: "ada" })], { partial: true }))).toEqual(["same", "clash"]);
    expect(said(judge([row("00new", "D1", { email: "ada@x.example" }), owner]))).toEqual(["clash", "same"]);
  });
  test("nobody moves out of a section that lists them, were it in a row that cannot be used", () => {
    const rows = [row("00ada", "D1", { problem: "email: no e-mail" }), row("00ada", "EV")];
    expect(said(judge(rows))).toEqual(["unreadable", "new"]);
    expect(gone(judge(rows))).toEqual(["ben", "cas"]);
    const clash = [row("00ada", "D1", { username: "cas" }), row("00ada", "EV", { username: "" })];
    expect(said(judge([...clash, row("00cas", "EV", { username: "cas" })]))).toEqual(["clash", "new", "same"]);
  });
  test("a row that clashes lists whom it clashes with: ids that lost their zeros end nobody's place", () => {
    const rows = ["ada", "ben"].map((name) => row(name, "D1", { username: name, email: `${name}@x.example` }));
    const result = judge([...rows, row("00cas", "EV")]);
    expect(said(result)).toEqual(["clash", "clash", "same"]);
    expect(gone(result)).toEqual([]);
  });
  test("a row that falls keeps its old login, on which another may fall", () => {
    // ben clashes with cas and so stays "ben", which ada then cannot have.
    expect(said(judge([row("00ada", "D1", { username: "ben" }), row("00ben", "D1", { username: "cas" })]))).toEqual([
      "clash",
      "clash",
    ]);
  });
  test("a switcher's old enrolment ends and the new one begins; what followed the section follows", () => {
    const result = judge([row("00cas", "D1")], { partial: true });
    const next = takeIn(course(), result, "00000000-0000-7000-8000-000000000002", t0, "Sections");
    const enrolments = Object.values(next.enrolments).filter(({ personId }) => personId === "cas");
    expect(enrolments.map(({ sectionId, until }) => [sectionId, until])).toEqual([
      ["EV", t0],
      ["D1", null],
    ]);
    const groups = Object.values(next.placements)
      .filter(({ personId }) => personId === "cas")
      .map(({ groupId }) => next.groups[groupId]?.name);
    expect(groups).toEqual(["D1"]);
  });
});

const ids = ["00ada", "00ben", "00cas", "00new", "00more"];
const rowsOf = fc
  .array(
    fc.record({
      id: fc.constantFrom("", ...ids),
      code: fc.constantFrom("D1", "EV", "D9"),
      username: fc.constantFrom("", "ada", "ben", "zoe"),
      givenName: fc.constantFrom("", "Zoe", "ada"),
      email: fc.constantFrom("", "ada@x.example", "other@x.example"),
    }),
    { maxLength: 9 },
  )
  .map((list) =>
    list.map(({ id, code, ...fields }, index) =>
      row(id, code, { ...fields, line: index, problem: id === "" ? "id: no id" : null }),
    ),
  );
const intakeId = "00000000-0000-7000-8000-00000000000a";

describe("properties", () => {
  test("every row gets exactly one verdict, and the counts add up", () => {
    fc.assert(
      fc.property(rowsOf, fc.boolean(), (rows, partial) => {
        const { counts, rows: judged } = judge(rows, { partial });
        expect(verdicts.reduce((sum, verdict) => sum + counts[verdict], 0)).toBe(rows.length);
        expect(judged.every(({ verdict, says }) => verdict === "same" || says !== "")).toBe(true);
      }),
    );
  });
  test("taken in twice: the second time every used row is the same, and nothing is written", () => {
    fc.assert(
      fc.property(rowsOf, fc.boolean(), (rows, partial) => {
        const before = course();
        const first = judge(rows, { partial }, before);
        const after = takeIn(before, first, intakeId, t0, null);
        const second = reconcile(after, rows, { ...options, partial });
        const used = second.rows.filter(
          ({ verdict, conflict }) => !["unreadable", "clash"].includes(verdict) && !conflict && verdict !== "duplicate",
        );
        expect(used.map(({ verdict }) => verdict).filter((verdict) => verdict !== "same")).toEqual([]);
        expect(difference(after, takeIn(after, second, intakeId.replace("a", "b"), t0, null))).toEqual([]);
      }),
      { numRuns: 500 },
    );
  });
  test("nobody leaves a section, moved or missing, in which some row of the intake lists them", () => {
    fc.assert(
      fc.property(rowsOf, fc.boolean(), (rows, partial) => {
        const before = course();
        const after = takeIn(before, judge(rows, { partial }, before), intakeId, t0, null);
        for (const { personId, sectionId, id } of Object.values(before.enrolments)) {
          const { sourcedId } = before.people[personId] as Plan["people"][string];
          const lists = rows.some((one) => one.sourcedId === sourcedId && one.sectionCode === sectionId);
          if (lists) expect([personId, sectionId, after.enrolments[id]?.until]).toEqual([personId, sectionId, null]);
        }
      }),
      { numRuns: 500 },
    );
  });
  test("undoing an intake by its difference gives the plan before", () => {
    fc.assert(
      fc.property(rowsOf, (rows) => {
        const before = course();
        const after = takeIn(before, judge(rows, {}, before), intakeId, t0, "Sections");
        const back = difference(before, after).map((change) => ({
          ...change,
          before: change.after,
          after: change.before,
        }));
        expect(applyDifference(after, back)).toEqual(before);
      }),
    );
  });
});
