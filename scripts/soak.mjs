/**
 * npm run soak [-- --minutes 10] [-- --students 500] [-- --readers 30]: students read and write, a coordinator publishes, and
 * every half minute something is taken away: the database's connections, the application, the database. At the end: what was
 * answered other than it should be, how long answers took, what memory the application holds, and whether everything that was
 * acknowledged is there, once. Ends with 1 where something is wrong.
 */
import { randomUUID } from "node:crypto";
import { readFileSync } from "node:fs";
import { createHistogram } from "node:perf_hooks";
import { startCrashing } from "./lib/crash.mjs";
import { ensureModules, ensureProgram, pause, root, say } from "./lib/machine.mjs";
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
const password = JSON.parse(readFileSync(`${root}/demo/sign-ins.json`, "utf8")).password;

/** What was seen: how long answers took, in microseconds; what was wrong, and how often; what a fault explains. */
const seen = { times: createHistogram(), answers: 0, wrong: new Map(), excused: 0 };
let faultUntil = 0;
let isFault = false;
const count = (map, key) => map.set(key, (map.get(key) ?? 0) + 1);

/** Asks, and notes what came of it. Gives null where there was no answer that can be used. */
async function ask(path, { cookie, wanted = [200], ...init }) {
  const begun = performance.now();
  const startedIn = isFault || Date.now() < faultUntil;
  let status = 0;
  let text = "";
  try {
    const answer = await fetch(here.url + path, {
      redirect: "manual",
      signal: AbortSignal.timeout(30_000),
      ...init,
      headers: { cookie, origin: here.url, ...init.headers },
    });
    status = answer.status;
    text = await answer.text();
  } catch {
    status = 0;
  }
  seen.answers++;
  if (wanted.includes(status)) {
    // While something is away answers wait for it: that is no measure of the application.
    if (!startedIn && !isFault) seen.times.record(Math.max(1, Math.round((performance.now() - begun) * 1000)));
    return { status, text };
  }
  const isExcused = startedIn || isFault || Date.now() < faultUntil;
  if (isExcused && (status === 0 || status >= 500)) seen.excused++;
  else count(seen.wrong, `${init.method ?? "GET"} ${path.replace(/[0-9a-f-]{36}/g, "ID")}: ${status || "no answer"}`);
  return null;
}
const thinking = () => pause(150 + Math.random() * 500);

async function reader({ courseId, cookie }) {
  while (!isOver()) {
    const home = await ask(`/course/${courseId}`, { cookie });
    const items = [...(home?.text.matchAll(/href="(\/course\/[^"]+\/item\/[^"?#]+)"/g) ?? [])].map(([, path]) => path);
    const some = items[Math.floor(Math.random() * items.length)];
    for (const path of [some, `/course/${courseId}/marks`, `/course/${courseId}/calendar`].filter(Boolean)) {
      await thinking();
      await ask(path, { cookie });
    }
    await thinking();
  }
}

/** Ids of posts and publications that were acknowledged, and of those that were only sent. */
const [posted, published] = [new Set(), new Set()];

async function writer({ courseId, cookie }, itemId) {
  const path = `/course/${courseId}/item/${itemId}`;
  const page = await ask(path, { cookie });
  const thread = /name="thread" value="([^"]*)"/.exec(page?.text ?? "")?.[1] ?? "";
  for (let at = 1; !isOver(); at++) {
    const send = randomUUID();
    // The same until it is acknowledged, as a browser sends it.
    for (let again = 0; again < 20; again++) {
      const form = new FormData();
      for (const [name, value] of Object.entries({ send, thread, post: `Post ${at} of the soak` }))
        form.set(name, value);
      const answer = await ask(path, { cookie, method: "POST", body: form, wanted: [303] });
      if (answer) {
        posted.add(send);
        break;
      }
      await pause(1000);
    }
    await pause(1000);
  }
}

async function publisher(courseId) {
  const signIn = () =>
    fetch(`${here.url}/sign-in`, {
      method: "POST",
      redirect: "manual",
      headers: { origin: here.url },
      body: new URLSearchParams({ username: "coordinator", password }),
    });
  const cookie = ((await signIn()).headers.get("set-cookie") ?? "").split(";")[0];
  const api = `/api/courses/${courseId}`;
  const send = (path, body, wanted = [200]) =>
    ask(api + path, {
      cookie,
      wanted,
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify(body),
    });
  const [itemId] = Object.keys(JSON.parse((await ask(`${api}/plan`, { cookie })).text).plan.items);
  for (let at = 1; !isOver(); at++) {
    await pause(3000);
    const draft = await send("/draft", {
      commands: [{ id: randomUUID(), kind: "item.change", itemId, fields: { title: `Title ${at}` } }],
    });
    const plan = draft && (await ask(`${api}/plan`, { cookie }));
    if (!plan) continue;
    const body = {
      publicationId: randomUUID(),
      revision: JSON.parse(plan.text).revision,
      version: JSON.parse(draft.text).version,
    };
    for (let again = 0; again < 20; again++) {
      // Published already, where the answer to the first time was lost: then what is drafted is no more.
      const answer = await send("/publish", body, [200, 409]);
      if (answer?.status === 200) published.add(body.publicationId);
      if (answer) break;
      await pause(1000);
    }
  }
}

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
    say(`${Math.round((until - Date.now()) / 60_000)} minutes to go, ${seen.answers} answers, ${memory()} MB: ${name}`);
    isFault = true;
    await work();
    faultUntil = Date.now() + settling;
    isFault = false;
  }
}

const one = async (sql, given) => Number(Object.values((await database.query(sql, [given]))[0][0] ?? {})[0] ?? 0);
/** What was acknowledged and is not there, or is there twice. */
async function lost() {
  const said = [];
  for (const [what, ids, sql] of [
    ["posts", posted, "SELECT COUNT(*) FROM posts WHERE id IN (?)"],
    ["publications", published, "SELECT COUNT(*) FROM publications WHERE id IN (?)"],
  ]) {
    const there = ids.size === 0 ? 0 : await one(sql, [...ids]);
    if (there !== ids.size)
      said.push(`${ids.size - there} of ${ids.size} ${what} that were acknowledged are not there`);
  }
  const doubled =
    "SELECT COUNT(*) FROM (SELECT body FROM posts WHERE body LIKE ? GROUP BY person_id, body HAVING COUNT(*) > 1) d";
  const twice = await one(doubled, "%of the soak%");
  if (twice > 0) said.push(`${twice} posts are there twice`);
  return said;
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
    ...reading.map(reader),
    ...writing.map((one) => writer(one, talk.id)),
    publisher(course.id),
    breaker(),
  ]);
  const milliseconds = (share) => Math.round(seen.times.percentile(share) / 1000);
  const wrong = [...seen.wrong].map(([what, times]) => `${times} x ${what}`).concat(await lost());
  say(`${seen.answers} answers, ${seen.excused} that failed while something was away`);
  say(`p50 ${milliseconds(50)} ms, p99 ${milliseconds(99)} ms, the longest ${Math.round(seen.times.max / 1000)} ms`);
  say(`Memory of the application, every half minute: ${memories.join(", ")} MB`);
  say(`${posted.size} posts and ${published.size} publications were acknowledged, and are there once`);
  say(wrong.length === 0 ? "Nothing was wrong" : `Wrong:\n  ${wrong.join("\n  ")}`);
  code = wrong.length === 0 ? 0 : 1;
} finally {
  await database.end().catch(() => {});
  await here.stop();
}
process.exit(code);
