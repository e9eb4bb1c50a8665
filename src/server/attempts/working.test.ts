/** Attempts on the real database: begun once, saved, ended by the clock, and nobody else's. */
import { v7 } from "uuid";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { fullName } from "../../core/plan/lookup.ts";
import { membersThen } from "../../core/reach/group-work.ts";
import { live } from "../../tests/desk.ts";
import {
  ago,
  begun,
  choices,
  desk,
  give,
  markOf,
  newQuiz,
  one,
  openQuizDesk,
  override,
  placeFor,
  quizOf,
  student,
  viewOf,
} from "../../tests/quiz-desk.ts";
import { personalData } from "../institution/personal-data.ts";
import { closeDatabase, rows, run } from "../store/database.ts";
import { studentProgress } from "../store/progress.ts";
import { itemPage } from "../student/item-page.ts";
import { endOverdue, lengthenChanged } from "./ending.ts";
import { takeBegin } from "./forms.ts";
import { attempt, attemptsOf } from "./rows.ts";
import { attemptsShown, readAttempt, runningAttempt } from "./showing.ts";
import { begin, handIn, placeOf, save, savingPlace } from "./working.ts";

beforeAll(openQuizDesk);
afterAll(closeDatabase);

const minute = 60_000;
const savingAs = async (personId: string, itemId: string) => {
  const { plan } = await viewOf(personId);
  const membership = { personId, role: "student" } as never;
  return savingPlace({ plan, courseId: desk.courseId, membership }, itemId) as NonNullable<
    ReturnType<typeof savingPlace>
  >;
};

describe("a student", () => {
  test("who guesses a quiz's password waits longer each time, also with the right one; others do not", async () => {
    const quiz = await newQuiz({ accessWord: "sluice" });
    const beginAs = async (at: number, word: string) => {
      const form = new FormData();
      form.set("begin", "1");
      form.set("word", word);
      const answer = await takeBegin(await viewOf(student(at)), quiz, form);
      return typeof answer === "string" ? answer : answer?.failure;
    };
    const guesses = await Promise.all(Array.from({ length: 9 }, (_, at) => beginAs(0, `word ${at}`)));
    expect(guesses.filter((says) => says?.startsWith("That is not its password"))).toHaveLength(5);
    expect(await beginAs(0, "sluice")).toMatch(
      /^That was tried several times. Try again in \d+ seconds?; nothing has begun/,
    );
    expect(await beginAs(1, "weir")).toMatch(/^That is not its password/);
    expect(await beginAs(1, "sluice")).toBe("begun");
    expect(await beginAs(0, "")).toMatch(/^Type the password/);
  });
  test("begins once, however often it is asked at once, and goes on with what runs", async () => {
    const quiz = await newQuiz({ minutes: 30 });
    const place = await placeFor(student(0), quiz);
    const answers = await Promise.all(Array.from({ length: 12 }, () => begin(place, "")));
    expect(new Set(answers.map((answer) => "attempt" in answer && answer.attempt.id)).size).toBe(1);
    expect(await attemptsOf(desk.courseId, quiz, null)).toHaveLength(1);
  });
  test("begins with the word that is theirs, and no more attempts than theirs", async () => {
    const quiz = await newQuiz({ accessWord: "weir", attempts: 1 });
    const place = await placeFor(student(0), quiz);
    expect(await begin(place, "Weir")).toMatchObject({ failure: expect.stringMatching(/not its password/) });
    expect(await begin(place, " ")).toMatchObject({ failure: expect.stringMatching(/Type the password/) });
    expect(await attemptsOf(desk.courseId, quiz, null)).toEqual([]);
    const first = await begun(student(0), quiz, " weir ");
    await handIn(place, first.id);
    expect(await begin(place, "weir")).toEqual({ failure: "You have used 1 of 1 attempt." });
    await override(quiz, { kind: "person", id: student(0) }, { attempts: 2, accessWord: "none" });
    expect((await begun(student(0), quiz)).number).toBe(2);
  });
  test("saves answers one after another: an older one never replaces a newer, and what stands is given back", async () => {
    const quiz = await newQuiz();
    const { id } = await begun(student(0), quiz);
    expect((await give(student(0), quiz, id, one.id, choices[1]?.id as string))?.sequences).toEqual({ [one.id]: 1 });
    expect((await give(student(0), quiz, id, one.id, choices[0]?.id as string, 2))?.sequences).toEqual({ [one.id]: 2 });
    const late = await give(student(0), quiz, id, one.id, choices[1]?.id as string, 2);
    expect(late).toMatchObject({ sequences: {}, elsewhere: { [one.id]: { answer: choices[0]?.id, sequence: 2 } } });
    // The same again is no other answer; what fits no question is not kept.
    expect((await give(student(0), quiz, id, one.id, choices[0]?.id as string, 2))?.elsewhere).toEqual({});
    await give(student(0), quiz, id, one.id, "no choice of it", 3);
    await give(student(0), quiz, id, "no question", "x", 1);
    const running = await runningAttempt((await attempt(desk.courseId, id)) as never, Date.now());
    expect(running.questions.map(({ answer, sequence }) => [answer, sequence])).toEqual([[choices[0]?.id, 2]]);
    expect(JSON.stringify(running)).not.toMatch(/"right":|"accepted":/);
  });
  test("saves in what has begun, also where the item was taken from them meanwhile; a visitor and no item have no place", async () => {
    const quiz = await newQuiz({ minutes: 30 });
    const { id } = await begun(student(0), quiz);
    await live(desk, { kind: "item.change", itemId: quiz, fields: { published: false } });
    expect(placeOf(await viewOf(student(0)), quiz)).toBeNull();
    const place = await savingAs(student(0), quiz);
    const sent = { questionId: one.id, answer: choices[0]?.id as string, sequence: 1 };
    expect(await save(place, id, [sent])).toMatchObject({ sequences: { [one.id]: 1 }, over: false });
    expect((await attempt(desk.courseId, id))?.endedAt).toBeNull();
    const { plan } = place;
    const asWhom = (role: string) => ({ plan, courseId: desk.courseId, membership: { personId: student(0), role } });
    expect(savingPlace(asWhom("visitor") as never, quiz)).toBeNull();
    expect(savingPlace(asWhom("student") as never, v7())).toBeNull();
  });
  test("hands in once; what it earns is the mark of the column, the best of all", async () => {
    const quiz = await newQuiz();
    for (const [place, choice] of [choices[0], choices[1]].entries()) {
      const { id } = await begun(student(0), quiz);
      await give(student(0), quiz, id, one.id, choice?.id as string);
      const asked = await placeFor(student(0), quiz);
      const [first, second] = await Promise.all([handIn(asked, id), handIn(asked, id)]);
      expect([first?.endedHow, second?.endedHow]).toEqual(["handed in", "handed in"]);
      expect((await attempt(desk.courseId, id))?.points).toBe(place === 0 ? 10 : 0);
      expect((await give(student(0), quiz, id, one.id, choices[0]?.id as string, 9))?.over).toBe(true);
    }
    expect(await markOf(quiz, student(0))).toBe(10);
    const progress = await studentProgress(desk.courseId, student(0), desk.plan);
    expect(progress.handIns.filter(({ itemId }) => itemId === quiz)).toHaveLength(2);
  });
  test("nothing of it is anybody else's: not begun, saved, handed in or read by another", async () => {
    const quiz = await newQuiz({}, { audience: { to: [{ kind: "person", id: student(0) }], minus: [] } });
    const { id } = await begun(student(0), quiz);
    expect(placeOf(await viewOf(student(1)), quiz)).toBeNull();
    const open = await newQuiz();
    const other = await placeFor(student(1), open);
    expect(await save(other, id, [])).toBeNull();
    for (const item of [quiz, open]) expect(await save(await savingAs(student(1), item), id, [])).toBeNull();
    expect(await handIn(other, id)).toBeNull();
    await handIn(await placeFor(student(0), quiz), id);
    expect(await readAttempt(await viewOf(student(1)), quiz, id)).toBeNull();
    expect(await readAttempt(await viewOf(student(1)), open, id)).toBeNull();
    expect(await attemptsShown(await viewOf(student(1)), quiz)).toBeNull();
  });
  test("reads what was handed in before an assignment had minutes, beside its attempts", async () => {
    const lab = await newQuiz({}, { kind: "assignment", quiz: null });
    const before = v7();
    await run("INSERT INTO hand_ins (id, course_id, item_id, person_id, at, body) VALUES (?, ?, ?, ?, ?, 'Before')", [
      ...[before, desk.courseId, lab, student(0), Date.now() - minute],
    ]);
    const ids = async () => (await itemPage(await viewOf(student(0)), lab))?.handIns.map(({ id }) => id);
    expect(await ids()).toEqual([before]);
    await live(desk, { kind: "dates.set", itemIds: [lab], dates: { minutes: 30 } });
    await handIn(await placeFor(student(0), lab), (await begun(student(0), lab)).id);
    expect(await ids()).toEqual([before]);
    expect((await attemptsShown(await viewOf(student(0)), lab))?.ended).toHaveLength(1);
  });
  test("reads marks and right answers when they are shown, and not before", async () => {
    const quiz = await newQuiz({}, { quiz: { ...quizOf(one), shows: "when released" } });
    const { id } = await begun(student(0), quiz);
    await give(student(0), quiz, id, one.id, choices[1]?.id as string);
    await handIn(await placeFor(student(0), quiz), id);
    const hidden = await readAttempt(await viewOf(student(0)), quiz, id);
    expect(hidden).toMatchObject({ points: null, hidden: expect.stringMatching(/when your instructors say so/) });
    expect(hidden?.questions).toMatchObject([{ chosen: [choices[1]?.id], result: null }]);
    await live(desk, {
      kind: "item.change",
      itemId: quiz,
      fields: { quiz: { ...quizOf(one), shows: "when released", released: true } },
    });
    const read = await readAttempt(await viewOf(student(0)), quiz, id);
    expect(read).toMatchObject({ points: "0 of 4", questions: [{ result: { points: "0 of 4", right: "right" } }] });
  });
});

describe("the clock", () => {
  test("hands in what was saved, with no browser open, at the moment at which time was up", async () => {
    const quiz = await newQuiz({ minutes: 30 });
    const { id, endsAt } = await begun(student(0), quiz);
    await give(student(0), quiz, id, one.id, choices[0]?.id as string);
    await endOverdue((endsAt as number) - 1);
    expect((await attempt(desk.courseId, id))?.endedAt).toBeNull();
    await ago(id, 31);
    // Two processes look at once.
    await Promise.all([endOverdue(Date.now()), endOverdue(Date.now())]);
    expect(await attempt(desk.courseId, id)).toMatchObject({
      endedHow: "time",
      endedAt: (endsAt as number) - 31 * minute,
      points: 10,
    });
    const handIns = await rows("SELECT id FROM hand_ins WHERE item_id = ?", [quiz]);
    expect(handIns).toHaveLength(1);
  });
  test("what comes after its end is not kept, though nobody had ended it yet", async () => {
    const quiz = await newQuiz({ minutes: 30 });
    const { id } = await begun(student(0), quiz);
    await ago(id, 31);
    expect(await give(student(0), quiz, id, one.id, choices[0]?.id as string)).toMatchObject({
      over: true,
      sequences: {},
    });
    expect((await attempt(desk.courseId, id))?.points).toBe(0);
  });
  test("more time that is published meanwhile is theirs at once; less cuts nothing", async () => {
    const quiz = await newQuiz({ minutes: 30 });
    const { id, endsAt } = await begun(student(0), quiz);
    await override(quiz, { kind: "person", id: student(0) }, { minutes: 45 });
    await lengthenChanged(Date.now());
    expect((await attempt(desk.courseId, id))?.endsAt).toBe((endsAt as number) + 15 * minute);
    await override(quiz, { kind: "person", id: student(0) }, { minutes: 5 });
    await lengthenChanged(Date.now());
    expect((await save(await placeFor(student(0), quiz), id, []))?.endsAt).toBe((endsAt as number) + 15 * minute);
  });
});

describe("group work", () => {
  test("is one attempt for all of the group, on which any of them works, and one mark", async () => {
    const layer = Object.values(desk.plan.layers).find(({ name }) => name === "River teams");
    const team = Object.values(desk.plan.groups).find(
      ({ id, layerId }) => layerId === layer?.id && membersThen(desk.plan, id, Date.now()).length > 1,
    );
    const [a, b] = membersThen(desk.plan, team?.id as string, Date.now()) as [string, string];
    const quiz = await newQuiz({ attempts: 1 }, { split: { layerId: layer?.id as string, between: "sealed" } });
    const [mine, theirs] = await Promise.all([begun(a, quiz), begun(b, quiz)]);
    expect(mine.id).toBe(theirs.id);
    await give(a, quiz, mine.id, one.id, choices[1]?.id as string);
    await give(b, quiz, mine.id, one.id, choices[0]?.id as string, 2);
    await handIn(await placeFor(a, quiz), mine.id);
    const [mark] = await rows<{ points: number }>("SELECT points FROM group_marks WHERE item_id = ? AND group_id = ?", [
      quiz,
      team?.id as string,
    ]);
    expect(mark?.points).toBe(10);
    expect(await begin(await placeFor(b, quiz), "")).toEqual({ failure: "Your group has used 1 of 1 attempt." });
    expect(await readAttempt(await viewOf(b), quiz, mine.id)).toMatchObject({ points: "4 of 4" });
  });
});

test("somebody's own data holds what they answered, and never what is right", async () => {
  const quiz = await newQuiz();
  const { id } = await begun(student(2), quiz);
  await give(student(2), quiz, id, one.id, choices[1]?.id as string);
  await run(
    "INSERT IGNORE INTO accounts (id, username, sourced_id, display_name, password_hash) VALUES (?, ?, ?, ?, '')",
    [
      ...[
        v7(),
        `s${student(2)}`.slice(0, 60),
        desk.plan.people[student(2)]?.sourcedId ?? "",
        fullName(desk.plan.people[student(2)] as never),
      ],
    ],
  );
  const [account] = await rows<{ id: string }>("SELECT id FROM accounts WHERE sourced_id = ?", [
    desk.plan.people[student(2)]?.sourcedId ?? "",
  ]);
  const data = await personalData(account?.id as string);
  const facts = data?.courses.find(({ facts: of }) => of.attempts?.some(({ text }) => text === "wrong"))?.facts
    .attempts;
  expect(facts).toContainEqual(expect.objectContaining({ question: "Which?", text: "wrong", attempt: 1 }));
});
