import type { PoolConnection } from "mysql2/promise";
import { v7 } from "uuid";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import type { RosterRow } from "../../core/intake/rows.ts";
import { wholeRoster } from "../../core/intake/verdict.ts";
import type { Plan } from "../../core/plan/types.ts";
import { type Desk, giveMark, openDesk, sendFile } from "../../tests/desk.ts";
import { removeFilter, savedFilters, saveFilter } from "../course/filters.ts";
import { applyIntake, pastIntakes, rememberedMatches, rememberMatch } from "../intake/intakes.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, run } from "../store/database.ts";
import { courseProgress, recordOpening, studentProgress } from "../store/progress.ts";
import { showPost } from "./item-page.ts";
import {
  deletePost,
  editPost,
  handInsOf,
  postsOf,
  putPostBack,
  recordHandIn,
  recordPost,
} from "./posts-and-hand-ins.ts";

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
    const handIn = { itemId: lab(), personId: somebody(), link: null, fileId: null };
    await recordHandIn(courseId, { ...handIn, text: "Text with ümlauts and 🜚" }, { sendId: null, at: 30 });
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

describe("what is sent twice", () => {
  const discussion = () => Object.values(plan.items).find(({ kind }) => kind === "discussion")?.id ?? "";
  const somebody = () => Object.values(plan.people)[3]?.id ?? "";
  const post = (body: string) => ({ placeId: discussion(), groupId: null, personId: somebody(), body });
  const bodies = async () => (await postsOf(courseId, [discussion()])).map(({ body }) => body);

  test("is stored once, also at once ten times; another text under the same id is not lost", async () => {
    const sending = { sendId: v7(), at: 100 };
    const ids = await Promise.all(Array.from({ length: 10 }, () => recordPost(courseId, post("Once"), sending)));
    expect(new Set(ids)).toEqual(new Set([sending.sendId]));
    expect((await bodies()).filter((one) => one === "Once")).toHaveLength(1);
    // A page that one went back to gives its id again.
    expect(await recordPost(courseId, post("once"), sending)).not.toBe(sending.sendId);
    expect(await bodies()).toEqual(expect.arrayContaining(["Once", "once"]));
  });
  test("the same words with another file are another post", async () => {
    const keep = async (name: string) => {
      const stored = await sendFile(courseId, first(), { name, bytes: new Uint8Array([1, 2]) }, 100);
      return "id" in stored ? stored.id : "";
    };
    const sending = { sendId: v7(), at: 100 };
    const sent = async (name: string) => recordPost(courseId, { ...post(""), fileId: await keep(name) }, sending);
    expect(await sent("a.txt")).toBe(sending.sendId);
    expect(await sent("a.txt")).toBe(sending.sendId);
    expect(await sent("b.txt")).not.toBe(sending.sendId);
  });
  test("a hand-in is stored once; of ten at once as many as there are attempts", async () => {
    const itemId = Object.values(plan.items).find(({ title }) => title === "Field notebook check")?.id ?? lab();
    const handIn = { itemId, personId: somebody(), link: null, fileId: null };
    const mine = async () => (await handInsOf(courseId, [itemId])).filter(({ personId }) => personId === somebody());
    const before = (await mine()).length;
    const sending = { sendId: v7(), at: 100 };
    await Promise.all(Array.from({ length: 5 }, () => recordHandIn(courseId, { ...handIn, text: "Same" }, sending)));
    expect(await mine()).toHaveLength(before + 1);
    // The check is asked where nobody else can hand in meanwhile: it counts what the others stored.
    const whyNotNow = async (connection: PoolConnection) => {
      const { handIns } = await studentProgress(courseId, somebody(), desk.plan, connection);
      return handIns.filter((one) => one.itemId === itemId).length >= before + 2 ? "No attempt is left." : null;
    };
    const answers = await Promise.all(
      Array.from({ length: 10 }, (_, at) =>
        recordHandIn(courseId, { ...handIn, text: `Try ${at}` }, { sendId: v7(), at: 101 }, whyNotNow),
      ),
    );
    expect(answers.filter((one) => "id" in one)).toHaveLength(1);
    expect(await mine()).toHaveLength(before + 2);
  });
  test("what its writer deleted says nothing any more, is not changed, and stays for staff", async () => {
    const id = await recordPost(courseId, post("Too hasty"), { sendId: null, at: 200 });
    const other = Object.values(plan.people)[4]?.id ?? "";
    expect(await deletePost(courseId, id, other, 201)).toBe(false);
    expect(await deletePost(courseId, id, somebody(), 201)).toBe(true);
    expect(await editPost(courseId, id, somebody(), "Again", 202)).toBe(false);
    const kept = (await postsOf(courseId, [discussion()])).find((one) => one.id === id);
    expect(kept).toMatchObject({ body: "Too hasty", deletedAt: 201 });
    const shown = showPost(
      plan,
      () => "Ada",
      () => true,
    )(kept as never);
    expect(shown).toMatchObject({ deleted: true, mine: true, body: "", file: null });
    expect(await putPostBack(courseId, id, somebody())).toBe(true);
    expect(await putPostBack(courseId, id, somebody())).toBe(false);
    expect((await postsOf(courseId, [discussion()])).find((one) => one.id === id)?.deletedAt).toBeNull();
  });
});
const lab = () => Object.values(plan.items).find(({ title }) => title === "Quiz 5: Floods and droughts")?.id ?? "";
