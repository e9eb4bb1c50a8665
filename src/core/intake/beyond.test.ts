/** What surrounds reconciling: questions, comparing, consequences, undoing, people by hand, and rosters going out. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { apply } from "../commands.ts";
import { readTable, writeCsv } from "../formats/text.ts";
import type { TextTable } from "../formats/text-table.ts";
import { isRefusal } from "../plan/command.ts";
import { applyDifference, difference, same } from "../plan/difference.ts";
import { holdsAt } from "../plan/lookup.ts";
import type { Plan } from "../plan/types.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { matchColumns } from "./columns.ts";
import { compareList, membersOf } from "./compare.ts";
import { downstream } from "./downstream.ts";
import { reconcile } from "./reconcile.ts";
import { type RosterRow, rosterRows } from "./rows.ts";
import { takeIn } from "./take-in.ts";
import { invert, undoChanges } from "./undo.ts";
import { type ReconcileOptions, wholeRoster } from "./verdict.ts";

const options: ReconcileOptions = { ...wholeRoster, now: t0 };
const intakeId = "6f0e3a52-4a53-4c5c-9a52-0f7f3a1d2b4c";
const rowsOf = (csv: string, known: string[] = []): RosterRow[] => {
  const table = readTable("r.csv", csv) as TextTable;
  return rosterRows(table, matchColumns(table, ["D1", "EV"]), "", known);
};
/** ada and ben in D1, cas in EV; a layer "Sections" that follows. */
function course(): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "sections", ["gD1", "gEV"], {
    following: ["D1", "EV"].map((code) => ({ sectionIds: [code], attribute: null, groupId: `g${code}` })),
  });
  addStudent(plan, "ada", ["D1"], ["gD1"]);
  addStudent(plan, "ben", ["D1"], ["gD1"]);
  addStudent(plan, "cas", ["EV"], ["gEV"]);
  return plan;
}
const listedNow = 'id,name,section\n00ada,"Test, ada",D1\n00ben,"Test, ben",D1\n00cas,"Test, cas",EV\n';

describe("possible same people", () => {
  const born = (plan: Plan) => {
    const ada = plan.people.ada;
    if (ada) ada.attributes = { Birthday: "2004-05-06" };
    return plan;
  };
  const list = 'id,name,section,Birthday\n99ada,"Test, ada",D1,2004-05-06\n00ben,"Test, ben",D1,\n';
  test("the same name and birthday under two ids is asked, and named with both ids", () => {
    const { questions } = reconcile(born(course()), rowsOf(list), options);
    expect(questions).toMatchObject([
      { row: { sourcedId: "99ada" }, sourcedId: "00ada", because: "the same name and birthday" },
    ]);
  });
  test("another birthday, or the old id listed too, is no question", () => {
    expect(reconcile(born(course()), rowsOf(list.replace("2004-05-06", "2003-01-01")), options).questions).toEqual([]);
    expect(reconcile(born(course()), rowsOf(`${list}00ada,"Test, ada",D1,\n`), options).questions).toEqual([]);
  });
  test("the same name and e-mail is asked, though the row clashes until it is answered", () => {
    const rows = rowsOf('id,name,section,e-mail\n99ada,"Test, ada",D1,ada@x.example\n');
    const before = reconcile(course(), rows, options);
    expect(before.questions).toMatchObject([{ because: "the same name and e-mail" }]);
    expect(before.rows[0]?.verdict).toBe("clash");
    const after = reconcile(course(), rows, { ...options, samePeople: { "99ada": "00ada" } });
    expect(after.questions).toEqual([]);
    expect(after.rows[0]).toMatchObject({ verdict: "changed", changes: [{ field: "id", from: "00ada", to: "99ada" }] });
  });
  test("the same person keeps the record and gets the new id; two people become two", () => {
    const [plan, rows] = [born(course()), rowsOf(list)];
    const asOne = { ...options, samePeople: { "99ada": "00ada" } };
    const one = takeIn(plan, reconcile(plan, rows, asOne), intakeId, t0, null, asOne.samePeople);
    expect(one.people.ada).toMatchObject({ sourcedId: "99ada", attributes: { Birthday: "2004-05-06" } });
    expect(Object.keys(one.people)).toHaveLength(3);
    expect(Object.keys(one.enrolments)).toHaveLength(3);
    const asTwo = { ...options, samePeople: { "99ada": null } };
    const judged = reconcile(plan, rows, asTwo);
    expect(judged.questions).toEqual([]);
    expect(Object.keys(takeIn(plan, judged, intakeId, t0, null, asTwo.samePeople).people)).toHaveLength(4);
  });
  test("two new people of one file are asked about as well", () => {
    const rows = rowsOf('id,name,section,Birthday\n1,"New, Dee",D1,2001-01-01\n2,"New, Dee",EV,2001-01-01\n');
    expect(reconcile(course(), rows, options).questions).toMatchObject([{ row: { sourcedId: "2" }, sourcedId: "1" }]);
  });
});

test("someone added by hand is kept, and said so; a partial roster says nothing of either", () => {
  const plan = course();
  const added = apply(
    plan,
    {
      id: intakeId,
      kind: "enrolment.add",
      people: [{ sourcedId: "77", username: null, email: null, givenName: "Dee", familyName: "Hand" }],
      sectionId: "D1",
      role: "student",
    },
    { now: t0 - 1 },
  );
  if (isRefusal(added)) throw new Error(added.sentence);
  const judged = reconcile(added, rowsOf('id,name,section\n00ada,"Test, ada",D1\n'), options);
  expect(judged.byHand.map(({ person }) => person.sourcedId)).toEqual(["77"]);
  expect(judged.missing.map(({ person }) => person.id)).toEqual(["ben"]);
  expect(
    reconcile(added, rowsOf('id,name,section\n00ada,"Test, ada",D1\n'), { ...options, partial: true }),
  ).toMatchObject({ byHand: [], missing: [] });
});
test("attributes are known by their name without case", () => {
  const plan = course();
  Object.assign(plan.people.ada ?? {}, { attributes: { Year: "2" } });
  const rows = rowsOf("id,section,year\n00ada,D1,2\n", ["Year"]);
  expect(reconcile(plan, rows, options).rows[0]?.verdict).toBe("same");
});

describe("comparing", () => {
  const against = (csv: string, scope: Parameters<typeof compareList>[2] = { kind: "course" }, plan = course()) => {
    const table = readTable("list.csv", csv) as TextTable;
    const found = compareList(plan, [{ table, match: matchColumns(table) }], scope, t0);
    return {
      both: found.both.map(({ person }) => person.id),
      onlyList: found.onlyList.map(({ person, listed }) => person?.id ?? listed.says),
      onlyHere: found.onlyHere.map(({ id }) => id),
      unclear: found.unclear.map(({ why }) => why),
    };
  };
  test("by id, e-mail, username or name, line by line, in a list of one column", () => {
    expect(against("who\n00ada\nBEN@x.example\ncas\nnobody\n")).toEqual({
      both: ["ada", "ben", "cas"],
      onlyList: ["nobody"],
      onlyHere: [],
      unclear: [],
    });
    expect(against('name\n"Test, ada"\nben Test\n')).toMatchObject({ both: ["ada", "ben"], onlyHere: ["cas"] });
  });
  test("with a section or a group: whoever is elsewhere in the course is named, not unknown", () => {
    expect(against("id\n00ada\n00cas\n", { kind: "section", id: "D1" })).toEqual({
      both: ["ada"],
      onlyList: ["cas"],
      onlyHere: ["ben"],
      unclear: [],
    });
    expect(against("id\n00cas\n", { kind: "group", id: "gEV" })).toMatchObject({ both: ["cas"], onlyHere: [] });
  });
  test("a name that two share is unclear, unless one of them is in the section; a second line of one person too", () => {
    const plan = course();
    addStudent(plan, "twin", ["EV"]);
    Object.assign(plan.people.twin ?? {}, { givenName: "ada" });
    expect(against('name\n"Test, ada"\n', { kind: "course" }, plan).unclear[0]).toMatch(
      /could be .*00ada.* or .*00twin/,
    );
    expect(against('name\n"Test, ada"\n', { kind: "section", id: "D1" }, plan).both).toEqual(["ada"]);
    expect(against("id\n00ada\n00ada\n").unclear).toEqual(["names Test, ada again, as line 2 does"]);
  });
  test("nothing is lost: everyone of the scope and every line is in one of the lists", () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom("00ada", "00ben", "cas", "x@y.z", "Test, ada"), { minLength: 1 }),
        (lines) => {
          const table = readTable(
            "l.csv",
            writeCsv(
              ["who"],
              lines.map((line) => [line]),
            ),
          ) as TextTable;
          const found = compareList(course(), [{ table, match: ["ignore"] }], { kind: "course" }, t0);
          expect(found.both.length + found.onlyList.length + found.unclear.length).toBe(lines.length);
          expect(found.both.length + found.onlyHere.length).toBe(membersOf(course(), { kind: "course" }, t0).size);
        },
      ),
    );
  });
});

describe("consequences", () => {
  const consequences = (csv: string, plan = course()) =>
    downstream(plan, takeIn(plan, reconcile(plan, rowsOf(csv), options), intakeId, t0, null), t0);
  test("a switcher leaves one group and joins the other; a leaver is lost, an arrival gained", () => {
    const found = consequences('id,name,section\n00ada,"Test, ada",EV\n00cas,"Test, cas",EV\n9,"New, Dee",D1\n');
    expect(found.groups.find(({ groupId }) => groupId === "gD1")?.loses).toEqual(["ada", "ben"]);
    expect(found.groups.map(({ groupId }) => groupId)).toEqual(["gD1", "gEV"]);
    expect(found.groups.find(({ groupId }) => groupId === "gD1")?.gains).toHaveLength(1);
    expect(found.groups.find(({ groupId }) => groupId === "gEV")).toMatchObject({ gains: ["ada"], loses: [] });
  });
  test("an arrival is unplaced in every layer of exactly one that does not follow; whoever was so before is not counted", () => {
    const plan = course();
    addLayer(plan, "teams", ["north"]);
    const found = consequences(`${listedNow}9,"New, Dee",D1\n`, plan);
    expect(found.unplaced).toMatchObject([{ layerId: "teams", personIds: [expect.any(String)] }]);
  });
  test("a date that differs by section moves for the switcher only", () => {
    const plan = course();
    addItem(plan, "report", { dates: { due: "2026-12-01T17:00" } });
    plan.overrides.o = {
      id: "o",
      itemId: "report",
      target: { kind: "section", id: "EV" },
      dates: { due: "2026-12-03T17:00" },
    };
    expect(consequences(listedNow.replace('00ada,"Test, ada",D1', '00ada,"Test, ada",EV'), plan).datesMove).toEqual([
      "ada",
    ]);
    expect(consequences(listedNow, plan).datesMove).toEqual([]);
  });
  test("whoever is listed in two sections will be double-enrolled", () => {
    expect(consequences(`${listedNow}00ada,"Test, ada",EV\n`).doubleEnrolled).toEqual(["ada"]);
  });
});

describe("undoing an intake", () => {
  const later = 'id,name,section\n00ada,"Test, ada",EV\n00ben,"Test, benedict",D1\n9,"New, Dee",D1\n';
  const taken = () => {
    const plan = course();
    const after = takeIn(plan, reconcile(plan, rowsOf(later), options), intakeId, t0, null);
    return { plan, after, changes: difference(plan, after) };
  };
  test("gives the plan before, whatever the roster was", () => {
    const cell = fc.constantFrom("00ada", "00ben", "00cas", "new1", "new2", "");
    const code = fc.constantFrom("D1", "EV", "ZZ");
    fc.assert(
      fc.property(
        fc.array(fc.tuple(cell, code, fc.constantFrom("ada", "Zoë", "")), { minLength: 1, maxLength: 8 }),
        (lines) => {
          const plan = course();
          const rows = rowsOf(writeCsv(["id", "section", "first name"], lines));
          const judged = reconcile(plan, rows, options);
          expect(Object.values(judged.counts).reduce((a, b) => a + b)).toBe(rows.length);
          const after = takeIn(plan, judged, intakeId, t0, null);
          const again = reconcile(after, rows, { ...options, now: t0 + 1 });
          const used = judged.rows.filter(({ verdict }) => !["unreadable", "duplicate", "clash"].includes(verdict));
          expect(again.counts.same).toBe(used.length);
          const undone = undoChanges(after, difference(plan, after));
          if ("dependents" in undone) throw new Error(undone.dependents.join());
          expect(same(undone.plan, plan)).toBe(true);
          expect(same(applyDifference(plan, invert(undone.changes)), after)).toBe(true);
        },
      ),
    );
  });
  test("is refused while a later row changed what it wrote, with its name", () => {
    const { after, changes } = taken();
    const moved = { ...after, people: { ...after.people, ben: { ...after.people.ben, givenName: "B" } as never } };
    expect(undoChanges(moved, changes)).toEqual({ dependents: ["The record of Test, benedict has changed since"] });
  });
  test("is refused while something names whom it brought", () => {
    const { after, changes } = taken();
    const dee = Object.values(after.people).find(({ sourcedId }) => sourcedId === "9");
    addItem(after, "page", { audience: { to: [{ kind: "person", id: dee?.id ?? "" }], minus: [] } });
    addLayer(after, "teams", ["north"]);
    after.placements.p = { id: "p", groupId: "north", personId: dee?.id ?? "", since: t0, until: null, held: true };
    const found = undoChanges(after, changes);
    expect(found).toEqual({
      dependents: [
        "The place of New, Dee in north names The record of New, Dee",
        '"page" names The record of New, Dee',
      ],
    });
  });
});

describe("people by hand", () => {
  const card = { sourcedId: "77", username: "dee", email: "dee@x.example", givenName: "Dee", familyName: "Hand" };
  const add = (people: (typeof card)[], plan = course()) =>
    apply(plan, { id: intakeId, kind: "enrolment.add", people, sectionId: "D1", role: "student" }, { now: t0 });
  test("joins the section by hand, and the layer that follows it", () => {
    const next = add([card]) as Plan;
    const enrolment = Object.values(next.enrolments).find(({ origin }) => origin === "hand");
    expect(enrolment).toMatchObject({ sectionId: "D1", since: t0, until: null });
    expect(Object.values(next.placements).filter((row) => row.personId === enrolment?.personId)).toMatchObject([
      { groupId: "gD1" },
    ]);
  });
  test("a known id is that person; a login of somebody else's, and nobody new at all, are refused", () => {
    expect(Object.keys((add([{ ...card, sourcedId: "00cas" }]) as Plan).people)).toHaveLength(3);
    expect(add([{ ...card, email: "BEN@x.example" }])).toMatchObject({
      code: "person.login",
      sentence: expect.stringContaining("belongs to Test, ben"),
    });
    expect(add([{ ...card, sourcedId: "00ada" }])).toMatchObject({ code: "enrolment.there" });
  });
  test("removing ends the enrolment and the places that followed it, and keeps the record", () => {
    const next = apply(
      course(),
      { id: intakeId, kind: "enrolment.end", enrolmentIds: ["ada in D1"] },
      { now: t0 },
    ) as Plan;
    expect(next.enrolments["ada in D1"]?.until).toBe(t0);
    expect(Object.values(next.placements).filter((row) => row.personId === "ada" && holdsAt(row, t0))).toEqual([]);
    expect(next.people.ada).toBeDefined();
    expect(
      apply(next, { id: intakeId, kind: "enrolment.end", enrolmentIds: ["ada in D1"] }, { now: t0 }),
    ).toMatchObject({ code: "enrolment.gone" });
  });
});
