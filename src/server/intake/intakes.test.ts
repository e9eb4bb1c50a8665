/** Intakes as they were applied: opened again, taken back, and whole or not at all, on the real database. */

import { spawn } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { v4, v7 } from "uuid";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import type { RosterRow } from "../../core/intake/rows.ts";
import { wholeRoster } from "../../core/intake/verdict.ts";
import { same } from "../../core/plan/difference.ts";
import { holdsAt } from "../../core/plan/lookup.ts";
import type { Plan } from "../../core/plan/types.ts";
import { openDesk } from "../../tests/desk.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows, run, transaction } from "../store/database.ts";
import { applyIntake, type IntakeRequest, openIntake, pastIntakes, undoIntake } from "./intakes.ts";

const folder = mkdtempSync(join(tmpdir(), "amber-intakes-"));
let courseId = "";
let accountId = "";
const plan = async () => (await course(courseId))?.plan as Plan;

beforeAll(async () => {
  const desk = await openDesk();
  courseId = desk.courseId;
  accountId = desk.first;
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await closeDatabase();
});

describe("an applied intake", () => {
  const row = (sourcedId: string, sectionCode: string, fields: Partial<RosterRow> = {}): RosterRow => ({
    file: "late.csv",
    line: 2,
    sourcedId,
    username: "",
    email: "",
    givenName: "Late",
    familyName: "Comer",
    sectionCode,
    sectionTitle: "",
    meets: "",
    role: "student",
    attributes: {},
    problem: null,
    ...fields,
  });
  const take = async (judged: RosterRow[]): Promise<IntakeRequest> => {
    const request = {
      intakeId: v7(),
      revision: (await course(courseId))?.revision ?? 0,
      rows: judged,
      options: { ...wholeRoster, partial: true },
      sectionLayer: null,
      files: ["late.csv"],
    };
    expect(await applyIntake(courseId, accountId, request)).toMatchObject({ applied: true });
    return request;
  };
  test("is opened again as it was looked at, by nobody of another course", async () => {
    const { intakeId } = await take([row("late1", "D1"), row("", "D1", { line: 3, problem: "id: no id" })]);
    expect(await openIntake(courseId, intakeId)).toEqual({
      rows: [
        {
          file: "late.csv",
          line: 2,
          verdict: "new",
          says: "joins D1",
          name: "Comer, Late",
          sourcedId: "late1",
          sectionCode: "D1",
        },
        {
          file: "late.csv",
          line: 3,
          verdict: "unreadable",
          says: "id: no id",
          name: "Comer, Late",
          sourcedId: "",
          sectionCode: "D1",
        },
      ],
      missing: [],
    });
    expect(await openIntake(v4(), intakeId)).toBeNull();
  });
  test("is judged anew: what a browser calls sound is taken only where it is", async () => {
    const before = await plan();
    const unsound = [
      row("", "D1"),
      row(`late-${"x".repeat(100)}`, "D1"),
      row("late-email", "D1", { email: "not an address" }),
      row("late-section", ""),
      row("late-name", "D1", { familyName: "y".repeat(101) }),
    ];
    const sound = row("late-sound", "D1", { line: 9 });
    const request = await take([...unsound, sound]);
    const { rows: judged } = (await openIntake(courseId, request.intakeId)) ?? { rows: [] };
    expect(judged.map(({ verdict }) => verdict)).toEqual([...unsound.map(() => "unreadable"), "new"]);
    expect(judged.map(({ says }) => says)).toContain("familyName: longer than 100 characters");
    const added = Object.values((await plan()).people).filter(({ id }) => !(id in before.people));
    expect(added.map(({ sourcedId }) => sourcedId)).toEqual(["late-sound"]);
  });
  test("is taken back whole, and the course is as it was before, read anew from the database", async () => {
    const before = await plan();
    const { intakeId } = await take([row("late2", "EV"), row("late3", "D2")]);
    expect(await undoIntake(v4(), accountId, intakeId)).toMatchObject({ undone: false, reason: "gone" });
    expect(await undoIntake(courseId, accountId, intakeId)).toMatchObject({ undone: true });
    expect(same(await plan(), before)).toBe(true);
    expect(await undoIntake(courseId, accountId, intakeId)).toEqual({ undone: false, reason: "undone" });
    expect((await pastIntakes(courseId))[0]).toMatchObject({
      id: intakeId,
      undoneBy: "first",
      undoneAt: expect.any(Number),
    });
  });
  test("is kept while a later intake or a mark depends on it, with the reason", async () => {
    const { intakeId } = await take([row("late4", "EV")]);
    const item = Object.values((await plan()).items).find(({ points }) => points !== null);
    const person = Object.values((await plan()).people).find(({ sourcedId }) => sourcedId === "late4");
    await run("INSERT INTO marks (course_id, item_id, person_id, points, excused, at) VALUES (?, ?, ?, 1, FALSE, ?)", [
      courseId,
      item?.id ?? "",
      person?.id ?? "",
      Date.now(),
    ]);
    const later = await take([row("late4", "D1")]);
    expect(await undoIntake(courseId, accountId, intakeId)).toMatchObject({
      reason: "depends",
      dependents: expect.arrayContaining([
        "The enrolment of Comer, Late in EV has changed since",
        "Comer, Late has a mark",
      ]),
    });
    expect(await undoIntake(courseId, accountId, later.intakeId)).toMatchObject({ undone: true });
    const open = Object.values((await plan()).enrolments).filter(
      (one) => one.personId === person?.id && holdsAt(one, Date.now()),
    );
    expect(open.map(({ sectionId }) => sectionId)).toHaveLength(1);
  });
  test("is there whole or not at all, wherever its process or its connection is ended", async () => {
    const everyone = Array.from({ length: 1500 }, (_, at) => row(`many${at}`, "D1", { line: at + 2 }));
    const count = async () => {
      const [people] = await rows<{ n: number }>(
        "SELECT COUNT(*) AS n FROM people WHERE course_id = ? AND sourced_id LIKE 'many%'",
        [courseId],
      );
      const [enrolled] = await rows<{ n: number }>(
        "SELECT COUNT(*) AS n FROM enrolments e JOIN people p ON p.id = e.person_id WHERE e.course_id = ? AND p.sourced_id LIKE 'many%'",
        [courseId],
      );
      return [people?.n, enrolled?.n];
    };
    const file = join(folder, "request.json");
    const outcomes = new Set<unknown>();
    for (const pause of [0, 60, 120, 180, 260, 400]) {
      const request = {
        intakeId: v7(),
        revision: (await course(courseId))?.revision,
        rows: everyone,
        options: { ...wholeRoster, partial: true },
        sectionLayer: null,
        files: ["many.csv"],
      };
      writeFileSync(file, JSON.stringify({ courseId, accountId, request }));
      const child = spawn(process.execPath, ["--import", "tsx", "src/tests/apply-intake.ts", file], {
        stdio: ["ignore", "pipe", "inherit"],
      });
      const ended = new Promise((done) => child.once("exit", done));
      await new Promise((begun) => child.stdout.once("data", begun));
      await new Promise((resolve) => setTimeout(resolve, pause));
      child.kill("SIGKILL");
      await ended;
      // The database takes back what the dead process had not committed; the lock is free once it has.
      await transaction((connection) => rows("SELECT id FROM courses WHERE id = ? FOR UPDATE", [courseId], connection));
      const found = await count();
      expect([
        [0, 0],
        [1500, 1500],
      ]).toContainEqual(found);
      outcomes.add(found[0]);
      if (found[0] === 1500)
        expect(await undoIntake(courseId, accountId, request.intakeId)).toMatchObject({ undone: true });
      expect(await count()).toEqual([0, 0]);
    }
    expect(outcomes.has(0)).toBe(true);
  });
});
