/** A course of the demo with quizzes of a test's own, and students who work on them. */
import { v7 } from "uuid";
import { newQuestion, withQuestion } from "../core/attempts/editing.ts";
import type { Answer } from "../core/attempts/marking.ts";
import { blankQuiz, type Question, type Quiz } from "../core/plan/questions.ts";
import { blankItem, type DateFields, type Item, type Plan, type Target } from "../core/plan/types.ts";
import { studentPage } from "../core/reach/student-page.ts";
import { begin, type Place, placeOf, save } from "../server/attempts/working.ts";
import type { CourseAccess } from "../server/http/guard.ts";
import { course } from "../server/store/courses.ts";
import { rows, run } from "../server/store/database.ts";
import { studentProgress } from "../server/store/progress.ts";
import type { ShownCourse } from "../server/student/shown-course.ts";
import { coordinatorOf, type Desk, live, openDesk } from "./desk.ts";

export let desk: Desk;
/** The account of the coordinator. */
export let coordinator = "";
/** Before anything else here is asked. */
export async function openQuizDesk(): Promise<void> {
  desk = await openDesk();
  coordinator = await coordinatorOf(desk);
}

export const choices = ["right", "wrong"].map((text) => ({ id: v7(), text }));
export const one: Question = {
  id: v7(),
  kind: "one",
  text: "Which?",
  points: 4,
  choices,
  right: choices[0]?.id as string,
};
export const long: Question = { ...newQuestion("long", v7), text: "Why?", points: 6 };
export const several: Question = {
  ...newQuestion("several", v7),
  text: "Which of them?",
  points: 4,
  choices,
} as Question;
export const quizOf = (...questions: Question[]): Quiz =>
  questions.reduce((quiz: Quiz | null, question) => withQuestion(quiz, question, v7), null) ?? blankQuiz;

/** A quiz of its own, published. */
export async function newQuiz(dates: DateFields = {}, fields: Partial<Item> = {}): Promise<string> {
  const id = v7();
  const item = {
    ...blankItem,
    id,
    parentId: null,
    position: 999,
    kind: "quiz",
    title: `Quiz ${id.slice(-6)}`,
    points: 10,
  };
  await live(desk, { kind: "item.add", item: { ...item, quiz: quizOf(one), dates, ...fields } });
  return id;
}
export const override = (itemId: string, target: Target, dates: object) =>
  live(desk, { kind: "override.set", itemIds: [itemId], target, dates });

export async function viewOf(personId: string): Promise<ShownCourse> {
  const { plan } = (await course(desk.courseId)) as { plan: Plan };
  const page = studentPage(plan, await studentProgress(desk.courseId, personId, plan), personId, Date.now());
  if (!page) throw new Error(`${personId} is no student`);
  const shown = { base: "", query: "", indexes: [], pronouns: new Map(), unread: 0, look: null, scope: null };
  return { ...shown, page, plan, courseId: desk.courseId };
}
export const placeFor = async (personId: string, itemId: string): Promise<Place> =>
  placeOf(await viewOf(personId), itemId) as Place;
export async function begun(personId: string, itemId: string, word = "") {
  const answer = await begin(await placeFor(personId, itemId), word);
  if ("failure" in answer) throw new Error(answer.failure);
  return answer.attempt;
}
export const give = async (
  personId: string,
  itemId: string,
  attemptId: string,
  questionId: string,
  answer: Answer,
  sequence = 1,
) => save(await placeFor(personId, itemId), attemptId, [{ questionId, answer, sequence }]);
/** As if so many minutes had passed since it began. */
export const ago = (attemptId: string, minutes: number) =>
  run("UPDATE attempts SET begun_at = begun_at - ?, ends_at = ends_at - ? WHERE id = ?", [
    ...[minutes * 60_000, minutes * 60_000, attemptId],
  ]);
export const markOf = async (itemId: string, personId: string) => {
  const [found] = await rows<{ points: number }>(
    "SELECT points FROM marks WHERE course_id = ? AND item_id = ? AND person_id = ?",
    [desk.courseId, itemId, personId],
  );
  return found?.points ?? null;
};
/** Students of the course, by place in it. */
export const student = (at: number): string => {
  const found = Object.values(desk.plan.enrolments).filter((row) => row.role === "student" && row.until === null);
  return found[at]?.personId as string;
};
export const staffAccess = async () => {
  const { plan } = (await course(desk.courseId)) as { plan: Plan };
  // Of a request that was let in no more is asked than this.
  return { courseId: desk.courseId, plan, whole: plan, scope: null } as CourseAccess;
};
export const doer = async (itemId: string) => {
  const access = await staffAccess();
  return { access, item: access.plan.items[itemId] as Item, by: coordinator };
};
