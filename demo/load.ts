/** Migrates the database, and loads the demo on the first start: all of it in one transaction. */

import { readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import type { PoolConnection } from "mysql2/promise";
import { v4 } from "uuid";
import { difference } from "../src/core/plan/difference.ts";
import { fullName } from "../src/core/plan/lookup.ts";
import { emptyPlan, type Person, type Plan } from "../src/core/plan/types.ts";
import { plainLocale } from "../src/core/text/locale.ts";
import { createAccount } from "../src/server/accounts/accounts.ts";
import { hashPassword } from "../src/server/accounts/passwords.ts";
import { now } from "../src/server/clock.ts";
import { setUp } from "../src/server/institution/institution.ts";
import { closeDatabase, insertMany, rows, run, transaction } from "../src/server/store/database.ts";
import { migrate } from "../src/server/store/migrate.ts";
import { insertCourse, writeDifference } from "../src/server/store/plan-rows.ts";
import type { Activity } from "./activity.ts";
import { fieldCard } from "./outline.ts";
import type { DemoAttempt } from "./quizzes.ts";
import { makeScenario } from "./scenario.ts";

const here = dirname(fileURLToPath(import.meta.url));

export async function storePlan(plan: Plan, connection: PoolConnection): Promise<void> {
  await insertCourse(plan.course, connection);
  await writeDifference(plan.course.id, difference(emptyPlan(plan.course), plan), connection);
}

export async function storeActivity(courseId: string, activity: Activity, connection: PoolConnection): Promise<void> {
  const { marks, handIns, openings, posts, entries } = activity;
  const put = (table: string, columns: string[], values: (string | number | boolean | null)[][]) =>
    insertMany(table, columns, values, connection);
  await put(
    "marks",
    ["course_id", "item_id", "person_id", "points", "excused", "at"],
    marks.map((m) => [courseId, m.itemId, m.personId, m.points, m.excused, m.at]),
  );
  await put(
    "hand_ins",
    ["id", "course_id", "item_id", "person_id", "at", "body"],
    handIns.map((h) => [h.id, courseId, h.itemId, h.personId, h.at, h.body]),
  );
  await put(
    "openings",
    ["course_id", "item_id", "person_id", "at", "read_at"],
    openings.map((o) => [courseId, o.itemId, o.personId, o.at, o.readAt]),
  );
  await put(
    "posts",
    ["id", "course_id", "place_id", "group_id", "person_id", "at", "body"],
    posts.map((p) => [p.id, courseId, p.itemId, p.groupId, p.personId, p.at, p.body]),
  );
  await put(
    "group_entries",
    ["id", "course_id", "group_id", "kind", "person_id", "at", "title", "body"],
    entries.map((e) => [e.id, courseId, e.groupId, e.kind, e.personId, e.at, e.title, e.body]),
  );
}

/** Attempts of quizzes, with their answers. */
export async function storeAttempts(
  courseId: string,
  attempts: DemoAttempt[],
  connection: PoolConnection,
): Promise<void> {
  const of = (one: DemoAttempt) => [
    ...[one.id, courseId, one.itemId, one.personId, false, 1, one.personId, one.begunAt, one.endsAt, one.endedAt],
    ...[one.endedAt === null ? null : "handed in", JSON.stringify(one.paper), one.points, one.begunAt, one.handInId],
  ];
  await insertMany(
    "attempts",
    [
      ...[
        "id",
        "course_id",
        "item_id",
        "holder_id",
        "is_group",
        "number",
        "begun_by",
        "begun_at",
        "ends_at",
        "ended_at",
      ],
      ...["ended_how", "paper", "points", "seen_at", "hand_in_id"],
    ],
    attempts.map(of),
    connection,
  );
  const answers = attempts.flatMap(({ id, itemId, personId, answers: given }) =>
    given.map(({ questionId, answer, points, at }) => [
      ...[courseId, id, itemId, personId, questionId, JSON.stringify(answer), 1, at, personId, points],
    ]),
  );
  const columns = [
    ...["course_id", "attempt_id", "item_id", "holder_id", "question_id", "answer", "sequence", "saved_at"],
    ...["saved_by", "points"],
  ];
  await insertMany("attempt_answers", columns, answers, connection);
}

/** The bytes of the demo's file, for every item that holds it. */
async function storeFiles(plan: Plan, connection: PoolConnection): Promise<void> {
  const by = Object.keys(plan.people)[0] as string;
  for (const { file } of Object.values(plan.items)) {
    if (!file) continue;
    const { id, name, type, size } = file;
    const columns = ["id", "course_id", "name", "type", "size", "stored_by", "at"];
    await insertMany("files", columns, [[id, plan.course.id, name, type, size, by, now()]], connection);
    const part = [id, Buffer.from(fieldCard.text)];
    await run("INSERT INTO file_parts (file_id, part, bytes) VALUES (?, 0, ?)", part, connection);
  }
}

const readSignIns = () => JSON.parse(readFileSync(join(here, "sign-ins.json"), "utf8")) as { password: string };

/** Accounts for people with a username, all with the demo's password. One hash serves all: the password is public. */
export async function storeAccounts(people: Person[]): Promise<void> {
  const { password } = readSignIns();
  const passwordHash = await hashPassword(password);
  for (const person of people) {
    if (person.username)
      await createAccount({
        username: person.username,
        sourcedId: person.sourcedId,
        displayName: fullName(person),
        passwordHash,
      });
  }
}

/** The institution of the demo, its term, and who administers it. */
async function storeInstitution({ term, termStart, termEnd, timeZone, noClassDays }: Plan["course"]): Promise<void> {
  const administrator = { username: "administrator", givenName: "Ines", familyName: "Kowal" };
  const terms = [{ name: term, starts: termStart, ends: termEnd, noClassDays, workUntil: null, coursesUntil: null }];
  const institution = { name: "Tarnbeck College", timeZone, ...plainLocale };
  const email = "administrator@tarnbeck.example";
  const administrators = [{ ...administrator, email, sourcedId: "00239001" }];
  const answer = await setUp({ institution, terms, administrators }, null, now());
  if ("wrong" in answer) throw new Error(answer.wrong);
  const { password } = readSignIns();
  await run("UPDATE accounts SET password_hash = ? WHERE id = ?", [
    await hashPassword(password),
    answer.administrators[0] ?? "",
  ]);
}

export async function load(say: (line: string) => void): Promise<void> {
  await migrate(join(here, "../database"), say);
  const [found] = await rows<{ count: number }>("SELECT COUNT(*) AS count FROM courses");
  if (found && found.count > 0) return;
  say("Loading the demo data");
  const { plan, emptyCourse, activity, attempts } = makeScenario(now(), v4());
  await storeAccounts(Object.values(plan.people));
  await storeInstitution(plan.course);
  await transaction(async (connection) => {
    await storePlan(plan, connection);
    await storePlan(emptyCourse, connection);
    await storeActivity(plan.course.id, activity, connection);
    await storeAttempts(plan.course.id, attempts, connection);
    await storeFiles(plan, connection);
  });
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  load((line) => console.log(line))
    .then(closeDatabase)
    .catch((error: Error) => {
      console.error(`The database could not be prepared: ${error.message}`);
      process.exit(1);
    });
}
