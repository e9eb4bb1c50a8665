/** Worker threads on the real database: they do the same, are given up when they take too long or too many wait, and leave nothing half done. */
import { join } from "node:path";
import { v4, v7 } from "uuid";
import { afterAll, beforeAll, expect, test } from "vitest";
import { storePlan } from "../../../demo/load.ts";
import { makeScenario } from "../../../demo/scenario.ts";
import { buildThreads } from "../../../scripts/lib/threads.mjs";
import type { Plan } from "../../core/plan/types.ts";
import { publishedReport } from "../course/report.ts";
import { failureOf } from "../http/failures.ts";
import { answerIn, withRequestId } from "../http/this-request.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows, run, transaction } from "../store/database.ts";
import { migrate } from "../store/migrate.ts";
import { closeThreads, inThread, WorkGivenUp } from "./pool.ts";

let plan: Plan;
beforeAll(async () => {
  const file = join(import.meta.dirname, "../../../.data/test-threads.mjs");
  await buildThreads(file);
  Object.assign(process.env, { AMBER_THREADS_FILE: file, AMBER_THREADS: "1", AMBER_THREADS_WAITING: "2" });
  await migrate(join(import.meta.dirname, "../../../database"), () => undefined);
  plan = makeScenario(Date.now(), v4()).plan;
  await transaction((connection) => storePlan(plan, connection));
});
afterAll(async () => {
  await closeThreads();
  await closeDatabase();
});

const courseId = () => plan.course.id;
const revision = async () => (await course(courseId()))?.revision ?? 0;
/** A roster as a browser sends it, of so many people who are new. */
async function roster(count: number, intakeId = v7()): Promise<Uint8Array> {
  const [section] = Object.values(plan.sections);
  const row = (at: number) => ({
    file: "new.csv",
    line: at + 2,
    sourcedId: `${intakeId}-${at}`,
    username: `${intakeId}-${at}`,
    email: "",
    givenName: "Ada",
    familyName: `Okafor ${at}`,
    sectionCode: section?.code ?? "",
    sectionTitle: "",
    meets: "",
    role: "student",
    attributes: {},
    problem: null,
  });
  const body = {
    intakeId,
    revision: await revision(),
    rows: Array.from({ length: count }, (_, at) => row(at)),
    options: { partial: true, acceptedSections: [], chosen: [], samePeople: {} },
    sectionLayer: null,
    files: ["new.csv"],
    pullId: null,
    remember: [],
  };
  return new TextEncoder().encode(JSON.stringify(body));
}
const newcomers = async (intakeId: string) => {
  const [found] = await rows<{ count: number }>(
    "SELECT COUNT(*) AS count FROM people WHERE course_id = ? AND sourced_id LIKE ?",
    [courseId(), `${intakeId}-%`],
  );
  return found?.count ?? 0;
};

test("the audit of a thread is the audit", async () => {
  const stored = await course(courseId());
  const here = await publishedReport({ courseId: courseId(), revision: 0, plan, ...stored }, null);
  const file = await inThread("auditFile", [courseId(), null, "json"]);
  expect(JSON.parse(file?.text ?? "")).toEqual({ ...here, made: expect.any(String) });
  const page = await inThread("auditPage", [courseId(), null]);
  expect(page?.findings.map(({ students, more }) => students.length + more)).toEqual(
    here.findings.map(({ students }) => students.length),
  );
  expect(await inThread("auditFile", [v4(), null, "csv"])).toBeNull();
});

test("what a thread says is written as whoever asked reads it", async () => {
  const since = async (locale: string | null) =>
    withRequestId(v4(), async () => {
      if (locale) answerIn({ locale, hours: "usual" });
      const page = await inThread("auditPage", [courseId(), null]);
      return page?.findings.map((one) => one.since).find((one) => one !== null);
    });
  expect(await since("en-US")).toMatch(/^[A-Z][a-z]{2}, [A-Z][a-z]{2} \d+, \d+:\d\d [AP]M$/);
  expect(await since(null)).toMatch(/^[A-Z][a-z]{2} \d+ [A-Z][a-z]{2}, \d\d:\d\d$/);
});

test("a roster is read, judged and taken in; what is no roster is told as everywhere", async () => {
  const intakeId = v7();
  const done = await inThread("applyIntake", [courseId(), v4(), await roster(5, intakeId)]);
  expect(done).toMatchObject({ answer: { applied: true, counts: { new: 5 } }, asked: { pullId: null } });
  expect(await newcomers(intakeId)).toBe(5);
  const wrong = new TextEncoder().encode('{"intakeId": 3}');
  expect(await inThread("applyIntake", [courseId(), v4(), wrong])).toMatchObject({
    misread: { title: "Not as expected", detail: expect.stringContaining("Nothing was changed") },
  });
});

test("given up at any moment, a roster is taken in whole or not at all, and the next one is", async () => {
  const ends = new Set<string>();
  for (const patience of [1, 60, 120, 250, 500, 1000, 2000, 4000, 60_000]) {
    const [intakeId, before] = [v7(), await revision()];
    const sent = await roster(3000, intakeId);
    const end = await inThread("applyIntake", [courseId(), v4(), sent], { patience }).then(
      () => "done",
      (error) => (error instanceof WorkGivenUp ? "given up" : String(error)),
    );
    ends.add(end);
    const after = await revision();
    const taken = await newcomers(intakeId);
    expect([`${before}: 0`, `${before + 1}: 3000`]).toContain(`${after}: ${taken}`);
    if (end === "done") expect(taken).toBe(3000);
    if (end === "done") break;
  }
  expect([...ends].sort()).toEqual(["done", "given up"]);
});

test("where too many wait, the next is told so at once, as something to ask again", async () => {
  const asked = Array.from({ length: 12 }, () => inThread("auditPage", [courseId(), null]).catch((error) => error));
  const refused = (await Promise.all(asked)).filter((one): one is WorkGivenUp => one instanceof WorkGivenUp);
  expect(refused.length).toBeGreaterThan(0);
  expect(refused.length).toBeLessThan(12);
  const answer = failureOf(new Request("http://127.0.0.1/api/courses/x/audit"), refused[0]);
  expect([answer.status, answer.headers.get("retry-after")]).toEqual([503, "5"]);
  expect(await answer.text()).toContain("Try again in a minute");
});

test("a thread whose connections were closed while it waited asks over new ones", async () => {
  const intakeId = v7();
  await inThread("auditPage", [courseId(), null]);
  // As a database does that was started again: whoever asks next has to open a connection.
  const open = await rows<{ id: number }>(
    "SELECT id FROM information_schema.processlist WHERE id <> CONNECTION_ID() AND db = DATABASE()",
  );
  for (const { id } of open) await run("KILL CONNECTION ?", [id]).catch(() => undefined);
  const done = await inThread("applyIntake", [courseId(), v4(), await roster(5, intakeId)]);
  expect(done).toMatchObject({ answer: { applied: true } });
  expect(await newcomers(intakeId)).toBe(5);
});

test("what fails in a thread fails here with its code, so that the answer is that of a database that is away", async () => {
  const wrong = { ...process.env };
  process.env.AMBER_DATABASE_URL = "mysql://nobody@127.0.0.1:9/none";
  await closeThreads();
  const error = await inThread("auditPage", [courseId(), null]).catch((failed) => failed);
  Object.assign(process.env, wrong);
  await closeThreads();
  expect(error.code).toBe("ECONNREFUSED");
  expect(failureOf(new Request("http://127.0.0.1/api/courses/x/audit"), error).status).toBe(503);
});
