import { v7 } from "uuid";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import type { RosterRow } from "../../core/intake/rows.ts";
import { wholeRoster } from "../../core/intake/verdict.ts";
import type { Plan } from "../../core/plan/types.ts";
import { type Desk, giveMark, openDesk } from "../../tests/desk.ts";
import { removeFilter, savedFilters, saveFilter } from "../course/filters.ts";
import { applyIntake, pastIntakes, rememberedMatches, rememberMatch } from "../intake/intakes.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, run } from "../store/database.ts";
import { courseProgress, recordOpening, studentProgress } from "../store/progress.ts";
import { handInsOf, recordHandIn } from "./posts-and-hand-ins.ts";

let desk: Desk;
let plan: Plan;
let courseId = "";
beforeAll(async () => {
  desk = await openDesk();
  ({ plan, courseId } = desk);
});
afterAll(closeDatabase);

const [first, second] = [() => desk.first, () => desk.second];
const revision = async () => (await course(courseId))?.revision ?? 0;

describe("intakes", () => {
  const row = (fields: Partial<RosterRow>): RosterRow => ({
    file: "f",
    line: 2,
    sourcedId: "",
    username: "",
    email: "",
    givenName: "",
    familyName: "",
    sectionCode: "D1",
    sectionTitle: "",
    meets: "",
    role: "student",
    attributes: {},
    problem: null,
    ...fields,
  });
  const ask = async (rowsOf: RosterRow[], intakeId = v7()) => ({
    intakeId,
    revision: await revision(),
    rows: rowsOf,
    options: { ...wholeRoster, partial: true },
    sectionLayer: null,
    files: ["f.csv"],
  });
  test("land in one transaction with the layers that follow, once however often they are sent", async () => {
    const request = await ask([row({ sourcedId: "00999", givenName: "Zoë", familyName: "Ó Late" })]);
    const answer = await applyIntake(courseId, first(), request);
    expect(answer).toMatchObject({ applied: true, counts: { new: 1 }, written: 3 });
    expect(await applyIntake(courseId, first(), request)).toEqual(answer);
    const now = (await course(courseId))?.plan as Plan;
    const person = Object.values(now.people).find(({ sourcedId }) => sourcedId === "00999");
    expect(person).toMatchObject({ givenName: "Zoë", familyName: "Ó Late" });
    const groups = Object.values(now.placements)
      .filter(({ personId }) => personId === person?.id)
      .map(({ groupId }) => now.groups[groupId]?.name);
    expect(groups).toEqual(["Day 1"]);
    expect((await pastIntakes(courseId))[0]).toMatchObject({
      files: ["f.csv"],
      counts: { new: 1, written: 3 },
      by: "first",
    });
  });
  test("the same list again writes nothing, and moves no revision", async () => {
    const before = await revision();
    expect(
      await applyIntake(
        courseId,
        first(),
        await ask([row({ sourcedId: "00999", givenName: "Zoë", familyName: "Ó Late" })]),
      ),
    ).toMatchObject({
      applied: true,
      written: 0,
    });
    expect(await revision()).toBe(before);
  });
  test("what was looked at is what is applied: a course that moved on refuses", async () => {
    const request = await ask([row({ sourcedId: "00998" })]);
    expect(await applyIntake(courseId, first(), { ...request, revision: request.revision - 1 })).toMatchObject({
      applied: false,
    });
  });
  test("a column match is remembered by its header, whatever its case and spaces", async () => {
    await rememberMatch(courseId, ["Who", " Where "], ["id", "section"]);
    await rememberMatch(courseId, ["WHO", "where"], ["id", "ignore"]);
    expect(await rememberedMatches(courseId)).toEqual({ "who\twhere": ["id", "ignore"] });
  });
});

describe("progress", () => {
  const lab = () => Object.values(plan.items).find(({ title }) => title === "Quiz 5: Floods and droughts")?.id ?? "";
  const somebody = () => Object.values(plan.people)[3]?.id ?? "";
  const mark = (points: number | null, seen: number | null, excused = false) => ({
    itemId: lab(),
    personId: somebody(),
    points,
    excused,
    seen: seen === null ? null : { points: seen, excused: false },
  });
  test("a mark is stored, changed and taken away by who saw the one before", async () => {
    expect(await giveMark(courseId, mark(7.5, null), first(), 10)).toMatchObject({
      stored: { points: 7.5 },
    });
    expect(await giveMark(courseId, mark(8, null), second(), 11)).toMatchObject({
      newer: { points: 7.5 },
    });
    expect(await giveMark(courseId, mark(8, 7.5), second(), 12)).toMatchObject({
      stored: { points: 8 },
    });
    expect(await giveMark(courseId, mark(null, 8), first(), 13)).toEqual({ stored: null });
    expect(await giveMark(courseId, mark(null, null, true), first(), 14)).toMatchObject({
      stored: { points: null, excused: true },
    });
  });
  test("of many who mark one empty cell at once exactly one is stored, and the others are shown it", async () => {
    await run("DELETE FROM marks WHERE item_id = ? AND person_id = ?", [lab(), somebody()]);
    const answers = await Promise.all(
      Array.from({ length: 8 }, (_, at) => giveMark(courseId, mark(at + 1, null), first(), 20)),
    );
    const stored = answers.filter((answer) => "stored" in answer);
    expect(stored).toHaveLength(1);
    expect(
      (await studentProgress(courseId, somebody(), desk.plan)).marks.find(({ itemId }) => itemId === lab()),
    ).toEqual((stored[0] as { stored: object }).stored);
  });
  test("a hand-in and an opening move the progress, and the first opening stays", async () => {
    const before = (await courseProgress(courseId)).revision;
    await recordHandIn(courseId, lab(), somebody(), { text: "Text with ümlauts and 🜚", link: null, fileId: null }, 30);
    expect((await handInsOf(courseId, [lab()])).at(-1)).toMatchObject({
      at: 30,
      body: "Text with ümlauts and 🜚",
    });
    await run("DELETE FROM openings WHERE item_id = ? AND person_id = ?", [lab(), somebody()]);
    await recordOpening(courseId, lab(), somebody(), 40);
    await recordOpening(courseId, lab(), somebody(), 50);
    const { revision: after, progress } = await courseProgress(courseId);
    expect(after).toBe(before + 2);
    expect(progress.openings.find(({ itemId, personId }) => itemId === lab() && personId === somebody())?.at).toBe(40);
  });
});

describe("filters", () => {
  test("belong to one person: another neither sees, changes nor removes them", async () => {
    const id = v7();
    await saveFilter(courseId, first(), {
      id,
      name: "Evening",
      text: "group:Evening",
      pinned: true,
      shared: false,
      view: null,
    });
    await saveFilter(courseId, second(), { id, name: "Taken", text: "late", pinned: false, shared: false, view: null });
    await removeFilter(courseId, second(), id);
    expect(await savedFilters(courseId, first())).toEqual([
      { id, name: "Evening", text: "group:Evening", pinned: true, shared: false, view: null, from: null },
    ]);
    expect(await savedFilters(courseId, second())).toEqual([]);
    await saveFilter(courseId, first(), {
      id,
      name: "Evening",
      text: "group:Evening late",
      pinned: false,
      shared: false,
      view: null,
    });
    expect(await savedFilters(courseId, first())).toMatchObject([
      { text: "group:Evening late", pinned: false, shared: false, view: null },
    ]);
  });
});
