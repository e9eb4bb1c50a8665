/**
 * npm run soak [-- --minutes 10] [-- --students 500] [-- --readers 30]: students read and write, a coordinator publishes, and
 * every half minute something is taken away: the database's connections, the application, the database. At the end: what was
 * answered other than it should be, how long answers took, what memory the application holds, and whether everything that was
 * acknowledged is there, once. Ends with 1 where something is wrong.
 */
import { readFileSync } from "node:fs";
import { startCrashing } from "./lib/crash.mjs";
import { createLoad, lost, publisher, reader, sayLoad, signIn, writer } from "./lib/load.mjs";
import { ensureModules, ensureProgram, pause, say } from "./lib/machine.mjs";
import { numbersGiven } from "./lib/numbers.mjs";

const { minutes, students, readers } = numbersGiven("npm run soak", { minutes: 10, students: 500, readers: 30 });

await ensureModules();
await ensureProgram("mariadbd", "mariadb-server");
const { default: mysql } = await import("mysql2/promise");
const { openSessions } = await import("./lib/sessions.mjs");

const demo = "WSH 240";
const large = `WSH ${students}`;
/** Every how many milliseconds something is taken away, and how long afterwards what fails is its doing. */
const [faultEvery, settling] = [30_000, 8000];

const here = await startCrashing("soak", 4950, ["demo/load-large.ts", "--students", String(students)]);
let database = mysql.createPool({ uri: here.databaseUrl, connectionLimit: 4 });
const until = Date.now() + minutes * 60_000;
const isOver = () => Date.now() >= until;

let faultUntil = 0;
let isBreaking = false;
const load = createLoad({ url: here.url, isOver, isFault: () => isBreaking || Date.now() < faultUntil });

const faults = {
  async "connections are cut"() {
    const [found] = await database.query("SELECT id FROM information_schema.processlist WHERE id <> CONNECTION_ID()");
    for (const { id } of found) await database.query(`KILL ${id}`).catch(() => {});
  },
  async "the application is killed"() {
    await here.killApplication();
    await here.startApplication();
  },
  async "the database is killed"() {
    await database.end().catch(() => {});
    await here.killDatabase();
    await pause(2000);
    await here.startDatabase();
    database = mysql.createPool({ uri: here.databaseUrl, connectionLimit: 4 });
  },
};
const memories = [];
const memory = () =>
  Math.round(Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${here.pid()}/status`, "utf8"))?.[1] ?? 0) / 1024);

async function breaker() {
  const all = Object.entries(faults);
  for (let at = 0; ; at++) {
    await pause(Math.min(faultEvery, Math.max(0, until - Date.now())));
    memories.push(memory());
    // What is broken last has time to mend.
    if (Date.now() > until - 20_000) return;
    const [name, work] = all[at % all.length];
    say(
      `${Math.round((until - Date.now()) / 60_000)} minutes to go, ${load.seen.answers} answers, ${memory()} MB: ${name}`,
    );
    isBreaking = true;
    await work();
    faultUntil = Date.now() + settling;
    isBreaking = false;
  }
}

let code = 1;
try {
  const [[course]] = await database.query("SELECT id FROM courses WHERE code = ?", [demo]);
  const [[talk]] = await database.query(
    "SELECT id FROM items WHERE course_id = ? AND title = 'Questions for your instructor'",
    [course.id],
  );
  const reading = await openSessions(database, large, readers);
  const writing = await openSessions(database, demo, Math.max(2, Math.round(readers / 6)));
  say(`${reading.length} students read, ${writing.length} write, one coordinator publishes, for ${minutes} minutes`);
  await Promise.all([
    ...reading.map((one) => reader(load, one)),
    ...writing.map((one) => writer(load, one, talk.id)),
    publisher(load, { courseId: course.id, cookie: await signIn(load, "coordinator") }),
    breaker(),
  ]);
  const query = async (sql, values) => (await database.query(sql, values))[0];
  const wrong = [...load.seen.wrong].map(([what, times]) => `${times} x ${what}`).concat(await lost(load, query));
  for (const line of sayLoad(load)) say(line);
  say(`Memory of the application, every half minute: ${memories.join(", ")} MB`);
  say(wrong.length === 0 ? "Nothing was wrong, lost or doubled" : `Wrong:\n  ${wrong.join("\n  ")}`);
  code = wrong.length === 0 ? 0 : 1;
} finally {
  await database.end().catch(() => {});
  await here.stop();
}
process.exit(code);
