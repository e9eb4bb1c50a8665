import { afterAll, beforeAll, describe, expect, test } from "vitest";
import type { Question } from "../../core/plan/questions.ts";
import { live } from "../../tests/desk.ts";
import {
  begun,
  choices,
  coordinator,
  desk,
  doer,
  give,
  long,
  markOf,
  newQuiz,
  one,
  openQuizDesk,
  placeFor,
  quizOf,
  several,
  staffAccess,
  student,
} from "../../tests/quiz-desk.ts";
import { closeDatabase, rows, run } from "../store/database.ts";
import { answerRows, attemptRows, questionRows } from "./reading.ts";
import { attempt, attemptsOf } from "./rows.ts";
import { actOn, anew, giveToAnswers } from "./staff.ts";
import { handIn } from "./working.ts";

beforeAll(openQuizDesk);
afterAll(closeDatabase);

const minute = 60_000;

describe("staff", () => {
  test("mark what a person has to, by question; the column follows, and a mark that they gave themselves stays", async () => {
    const quiz = await newQuiz({}, { quiz: quizOf(one, long) });
    const { id } = await begun(student(0), quiz);
    await give(student(0), quiz, id, one.id, choices[0]?.id as string);
    await give(student(0), quiz, id, long.id, "Because.");
    await handIn(await placeFor(student(0), quiz), id);
    expect([await markOf(quiz, student(0)), (await attempt(desk.courseId, id))?.points]).toEqual([null, null]);
    const [waiting] = await answerRows(await staffAccess(), (await doer(quiz)).item, { question: long.id });
    expect(waiting).toMatchObject({ answer: "Because.", earned: null, worth: 6 });
    expect(await giveToAnswers(await doer(quiz), [{ attemptId: id, questionId: long.id, points: 7 }])).toBe(0);
    expect(await giveToAnswers(await doer(quiz), [{ attemptId: id, questionId: long.id, points: 3 }])).toBe(1);
    expect(await markOf(quiz, student(0))).toBe(7);
    await run("UPDATE marks SET points = 9, marked_by = ? WHERE item_id = ?", [coordinator, quiz]);
    expect(await giveToAnswers(await doer(quiz), [{ attemptId: id, questionId: long.id, points: 6 }])).toBe(1);
    expect([await markOf(quiz, student(0)), (await attempt(desk.courseId, id))?.points]).toEqual([9, 10]);
  });
  test("give more time on the spot, end, open again, and make void; what ended or runs already is left", async () => {
    const quiz = await newQuiz({ minutes: 30, attempts: 1 });
    const { id, endsAt } = await begun(student(0), quiz);
    expect(await actOn(await doer(quiz), [id], { kind: "more time", minutes: 10 })).toBe(1);
    expect((await attempt(desk.courseId, id))?.endsAt).toBe((endsAt as number) + 10 * minute);
    expect(await actOn(await doer(quiz), [id], { kind: "reopen", minutes: 10 })).toBe(0);
    await give(student(0), quiz, id, one.id, choices[0]?.id as string);
    expect(await actOn(await doer(quiz), [id], { kind: "end" })).toBe(1);
    expect([await markOf(quiz, student(0)), await actOn(await doer(quiz), [id], { kind: "end" })]).toEqual([10, 0]);
    expect(await actOn(await doer(quiz), [id], { kind: "reopen", minutes: 5 })).toBe(1);
    expect(await markOf(quiz, student(0))).toBeNull();
    expect((await give(student(0), quiz, id, one.id, choices[1]?.id as string, 2))?.over).toBe(false);
    expect(await actOn(await doer(quiz), [id], { kind: "void", reason: "The fire alarm" })).toBe(1);
    expect([
      await markOf(quiz, student(0)),
      await actOn(await doer(quiz), [id], { kind: "void", reason: "again" }),
    ]).toEqual([null, 0]);
    // They may begin another in its place.
    expect((await begun(student(0), quiz)).number).toBe(2);
    const lines = await rows<{ says: string }>("SELECT says FROM journal WHERE course_id = ? AND kind = 'attempts'", [
      desk.courseId,
    ]);
    expect(lines.map(({ says }) => says)).toContainEqual(
      expect.stringMatching(/^Made void 1 attempt on .*: The fire alarm$/),
    );
  });
  test("mark anew by what is right now: looked at first, then kept, and what was asked stays", async () => {
    const quiz = await newQuiz();
    const { id } = await begun(student(0), quiz);
    await give(student(0), quiz, id, one.id, choices[1]?.id as string);
    await handIn(await placeFor(student(0), quiz), id);
    const right = { ...one, text: "Other words", right: choices[1]?.id as string } as Question;
    await live(desk, { kind: "item.change", itemId: quiz, fields: { quiz: quizOf(right) } });
    const change = { attemptId: id, holderId: student(0), number: 1, before: 0, after: 10 };
    expect(await anew(await doer(quiz), false)).toEqual([change]);
    expect(await markOf(quiz, student(0))).toBe(0);
    expect(await anew(await doer(quiz), true)).toEqual([change]);
    expect(await markOf(quiz, student(0))).toBe(10);
    expect((await attempt(desk.courseId, id))?.paper.questions[0]?.text).toBe("Which?");
    expect(await anew(await doer(quiz), true)).toEqual([]);
  });
  test("read how far each is: what is empty, also by blanks alone, is no answer; what runs has earned nothing", async () => {
    const quiz = await newQuiz({}, { quiz: quizOf(one, long, several) });
    const { id } = await begun(student(0), quiz);
    const state = async () => (await attemptRows(await staffAccess(), (await doer(quiz)).item)).attempts[0];
    expect(await state()).toMatchObject({ asked: 3, answered: 0 });
    let sequence = 1;
    for (const [question, answer, answered] of [
      [long, " \n\t\r", 0],
      [several, [], 0],
      [long, "n", 1],
      [several, [choices[0]?.id as string], 2],
      [one, "", 2],
      [long, "\\n", 2],
      [long, "  ", 1],
      [one, choices[0]?.id as string, 2],
    ] as const) {
      await give(student(0), quiz, id, question.id, answer as never, sequence++);
      expect([answer, (await state())?.answered]).toEqual([answer, answered]);
    }
    const earned = async () => (await questionRows(await staffAccess(), (await doer(quiz)).item)).earned;
    expect(await earned()).toEqual([]);
    await handIn(await placeFor(student(0), quiz), id);
    expect(await earned()).toMatchObject([{ attemptId: id, chosen: { [one.id]: [choices[0]?.id] } }]);
  });
  test("read of those alone whom they were given", async () => {
    const quiz = await newQuiz();
    for (const at of [0, 1]) await handIn(await placeFor(student(at), quiz), (await begun(student(at), quiz)).id);
    const access = { ...(await staffAccess()), scope: { personIds: new Set([student(1)]) } } as never;
    const item = (await doer(quiz)).item;
    const [own, ...others] = (await attemptRows(access, item)).attempts;
    expect([own?.holderId, others]).toEqual([student(1), []]);
    expect((await questionRows(access, item)).earned.map(({ attemptId }) => attemptId)).toEqual([own?.id]);
    expect((await answerRows(access, item, {})).map(({ holderId }) => holderId)).toEqual([student(1)]);
    const [, other] = await attemptsOf(desk.courseId, quiz, null);
    const mine = (await attemptsOf(desk.courseId, quiz, [student(0)]))[0]?.id as string;
    expect(await actOn({ access, item, by: coordinator }, [mine], { kind: "void", reason: "x" })).toBe(0);
    expect(other).toBeDefined();
  });
});
