/**
 * 2,000 open pages of students and 50 open workbenches on one process: how long a page waits that asks whether it is as things are,
 * how soon a publication has reached every workbench, and what memory the process holds.
 */
import { randomUUID } from "node:crypto";
import { readFileSync, writeFileSync } from "node:fs";
import { createConnection } from "mysql2/promise";
import { createLoad, publish, signIn } from "../scripts/lib/load.mjs";
import { pause } from "../scripts/lib/machine.mjs";
import { openSessions } from "../scripts/lib/sessions.mjs";
import { startForTests } from "../scripts/lib/tests.mjs";

// A small pass shows that it still runs.
const isQuick = process.env.AMBER_BENCH === "quick";
const [students, workbenches, rounds] = isQuick ? [40, 3, 1] : [2000, 50, 3];
/** A page asks once a minute; so long is listened in each round. */
const [minute, roundMs] = [60_000, isQuick ? 1000 : 15_000];

const application = await startForTests("bench-listening", {
  checks: false,
  firstPort: 4920,
  load: ["demo/load-large.ts", "--students", String(students), "--items", "100"],
});
const database = await createConnection(application.databaseUrl);
const memory = () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${application.pid}/status`, "utf8"))[1]) / 1000;
const at = (times, share) =>
  [...times].sort((a, b) => a - b)[Math.min(times.length - 1, Math.floor(times.length * share))];

/** Every open page asks at a time of its own; gives how long each waited. */
async function askAll(pages) {
  const times = [];
  const between = minute / pages.length;
  const asked = [];
  const begun = performance.now();
  for (let turn = 0; turn * between < roundMs; turn++) {
    await pause(Math.max(0, begun + turn * between - performance.now()));
    const { courseId, cookie } = pages[turn % pages.length];
    const started = performance.now();
    asked.push(
      fetch(`${application.url}/course/${courseId}/fresh`, { headers: { cookie } }).then(async (answer) => {
        await answer.json();
        times.push(performance.now() - started);
      }),
    );
  }
  await Promise.all(asked);
  return times;
}

/** A workbench that listens; `newest()` is the revision that it was told last, and when. */
async function listen({ courseId, cookie }) {
  const ending = new AbortController();
  const answer = await fetch(`${application.url}/api/courses/${courseId}/live?station=placement`, {
    headers: { cookie },
    signal: ending.signal,
  });
  let told = { revision: 0, at: 0 };
  const read = async () => {
    let text = "";
    for await (const chunk of answer.body.pipeThrough(new TextDecoderStream())) {
      text += chunk;
      for (const [, revision] of text.matchAll(/"revision":(\d+)/g))
        if (Number(revision) > told.revision) told = { revision: Number(revision), at: performance.now() };
      text = text.slice(text.lastIndexOf("\n\n") + 2);
    }
  };
  read().catch(() => {});
  return { newest: () => told, end: () => ending.abort() };
}

/** Milliseconds from a publication's answer until the last workbench knew of it. */
async function reachAll(load, staff, listeners) {
  const id = randomUUID();
  const layer = {
    ...{ id, position: 100, name: `Layer ${id.slice(0, 8)}`, rule: "at most one", private: false, following: null },
    ...{ keepApart: [], forming: null, selfPlacement: null, archivedAt: null },
  };
  const revision = await publish(load, staff, [{ id: randomUUID(), kind: "layer.add", layer }]);
  if (revision === null) throw new Error(`Nothing was published: ${[...load.seen.wrong.keys()].join("; ")}`);
  const answered = performance.now();
  for (const until = answered + 30_000; performance.now() < until; await pause(20))
    if (listeners.every((one) => one.newest().revision >= revision))
      return Math.max(...listeners.map((one) => one.newest().at)) - answered;
  throw new Error("A workbench was not told of a publication within 30 s");
}

try {
  const load = createLoad({ url: application.url, isOver: () => false, isFault: () => false });
  const pages = await openSessions(database, `WSH ${students}`, students);
  const [{ courseId }] = pages;
  const staff = { courseId, cookie: await signIn(load, "coordinator") };
  await askAll(pages);
  const [alone, beside, told] = [[], [], []];
  const before = memory();
  for (let round = 0; round < rounds; round++) {
    alone.push(...(await askAll(pages)));
    const listeners = await Promise.all(Array.from({ length: workbenches }, () => listen(staff)));
    // The first that a listener is told is how things are.
    await pause(isQuick ? 300 : 3000);
    beside.push(...(await askAll(pages)));
    told.push(await reachAll(load, staff, listeners));
    if (round === rounds - 1)
      console.log(`Memory of the process: ${Math.round(before)} MB, with all of them open ${Math.round(memory())} MB`);
    for (const one of listeners) one.end();
    await pause(1000);
  }
  const note = `${students.toLocaleString("en-GB")} open pages, ${workbenches} open workbenches, one process`;
  const row = (name, ours, milliseconds, what, kind = "floor") => ({
    ...{ name, note, ours, memory: Math.round(memory()) },
    against: [{ name: what, milliseconds, kind }],
  });
  writeFileSync(
    process.argv[3],
    JSON.stringify([
      row("A page asks whether it is fresh, median", at(beside, 0.5), at(alone, 0.5), "with no workbench open"),
      row(
        "A page asks whether it is fresh, 99 of 100 sooner",
        at(beside, 0.99),
        at(alone, 0.99),
        "with no workbench open",
      ),
      row("A publication has reached every workbench", at(told, 0.5), 2000, "2 s: asked once a second, and once more"),
    ]),
  );
} finally {
  await database.end();
  await application.stop();
}
process.exit(0);
