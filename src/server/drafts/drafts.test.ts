import { v7 } from "uuid";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { Command } from "../../core/commands.ts";
import { isRefusal } from "../../core/plan/command.ts";
import { difference } from "../../core/plan/difference.ts";
import type { Plan } from "../../core/plan/types.ts";
import { type Desk, openDesk } from "../../tests/desk.ts";
import { accountOf, signOut } from "../accounts/accounts.ts";
import { signIn } from "../accounts/entering.ts";
import { course, coursesOf } from "../store/courses.ts";
import { closeDatabase, database, rows, run } from "../store/database.ts";
import { addCommands, draftedPlan, readDraft, stepDraft } from "./drafts.ts";
import { publish } from "./publishing.ts";

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
  test("what undoes another leaves with it, wherever it stands in the draft; what was undone can be redone", async () => {
    await clear();
    const { title } = Object.values(plan.items)[0] as Plan["items"][string];
    await draft([retitle("One")]);
    await draft([command({ kind: "course.tellingWords", words: ["extra time"] })]);
    const after = await draft([retitle(title)]);
    expect([after.commands.map(({ kind }) => kind), after.undone.length]).toEqual([["course.tellingWords"], 1]);
    expect((await draft([retitle("Two")])).commands.map(({ kind }) => kind)).toEqual([
      "course.tellingWords",
      after.undone[0]?.kind,
    ]);
    expect((await readDraft(courseId, first())).undone).toHaveLength(0);
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
    const answer = await publish(courseId, first(), { publicationId: v7(), leave: [], ...before });
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
    const answers = await Promise.all(
      Array.from({ length: 10 }, () => publish(courseId, first(), { publicationId: id, leave: [], ...before })),
    );
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
      publish(courseId, first(), { publicationId: v7(), leave: [], ...mine }),
      publish(courseId, second(), { publicationId: v7(), leave: [], ...theirs }),
    ]);
    expect(answers.filter(({ published }) => published)).toHaveLength(1);
    expect(answers.find(({ published }) => !published)).toMatchObject({ reason: "changed" });
    const left = answers[0]?.published ? second() : first();
    expect((await readDraft(courseId, left)).commands).toHaveLength(1);
    expect(await publish(courseId, left, { publicationId: v7(), leave: [], ...(await seen(left)) })).toMatchObject({
      published: true,
    });
  });
  test("a draft that no longer applies publishes nothing and says why", async () => {
    await clear();
    await clear(second());
    const [, , , target] = Object.values(plan.items);
    await draft([retitle("Kept"), retitle("Lost", target)]);
    await draft([command({ kind: "item.remove", itemId: target?.id })], second());
    await publish(courseId, second(), { publicationId: v7(), leave: [], ...(await seen(second())) });
    const before = await revision();
    const answer = await publish(courseId, first(), { publicationId: v7(), leave: [], ...(await seen()) });
    expect(answer).toMatchObject({
      published: false,
      reason: "refused",
      refused: [{ refusal: { code: "item.gone" } }],
    });
    expect(await revision()).toBe(before);
    await clear();
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
      const answer = await signIn("second", "wrong", { at });
      waits.push("wait" in answer ? answer.wait : null);
      if ("wait" in answer) at += answer.wait * 1000;
    }
    expect(waits).toEqual([null, null, null, null, null, 2, null]);
    expect(await signIn("second", "right", { at })).toEqual({ wait: 4 });
    expect(await signIn("first", "right", { at })).toHaveProperty("token");
    expect(await signIn("second", "right", { at: at + 4000 })).toHaveProperty("token");
    expect(await signIn("second", "wrong", { at: at + 4001 })).toEqual({ wrong: true });
  });
  test("passwords are kept as argon2id", async () => {
    const [account] = await rows<{ password_hash: string }>(
      "SELECT password_hash FROM accounts WHERE username = 'first'",
    );
    expect(account?.password_hash).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
  });
  test("courses of a person come with the strongest of their roles", async () => {
    const coordinator = Object.values(plan.people).find(({ username }) => username === "coordinator")?.sourcedId ?? "";
    // Other files put courses of their own into the same database.
    const own = new Set([courseId, desk.emptyCourseId]);
    const found = (await coursesOf(coordinator, desk.moment)).filter(({ course: one }) => own.has(one.id));
    expect(found.map(({ role, course: one }) => [one.code, role])).toEqual([
      ["WSH 240", "coordinator"],
      ["WSH 241", "coordinator"],
    ]);
    expect(await coursesOf("nobody", desk.moment)).toEqual([]);
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
