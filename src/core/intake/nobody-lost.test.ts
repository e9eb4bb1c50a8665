/** Nobody is missing whom a row of the intake means, whatever became of that row on its way. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { readTable } from "../formats/text.ts";
import type { TextTable } from "../formats/text-table.ts";
import type { Plan } from "../plan/types.ts";
import { addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { matchColumns } from "./columns.ts";
import { reconcile } from "./reconcile.ts";
import { plainRow, rosterRows } from "./rows.ts";
import { takeIn } from "./take-in.ts";
import { wholeRoster } from "./verdict.ts";

const options = { ...wholeRoster, now: t0 };
const names = Array.from({ length: 20 }, (_, at) => `p${String(at).padStart(2, "0")}`);

/** Twenty students of D1 with logins; their ids begin with two zeros. */
function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  for (const [at, id] of names.entries()) {
    addStudent(plan, id, ["D1"]);
    Object.assign(plan.people[id] as object, { sourcedId: `00${100 + at}`, givenName: `Given ${at}` });
  }
  return plan;
}

/** What a row may go through between the registrar and the intake; each leaves something by which the person is known. */
const spoilings = {
  nothing: (row: string[]) => row,
  "id without zeros": ([id = "", ...others]: string[]) => [id.replace(/^0+/, ""), ...others],
  "id without zeros, nothing but the name": ([id = "", , , ...others]: string[]) => [
    id.replace(/^0+/, ""),
    "",
    "",
    ...others,
  ],
  "no id": ([, ...others]: string[]) => ["", ...others],
  "no id, nothing but the name": ([, , , ...others]: string[]) => ["", "", "", ...others],
  "another id": ([id = "", ...others]: string[]) => [`X${id}`, ...others],
  "another id and login": ([id = "", login = "", mail = "", ...others]: string[]) => [
    `X${id}`,
    `x.${login}`,
    mail,
    ...others,
  ],
  "no e-mail address": ([id = "", login = "", , ...others]: string[]) => [id, login, "at home", ...others],
  "too many cells": (row: string[]) => [...row, "", "more"],
} satisfies Record<string, (row: string[]) => string[]>;
type Spoiling = keyof typeof spoilings;
const spoiling = fc.constantFrom(...(Object.keys(spoilings) as Spoiling[]));

const rowsOf = (plan: Plan, how: (Spoiling | "left out")[]) => {
  const lines = names.flatMap((id, at) => {
    const person = plan.people[id];
    const said = how[at];
    if (!person || said === "left out" || said === undefined) return [];
    const { sourcedId, username, email, familyName, givenName } = person;
    return [spoilings[said]([sourcedId, username ?? "", email ?? "", familyName, givenName, "D1"]).join(",")];
  });
  const text = ["Student ID,Login,E-mail,Family name,Given name,Section", ...lines].join("\n");
  const table = readTable("r.csv", text) as TextTable;
  return rosterRows(table, matchColumns(table, ["D1"]));
};

describe("nobody is lost to a file", () => {
  test("whoever a row means is not missing, however it was spoiled; whoever no row means is", () => {
    const every = fc.array(fc.oneof({ arbitrary: spoiling, weight: 6 }, fc.constant("left out" as const)), {
      minLength: names.length,
      maxLength: names.length,
    });
    fc.assert(
      fc.property(every, (how) => {
        fc.pre(how.some((one) => one !== "left out"));
        const plan = course();
        const { missing } = reconcile(plan, rowsOf(plan, how), options);
        expect(missing.map(({ person }) => person.id).sort()).toEqual(
          names.filter((_, at) => how[at] === "left out").sort(),
        );
      }),
      { numRuns: 300 },
    );
  });

  test("ids that lost their zeros are mended by one answer: nobody is new, and ids stay as the registrar writes them", () => {
    const plan = course();
    const rows = rowsOf(
      plan,
      names.map(() => "id without zeros, nothing but the name" as const),
    );
    const { questions } = reconcile(plan, rows, options);
    expect(questions.map(({ kind }) => kind)).toEqual(names.map(() => "zeros"));
    const samePeople = Object.fromEntries(questions.map(({ row, sourcedId }) => [row.sourcedId, sourcedId]));
    const mended = reconcile(plan, rows, { ...options, samePeople });
    expect([mended.counts.same, mended.missing, mended.questions]).toEqual([names.length, [], []]);
    expect(takeIn(plan, mended, "00000000-0000-7000-8000-000000000009", t0, null, samePeople)).toEqual(plan);
  });

  test("two people are two: whoever is said to be somebody else stands for nobody", () => {
    const plan = course();
    const rows = rowsOf(
      plan,
      names.map((_, at) => (at === 0 ? "another id and login" : "nothing")),
    );
    const first = reconcile(plan, rows, options);
    expect([first.questions.length, first.missing.length]).toEqual([1, 0]);
    const samePeople = { [first.questions[0]?.row.sourcedId ?? ""]: null };
    const second = reconcile(plan, rows, { ...options, samePeople });
    // Its e-mail still belongs to the other: the row clashes, and means them.
    expect([second.questions.length, second.counts.clash, second.missing.length]).toEqual([0, 1, 0]);
  });
});

describe("many who leave at once", () => {
  const leaving = (count: number) => {
    const plan = course();
    return reconcile(
      plan,
      rowsOf(
        plan,
        names.map((_, at) => (at < count ? "left out" : "nothing")),
      ),
      options,
    );
  };
  test("a tenth of a section is not asked about, more than a tenth is", () => {
    expect(leaving(2).manyLeaving).toEqual([]);
    expect(leaving(3).manyLeaving).toEqual([{ code: "D1", leaving: 3, of: 20 }]);
  });
  test("whoever moves on leaves as well", () => {
    const plan = course();
    addSection(plan, "D2");
    const moved = rowsOf(
      plan,
      names.map(() => "nothing" as const),
    ).map((row, at) => ({ ...plainRow(row), sectionCode: at < 3 ? "D2" : "D1" }));
    const found = reconcile(plan, moved, options);
    expect([found.counts.moved, found.manyLeaving]).toEqual([3, [{ code: "D1", leaving: 3, of: 20 }]]);
  });
});

describe("a list of changes", () => {
  test("ends only what it names, and whoever it does not describe is who they were", () => {
    const plan = course();
    const rows = rowsOf(plan, ["nothing"]);
    const ended = [
      { sourcedId: "00101", sectionCode: "d1" },
      { sourcedId: "00102", sectionCode: "" },
      { sourcedId: "00103", sectionCode: "D9" },
      { sourcedId: "nobody", sectionCode: "D1" },
      // Named as gone and listed again: they stay.
      { sourcedId: "00100", sectionCode: "D1" },
    ];
    const found = reconcile(plan, rows, { ...options, changesOnly: { ended } });
    expect(found.missing.map(({ person }) => person.id)).toEqual(["p01", "p02"]);
    expect(found.counts.same).toBe(1);
  });
  test("somebody new who is not described cannot be read", () => {
    const plan = course();
    const table = readTable("r.csv", "Student ID,Section\n00999,D1\n00100,D1\n") as TextTable;
    const rows = rosterRows(table, matchColumns(table, ["D1"]));
    const found = reconcile(plan, rows, { ...options, changesOnly: { ended: [] } });
    expect(found.rows.map(({ verdict }) => verdict)).toEqual(["unreadable", "same"]);
  });
});
