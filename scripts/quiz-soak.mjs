/**
 * npm run soak:quiz [-- --minutes 10] [-- --students 500] [-- --every 4]: so many students begin a quiz at the same moment,
 * each saves an answer every so many seconds, and all hand in at the end. Told: how long it took until all had begun, how long
 * saves took, and whether every answer that was acknowledged is there. Ends with 1 where one is lost, or beginning took longer
 * than five seconds.
 */
import { randomUUID } from "node:crypto";
import { readFileSync } from "node:fs";
import { createHistogram } from "node:perf_hooks";
import { startCrashing } from "./lib/crash.mjs";
import { ensureModules, ensureProgram, pause, root, say } from "./lib/machine.mjs";
import { numbersGiven } from "./lib/numbers.mjs";

const { minutes, students, every } = numbersGiven("npm run soak:quiz", { minutes: 10, students: 500, every: 4 });

await ensureModules();
await ensureProgram("mariadbd", "mariadb-server");
const { default: mysql } = await import("mysql2/promise");
const { openSessions } = await import("./lib/sessions.mjs");

const here = await startCrashing("quiz-soak", 4950, ["demo/load-large.ts", "--students", String(students)]);
const database = mysql.createPool({ uri: here.databaseUrl, connectionLimit: 4 });
const password = JSON.parse(readFileSync(`${root}/demo/sign-ins.json`, "utf8")).password;
const ask = (path, cookie, init = {}) =>
  fetch(here.url + path, { redirect: "manual", ...init, headers: { cookie, origin: here.url, ...init.headers } });
const send = (path, cookie, body) =>
  ask(path, cookie, { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify(body) });

/** A quiz of twenty short texts for everyone, published; gives its id and those of its questions. */
async function publishQuiz(courseId) {
  const signedIn = await ask("/sign-in", "", {
    method: "POST",
    body: new URLSearchParams({ username: "coordinator", password }),
  });
  const cookie = (signedIn.headers.get("set-cookie") ?? "").split(";")[0];
  const api = `/api/courses/${courseId}`;
  const questions = Array.from({ length: 20 }, (_, at) => ({
    ...{ id: randomUUID(), kind: "short", text: `<p>Question ${at + 1}</p>`, points: 1 },
    ...{ accepted: ["Answer"], caseCounts: false, blanksCount: false },
  }));
  const { plan } = await (await ask(`${api}/plan`, cookie)).json();
  const item = {
    ...Object.values(plan.items).find(({ kind }) => kind === "quiz"),
    ...{ id: randomUUID(), parentId: null, position: 1_000_000, title: "Load", points: 20, published: true },
    ...{ dates: { minutes: Math.ceil(minutes) + 30 }, audience: { to: "everyone", minus: [] }, condition: null },
    ...{ variants: [], split: null, combines: [], leadHandsIn: false },
    quiz: {
      parts: [{ id: randomUUID(), title: "", draw: null, mixed: false, questions }],
      ...{ mixChoices: false, counts: "best", shows: "at once", released: false },
    },
  };
  const command = { id: randomUUID(), kind: "item.add", item };
  const draft = await (await send(`${api}/draft`, cookie, { commands: [command] })).json();
  const { revision } = await (await ask(`${api}/plan`, cookie)).json();
  const answer = await send(`${api}/publish`, cookie, {
    ...{ publicationId: randomUUID(), revision, version: draft.version },
  });
  if (!answer.ok) throw new Error(`The quiz was not published: ${JSON.stringify(draft)} ${await answer.text()}`);
  return { itemId: item.id, questionIds: questions.map(({ id }) => id) };
}

const wrong = new Map();
const count = (what) => wrong.set(what, (wrong.get(what) ?? 0) + 1);
const times = createHistogram();

/** Saves again and again; gives by question the number of the last save that was acknowledged. */
async function work({ path, cookie, attemptId }, questionIds, until) {
  const acknowledged = new Map();
  await pause(Math.random() * every * 1000);
  for (let at = 1; Date.now() < until; at++) {
    const questionId = questionIds[at % questionIds.length];
    const sequence = (acknowledged.get(questionId) ?? 0) + 1;
    const begun = performance.now();
    const answers = [{ questionId, answer: `Answer ${sequence}`, sequence }];
    const answer = await send(`${path}/attempt/save`, cookie, { attemptId, answers }).catch(() => null);
    const took = performance.now() - begun;
    times.record(Math.max(1, Math.round(took * 1000)));
    const said = answer?.ok ? await answer.json() : null;
    if (said?.sequences[questionId] === sequence) acknowledged.set(questionId, sequence);
    else count(`a save was answered by ${answer?.status ?? "nothing"}`);
    await pause(Math.max(0, every * 1000 - took));
  }
  return acknowledged;
}

let code = 1;
try {
  const sessions = await openSessions(database, `WSH ${students}`, students);
  const { courseId } = sessions[0];
  const { itemId, questionIds } = await publishQuiz(courseId);
  const path = `/course/${courseId}/item/${itemId}`;
  // Each has read the page before beginning, a few at a time, as they come.
  for (let at = 0; at < sessions.length; at += 10)
    await Promise.all(sessions.slice(at, at + 10).map(async ({ cookie }) => (await ask(path, cookie)).text()));
  const begun = performance.now();
  await Promise.all(
    sessions.map(async ({ cookie }) => {
      const answer = await ask(path, cookie, { method: "POST", body: new URLSearchParams({ begin: "1" }) });
      if (answer.status !== 303) count(`a beginning was answered by ${answer.status}`);
    }),
  );
  const beginning = performance.now() - begun;
  const [attempts] = await database.query(
    `SELECT a.id, p.sourced_id AS sourcedId FROM attempts a JOIN people p ON p.id = a.holder_id WHERE a.item_id = ?`,
    [itemId],
  );
  say(`${attempts.length} of ${sessions.length} began within ${Math.round(beginning)} ms`);
  const attemptOf = new Map(attempts.map(({ id, sourcedId }) => [sourcedId, id]));
  const until = Date.now() + minutes * 60_000;
  const kept = await Promise.all(
    sessions.map(async ({ cookie, sourcedId }) => {
      const attemptId = attemptOf.get(sourcedId);
      return { attemptId, acknowledged: await work({ path, cookie, attemptId }, questionIds, until) };
    }),
  );
  let [saves, lost] = [0, 0];
  for (const { attemptId, acknowledged } of kept) {
    const [rows] = await database.query(
      "SELECT question_id AS questionId, sequence, answer FROM attempt_answers WHERE attempt_id = ?",
      [attemptId],
    );
    const there = new Map(rows.map((row) => [row.questionId, row]));
    for (const [questionId, sequence] of acknowledged) {
      saves += sequence;
      const row = there.get(questionId);
      if (row?.sequence !== sequence || row.answer !== `"Answer ${sequence}"`) lost++;
    }
  }
  const milliseconds = (share) => Math.round(times.percentile(share) / 1000);
  say(`${saves.toLocaleString("en-GB")} saves acknowledged, ${lost} answers not as acknowledged`);
  say(`p50 ${milliseconds(50)} ms, p99 ${milliseconds(99)} ms, the longest ${Math.round(times.max / 1000)} ms`);
  for (const [what, often] of wrong) say(`${often} x ${what}`);
  code = wrong.size === 0 && lost === 0 && attempts.length === sessions.length && beginning < 5000 ? 0 : 1;
} finally {
  await database.end();
  await here.stop();
}
process.exit(code);
