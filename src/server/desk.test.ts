/** Drafts, publishing, intakes, marks and filters on the real database. */
import { join } from "node:path";
import fc from "fast-check";
import { v4, v7 } from "uuid";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { storeActivity, storePlan } from "../../demo/load.ts";
import { makeScenario } from "../../demo/scenario.ts";
import type { RosterRow } from "../core/intake/rows.ts";
import { Command } from "../core/plan/apply.ts";
import { isRefusal } from "../core/plan/command.ts";
import { difference } from "../core/plan/difference.ts";
import type { Plan } from "../core/plan/types.ts";
import { accountOf, createAccount, hashPassword, signIn, signOut } from "./accounts.ts";
import { course, coursesOf, lockCourse, moveCourse } from "./courses.ts";
import { closeDatabase, database, rows, run, transaction } from "./database.ts";
import { addCommands, draftedPlan, publish, readDraft, stepDraft } from "./drafts.ts";
import { removeFilter, savedFilters, saveFilter } from "./filters.ts";
import { applyIntake, pastIntakes, rememberedMatches, rememberMatch } from "./intakes.ts";
import { migrate } from "./migrate.ts";
import { readPlan } from "./plan-rows.ts";
import { courseProgress, handInsOf, recordHandIn, recordMark, recordOpening, studentProgress } from "./progress.ts";

const moment = Date.now();
let plan: Plan;
let courseId = "";
const accounts: string[] = [];

beforeAll(async () => {
  const folder = join(import.meta.dirname, "../../database");
  await migrate(folder, () => undefined);
  // A second time changes nothing, and two at once wait for each other.
  const said: string[] = [];
  await Promise.all([migrate(folder, (line) => said.push(line)), migrate(folder, (line) => said.push(line))]);
  expect(said).toEqual([]);
  const scenario = makeScenario(moment, v4());
  plan = scenario.plan;
  courseId = plan.course.id;
  await transaction(async (connection) => {
    await storePlan(plan, connection);
    await storePlan(scenario.emptyCourse, connection);
    await storeActivity(courseId, scenario.activity, connection);
  });
  for (const name of ["first", "second"]) {
    await createAccount({ username: name, sourcedId: `test-${name}`, displayName: name }, await hashPassword("right"));
    const [account] = await rows<{ id: string }>("SELECT id FROM accounts WHERE username = ?", [name]);
    accounts.push(account?.id ?? "");
  }
});
afterAll(closeDatabase);

const [first, second] = [() => accounts[0] as string, () => accounts[1] as string];
const revision = async () => (await course(courseId))?.revision ?? 0;
const command = (fields: object) => Command.parse({ id: v7(), ...fields });
const retitle = (title: string, item = Object.values(plan.items)[0]) =>
  command({ kind: "item.change", itemId: item?.id, fields: { title } });
async function draft(commands: Command[], account = first()) {
  const answer = await addCommands(courseId, account, commands);
  if (isRefusal(answer)) throw new Error(answer.sentence);
  return answer;
}
const clear = async (account = first()) => {
  await run("DELETE FROM draft_commands WHERE account_id = ?", [account]);
};

describe("plan rows", () => {
  test("a plan read back is the plan that was written, to the last field", async () => {
    const stored = await transaction((connection) => readPlan(courseId, connection));
    expect(stored?.plan).toEqual(plan);
  });
  test("the difference to any other state of the plan, written and read back, gives that state", async () => {
    const items = Object.values(plan.items);
    const people = Object.values(plan.people);
    const groups = Object.values(plan.groups);
    await fc.assert(
      fc.asyncProperty(
        fc.record({
          titles: fc.dictionary(
            fc.constantFrom(...items.map(({ id }) => id)),
            fc.string({ minLength: 1, maxLength: 60, unit: "grapheme" }),
            {
              maxKeys: 4,
            },
          ),
          removed: fc.subarray(Object.keys(plan.overrides), { maxLength: 3 }),
          placed: fc.array(
            fc.record({
              person: fc.constantFrom(...people.map(({ id }) => id)),
              group: fc.constantFrom(...groups.map(({ id }) => id)),
              held: fc.boolean(),
            }),
            { maxLength: 4 },
          ),
          attributes: fc.dictionary(
            fc.string({ minLength: 1, maxLength: 12 }),
            fc.string({ maxLength: 20, unit: "grapheme" }),
            { maxKeys: 3 },
          ),
        }),
        async ({ titles, removed, placed, attributes }) => {
          const after: Plan = {
            ...plan,
            items: { ...plan.items },
            overrides: { ...plan.overrides },
            placements: { ...plan.placements },
            people: { ...plan.people },
          };
          for (const [id, title] of Object.entries(titles))
            after.items[id] = { ...(plan.items[id] as Plan["items"][string]), title };
          for (const id of removed) delete after.overrides[id];
          for (const { person, group, held } of placed) {
            const id = v4();
            after.placements[id] = {
              id,
              personId: person,
              groupId: group,
              since: 5,
              until: held ? null : 9,
              held,
            };
          }
          const one = people[0] as Plan["people"][string];
          after.people[one.id] = { ...one, attributes: { ...attributes } };
          await transaction(async (connection) => {
            const stored = await lockCourse(courseId, connection);
            if (!stored) throw new Error("course");
            await moveCourse(courseId, stored, after, connection);
            expect((await readPlan(courseId, connection))?.plan).toEqual(after);
            // Put back: every run begins with the same course.
            await connection.rollback();
            await connection.beginTransaction();
          });
        },
      ),
      { numRuns: 25 },
    );
  });
  test("nothing of a transaction that fails is there", async () => {
    const before = await revision();
    const failing = transaction(async (connection) => {
      const stored = await lockCourse(courseId, connection);
      if (!stored) throw new Error("course");
      await moveCourse(courseId, stored, { ...stored.plan, items: {} }, connection);
      throw new Error("midway");
    });
    await expect(failing).rejects.toThrow();
    expect(await revision()).toBe(before);
    expect(Object.keys((await course(courseId))?.plan.items ?? {})).toHaveLength(Object.keys(plan.items).length);
  });
  test("a transaction that deadlocks is tried again, and both get through", async () => {
    await run("DELETE FROM sign_in_failures", []);
    for (const key of ["a", "b"])
      await run("INSERT INTO sign_in_failures (username_hash, failures, last_at) VALUES (?, 0, 0)", [key]);
    let tries = 0;
    const cross = (one: string, two: string) =>
      transaction(async (connection) => {
        tries++;
        await run("UPDATE sign_in_failures SET failures = failures + 1 WHERE username_hash = ?", [one], connection);
        await new Promise((done) => setTimeout(done, 150));
        await run("UPDATE sign_in_failures SET failures = failures + 1 WHERE username_hash = ?", [two], connection);
      });
    await Promise.all([cross("a", "b"), cross("b", "a")]);
    const counts = await rows<{ failures: number }>("SELECT failures FROM sign_in_failures");
    expect(counts.map(({ failures }) => failures)).toEqual([2, 2]);
    expect(tries).toBeGreaterThan(2);
  });
});

describe("drafts", () => {
  test("commands are kept in order; undo, redo and the batch that is refused whole", async () => {
    await clear();
    await draft([retitle("One"), retitle("Two")]);
    expect((await readDraft(courseId, first())).commands).toHaveLength(2);
    const undone = await stepDraft(courseId, first(), "undo");
    expect([undone.commands.length, undone.undone.length]).toEqual([1, 1]);
    expect((await stepDraft(courseId, first(), "redo")).commands).toHaveLength(2);
    expect((await stepDraft(courseId, first(), "undo all")).undone).toHaveLength(2);
    expect((await stepDraft(courseId, first(), "redo all")).commands).toHaveLength(2);
    const refused = await addCommands(courseId, first(), [
      retitle("Three"),
      command({ kind: "group.remove", groupId: "gone" }),
    ]);
    expect(refused).toMatchObject({ code: "group.gone" });
    expect((await readDraft(courseId, first())).commands).toHaveLength(2);
  });
  test("a new command after undo takes the place of what was undone", async () => {
    await clear();
    await draft([retitle("One"), retitle("Two")]);
    await stepDraft(courseId, first(), "undo");
    const after = await draft([retitle("Other")]);
    expect([after.commands.length, after.undone.length]).toEqual([2, 0]);
  });
  test("a draft is one person's, and a resent command is drafted once", async () => {
    await clear();
    const one = retitle("Mine");
    await draft([one]);
    await draft([one]);
    expect((await readDraft(courseId, first())).commands).toHaveLength(1);
    expect((await readDraft(courseId, second())).commands).toHaveLength(0);
    expect((await draftedPlan(courseId, second()))?.plan).toEqual((await course(courseId))?.plan);
  });
  test("twenty commands sent at once are all kept, each at a place of its own", async () => {
    await clear();
    await Promise.all(Array.from({ length: 20 }, (_, at) => draft([retitle(`Title ${at}`)])));
    const stored = await rows<{ position: number }>(
      "SELECT position FROM draft_commands WHERE account_id = ? ORDER BY position",
      [first()],
    );
    expect(stored.map(({ position }) => position)).toEqual(Array.from({ length: 20 }, (_, at) => at));
  });
});

describe("publishing", () => {
  const seen = async (account = first()) => ({
    revision: await revision(),
    version: (await readDraft(courseId, account)).version,
  });
  test("makes the draft so, says it in the journal, and empties the draft", async () => {
    await clear();
    await draft([retitle("A published title")]);
    const before = await seen();
    const answer = await publish(courseId, first(), v7(), before);
    expect(answer).toEqual({ published: true, revision: before.revision + 1 });
    expect(
      Object.values((await course(courseId))?.plan.items ?? {}).some(({ title }) => title === "A published title"),
    ).toBe(true);
    expect((await readDraft(courseId, first())).commands).toEqual([]);
    const journal = await rows<{ says: string }>("SELECT says FROM journal WHERE course_id = ? AND revision = ?", [
      courseId,
      before.revision + 1,
    ]);
    expect(journal.map(({ says }) => says)).toEqual([expect.stringMatching(/^Rename .* to A published title$/)]);
  });
  test("ten presses at once publish once", async () => {
    await clear();
    await draft([retitle("Pressed ten times")]);
    const before = await seen();
    const id = v7();
    const answers = await Promise.all(Array.from({ length: 10 }, () => publish(courseId, first(), id, before)));
    expect(answers).toEqual(Array(10).fill({ published: true, revision: before.revision + 1 }));
    expect(await revision()).toBe(before.revision + 1);
  });
  test("of two people who publish at once one is told that the course changed, and loses nothing", async () => {
    await clear();
    await clear(second());
    await draft([retitle("First")]);
    await draft([retitle("Second", Object.values(plan.items)[5])], second());
    const [mine, theirs] = [await seen(), await seen(second())];
    const answers = await Promise.all([
      publish(courseId, first(), v7(), mine),
      publish(courseId, second(), v7(), theirs),
    ]);
    expect(answers.filter(({ published }) => published)).toHaveLength(1);
    expect(answers.find(({ published }) => !published)).toMatchObject({ reason: "changed" });
    const left = answers[0]?.published ? second() : first();
    expect((await readDraft(courseId, left)).commands).toHaveLength(1);
    expect(await publish(courseId, left, v7(), await seen(left))).toMatchObject({
      published: true,
    });
  });
  test("a draft that no longer applies publishes nothing and says why", async () => {
    await clear();
    await clear(second());
    const [, , , target] = Object.values(plan.items);
    await draft([retitle("Kept"), retitle("Lost", target)]);
    await draft([command({ kind: "item.remove", itemId: target?.id })], second());
    await publish(courseId, second(), v7(), await seen(second()));
    const before = await revision();
    const answer = await publish(courseId, first(), v7(), await seen());
    expect(answer).toMatchObject({
      published: false,
      reason: "refused",
      refused: [{ refusal: { code: "item.gone" } }],
    });
    expect(await revision()).toBe(before);
    await clear();
  });
});

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
    options: { partial: true, acceptedSections: [], chosen: [], samePeople: {} },
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
    expect(await recordMark(courseId, mark(7.5, null), first(), 10)).toMatchObject({
      stored: { points: 7.5 },
    });
    expect(await recordMark(courseId, mark(8, null), second(), 11)).toMatchObject({
      newer: { points: 7.5 },
    });
    expect(await recordMark(courseId, mark(8, 7.5), second(), 12)).toMatchObject({
      stored: { points: 8 },
    });
    expect(await recordMark(courseId, mark(null, 8), first(), 13)).toEqual({ stored: null });
    expect(await recordMark(courseId, mark(null, null, true), first(), 14)).toMatchObject({
      stored: { points: null, excused: true },
    });
  });
  test("of many who mark one empty cell at once exactly one is stored, and the others are shown it", async () => {
    await run("DELETE FROM marks WHERE item_id = ? AND person_id = ?", [lab(), somebody()]);
    const answers = await Promise.all(
      Array.from({ length: 8 }, (_, at) => recordMark(courseId, mark(at + 1, null), first(), 20)),
    );
    const stored = answers.filter((answer) => "stored" in answer);
    expect(stored).toHaveLength(1);
    expect((await studentProgress(courseId, somebody())).marks.find(({ itemId }) => itemId === lab())).toEqual(
      (stored[0] as { stored: object }).stored,
    );
  });
  test("a hand-in and an opening move the progress, and the first opening stays", async () => {
    const before = (await courseProgress(courseId)).revision;
    await recordHandIn(courseId, lab(), somebody(), "Text with ümlauts and 🜚", 30);
    expect((await handInsOf(courseId, lab(), somebody()))[0]).toMatchObject({
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
    });
    await saveFilter(courseId, second(), { id, name: "Taken", text: "late", pinned: false });
    await removeFilter(courseId, second(), id);
    expect(await savedFilters(courseId, first())).toEqual([
      { id, name: "Evening", text: "group:Evening", pinned: true, position: 0 },
    ]);
    expect(await savedFilters(courseId, second())).toEqual([]);
    await saveFilter(courseId, first(), {
      id,
      name: "Evening",
      text: "group:Evening late",
      pinned: false,
    });
    expect(await savedFilters(courseId, first())).toMatchObject([{ text: "group:Evening late", pinned: false }]);
  });
});

describe("accounts", () => {
  test("a session opens with the right password, holds its account, and ends on sign-out", async () => {
    const answer = await signIn("FIRST", "right");
    if (!("token" in answer)) throw new Error("not signed in");
    expect(await accountOf(answer.token)).toMatchObject({
      username: "first",
      sourcedId: "test-first",
    });
    const stored = await rows<{ token_hash: string }>("SELECT token_hash FROM sessions");
    expect(stored.every(({ token_hash }) => token_hash !== answer.token)).toBe(true);
    await signOut(answer.token);
    expect(await accountOf(answer.token)).toBeNull();
    expect(await accountOf("made up")).toBeNull();
    expect(await accountOf(undefined)).toBeNull();
  });
  test("failures slow one username, for twice as long each time, and a success clears them", async () => {
    let at = Date.now();
    const waits: (number | null)[] = [];
    for (let count = 0; count < 7; count++) {
      const answer = await signIn("second", "wrong", at);
      waits.push("wait" in answer ? answer.wait : null);
      if ("wait" in answer) at += answer.wait * 1000;
    }
    expect(waits).toEqual([null, null, null, null, null, 2, null]);
    expect(await signIn("second", "right", at)).toEqual({ wait: 4 });
    expect(await signIn("first", "right", at)).toHaveProperty("token");
    expect(await signIn("second", "right", at + 4000)).toHaveProperty("token");
    expect(await signIn("second", "wrong", at + 4001)).toEqual({ wrong: true });
  });
  test("passwords are kept as argon2id", async () => {
    const [account] = await rows<{ password_hash: string }>(
      "SELECT password_hash FROM accounts WHERE username = 'first'",
    );
    expect(account?.password_hash).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
  });
  test("courses of a person come with the strongest of their roles", async () => {
    const coordinator = Object.values(plan.people).find(({ username }) => username === "coordinator")?.sourcedId ?? "";
    expect((await coursesOf(coordinator, moment)).map(({ role, course: one }) => [one.code, role])).toEqual([
      ["WSH 240", "coordinator"],
      ["WSH 241", "coordinator"],
    ]);
    expect(await coursesOf("nobody", moment)).toEqual([]);
  });
  test("the database is strict: what does not fit is refused, not cut", async () => {
    await expect(
      database().query("INSERT INTO column_matches (course_id, header_hash, column_match) VALUES (?, ?, '{}')", [
        "x".repeat(40),
        "h",
      ]),
    ).rejects.toThrow(/too long/);
    expect(difference(plan, plan)).toEqual([]);
  });
});
