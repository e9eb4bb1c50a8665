/**
 * A quiz that 500 students begin at once, and answers that they save: what the server does for each request, without the
 * sending of it, beside bare writes of the same rows over as many connections.
 */
import { join } from "node:path";
import { v4, v7 } from "uuid";
import { newQuestion, withQuestion } from "../src/core/attempts/editing.ts";
import { difference } from "../src/core/plan/difference.ts";
import { lookup } from "../src/core/plan/lookup.ts";
import type { Quiz } from "../src/core/plan/questions.ts";
import { blankItem, emptyPlan, type Item, type Plan } from "../src/core/plan/types.ts";
import { studentPage } from "../src/core/reach/student-page.ts";
import { type Attempt, attemptsOf } from "../src/server/attempts/rows.ts";
import { begin, type Place, placeOf, save, savingPlace } from "../src/server/attempts/working.ts";
import { course } from "../src/server/store/courses.ts";
import { closeDatabase, run, transaction } from "../src/server/store/database.ts";
import { migrate } from "../src/server/store/migrate.ts";
import { insertCourse, writeDifference } from "../src/server/store/plan-rows.ts";
import { studentProgress } from "../src/server/store/progress.ts";
import { type Row, sized } from "./measure.ts";
import { largeCourse } from "./reach.ts";

const questions = 20;
function quizItem(): Item {
  let quiz: Quiz | null = null;
  for (let at = 0; at < questions; at++)
    quiz = withQuestion(quiz, { ...newQuestion("short", v7), text: `<p>Question ${at + 1}</p>` }, v7);
  const fields = { kind: "quiz" as const, title: "Quiz", quiz, points: 20, dates: { minutes: 30 } };
  return { ...blankItem, id: v4(), parentId: null, position: 1_000_000, ...fields };
}

/** A course of 500 with a quiz for everyone. */
async function store(): Promise<{ courseId: string; itemId: string; students: string[] }> {
  const { plan } = largeCourse(sized(500, 40));
  const item = quizItem();
  const own: Plan = { ...plan, course: { ...plan.course, id: v4() }, items: { ...plan.items, [item.id]: item } };
  await transaction(async (connection) => {
    await insertCourse(own.course, connection);
    await writeDifference(own.course.id, difference(emptyPlan(own.course), own), connection);
  });
  const students = [...lookup(own).enrolmentsOfPerson].flatMap(([id, rows]) =>
    rows.some(({ role, until }) => role === "student" && until === null) ? [id] : [],
  );
  return { courseId: own.course.id, itemId: item.id, students: students.slice(0, sized(500, 30)) };
}

/** What each request begins with: who it is, and what they see. */
async function placeFor(courseId: string, itemId: string, personId: string): Promise<Place> {
  const stored = await course(courseId);
  const plan = stored?.plan as Plan;
  const page = studentPage(plan, await studentProgress(courseId, personId, plan), personId, Date.now());
  if (!page) throw new Error(`${personId} is no student`);
  const view = { page, plan, courseId, base: "", query: "", indexes: [], pronouns: new Map(), unread: 0, look: null };
  const place = placeOf({ ...view, scope: null } as Parameters<typeof placeOf>[0], itemId);
  if (!place) throw new Error("the quiz is not shown");
  return place;
}

const took = async (work: () => Promise<unknown>): Promise<number> => {
  const started = performance.now();
  await work();
  return performance.now() - started;
};
const bareAttempt = (courseId: string, itemId: string, personId: string, paper: string) =>
  transaction((connection) =>
    run(
      `INSERT INTO attempts (id, course_id, item_id, holder_id, is_group, number, begun_by, begun_at, ends_at, paper, seen_at)
       VALUES (?, ?, ?, ?, FALSE, 1, ?, 0, 1, ?, 0)`,
      [v7(), courseId, itemId, personId, personId, paper],
      connection,
    ),
  );

async function beginRow(
  { courseId, itemId, students }: Awaited<ReturnType<typeof store>>,
  attempts: Map<string, Attempt>,
): Promise<Row> {
  // The first of a course reads its plan, as it does for whoever opened the item's page before.
  await placeFor(courseId, itemId, students[0] as string);
  const ours = await took(() =>
    Promise.all(
      students.map(async (personId) => {
        const answer = await begin(await placeFor(courseId, itemId, personId), "");
        if ("failure" in answer) throw new Error(answer.failure);
        attempts.set(personId, answer.attempt);
      }),
    ),
  );
  if ((await attemptsOf(courseId, itemId, null)).length !== students.length) throw new Error("an attempt is missing");
  const paper = JSON.stringify([...attempts.values()][0]?.paper);
  const other = v4();
  const floor = await took(() =>
    Promise.all(students.map((personId) => bareAttempt(courseId, other, personId, paper))),
  );
  return {
    name: "500 students begin a quiz at once",
    ours,
    against: [{ name: "bare writes of the same rows", milliseconds: floor, kind: "floor" }],
    note: `${students.length} students, ${questions} questions; once; the goal is 5,000 ms`,
  };
}

/** The milliseconds that 99 of 100 take at most. */
const p99 = (values: number[]): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * 0.99))] as number;

/** As many at once as come in a tenth of a second where each of 500 saves once a second. */
const together = 50;
async function inTurns(
  students: string[],
  rounds: number,
  work: (personId: string, round: number) => Promise<unknown>,
) {
  const times: number[] = [];
  for (let round = 0; round < rounds; round++)
    for (let from = 0; from < students.length; from += together)
      times.push(
        ...(await Promise.all(
          students.slice(from, from + together).map((personId) => took(() => work(personId, round))),
        )),
      );
  return times;
}

async function saveRow(
  { courseId, itemId, students }: Awaited<ReturnType<typeof store>>,
  attempts: Map<string, Attempt>,
): Promise<Row> {
  const rounds = sized(10, 1);
  const questionOf = (attempt: Attempt, round: number) => attempt.paper.questions[round % questions]?.id as string;
  const ours = await inTurns(students, rounds, async (personId, round) => {
    const attempt = attempts.get(personId) as Attempt;
    const answer = { questionId: questionOf(attempt, round), answer: `Answer ${round}`, sequence: 1 };
    const { plan } = (await course(courseId)) as { plan: Plan };
    const place = savingPlace({ plan, courseId, membership: { personId, role: "student" } as never }, itemId);
    const saved = place && (await save(place, attempt.id, [answer]));
    if (!saved?.sequences[answer.questionId]) throw new Error("an answer was not saved");
  });
  const floor = await inTurns(students, rounds, (personId, round) => {
    const attempt = attempts.get(personId) as Attempt;
    return transaction((connection) =>
      run(
        `INSERT INTO attempt_answers (course_id, attempt_id, item_id, holder_id, question_id, answer, sequence, saved_at, saved_by)
         VALUES (?, ?, ?, ?, ?, '"Answer"', 1, 0, ?)`,
        [courseId, attempt.id, itemId, personId, `bare ${questionOf(attempt, round).slice(-20)}${round}`, personId],
        connection,
      ),
    );
  });
  return {
    name: "An answer saved, 99 of 100 sooner",
    ours: p99(ours),
    against: [{ name: "a bare insert, 99 of 100 sooner", milliseconds: p99(floor), kind: "floor" }],
    note: `${ours.length.toLocaleString("en-GB")} answers, ${together} at once`,
  };
}

export async function attemptRows(): Promise<Row[]> {
  await migrate(join(process.cwd(), "database"), () => undefined);
  const stored = await store();
  const attempts = new Map<string, Attempt>();
  const found = [await beginRow(stored, attempts), await saveRow(stored, attempts)];
  await closeDatabase();
  return found;
}
