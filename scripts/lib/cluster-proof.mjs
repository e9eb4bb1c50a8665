/**
 * The proof of a cluster: students and a coordinator at work through the proxy while each node and each process is killed, held
 * and cut off in turn, and while all processes are started anew over one more migration. Counted is what failed, was lost,
 * doubled or read stale, and whether the nodes hold the same at the end.
 */
import { randomUUID } from "node:crypto";
import { cpSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import {
  ask,
  chooser,
  createLoad,
  lost,
  marker,
  publish,
  publisher,
  reader,
  sayLoad,
  signIn,
  writer,
} from "./load.mjs";
import { pause, root, runScript, say } from "./machine.mjs";
import { openSessions } from "./sessions.mjs";

/** Milliseconds: how long a thing is away; how long afterwards what fails may be of that; and between two pages of a reader. */
const [away, settling, pace] = [12_000, 8000, 8000];

const faultsOfNode = (node) => [
  {
    says: `${node.name} is killed`,
    async work() {
      await node.kill();
      await pause(away / 2);
      await node.start();
    },
  },
  {
    says: `${node.name} is held`,
    async work() {
      node.signal("SIGSTOP");
      await pause(away);
      node.signal("SIGCONT");
    },
  },
  {
    says: `${node.name} is cut off from the others`,
    async work() {
      await node.ask("SET GLOBAL wsrep_provider_options = 'gmcast.isolate=1'");
      await pause(away);
      await node.ask("SET GLOBAL wsrep_provider_options = 'gmcast.isolate=0'");
    },
  },
];
const faultsOfProcess = (process, at) => [
  {
    says: `process ${at + 1} is killed`,
    async work() {
      await process.kill();
      await pause(away / 4);
      await process.start();
    },
  },
  {
    says: `process ${at + 1} is held`,
    async work() {
      process.signal("SIGSTOP");
      await pause(away / 2);
      process.signal("SIGCONT");
    },
  },
];

/** One more migration, and every process started anew. */
const rolling = ({ processes }, urls) => ({
  says: "every process is started anew over one more migration",
  async work() {
    const folder = mkdtempSync(join(tmpdir(), "amber-migrations-"));
    try {
      cpSync(join(root, "database"), folder, { recursive: true });
      writeFileSync(join(folder, "9999_proof.sql"), "ALTER TABLE courses ADD COLUMN proof INT NULL;\n");
      await runScript("scripts/lib/migrate-folder.ts", [folder], { AMBER_DATABASE_URL: urls.join(" ") });
      for (const process of processes) {
        await process.stop();
        await process.start();
        // Until the proxy asks it again.
        await pause(away / 4);
      }
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  },
});

/** A thread that all see, groups that they choose from, and work that is marked; published before anything is taken away. */
async function makeCourse(load, staff) {
  const { plan } = JSON.parse((await ask(load, `/api/courses/${staff.courseId}/plan`, { cookie: staff.cookie })).text);
  const someItem = Object.values(plan.items).find(({ kind }) => kind === "assignment");
  const like = {
    ...someItem,
    parentId: null,
    published: true,
    audience: { to: "everyone", minus: [] },
    condition: null,
  };
  const plain = { variants: [], split: null, combines: [], leadHandsIn: false, quiz: null, file: null, dates: {} };
  const talk = {
    ...like,
    ...plain,
    id: randomUUID(),
    position: 1_000_000,
    kind: "discussion",
    title: "Talk",
    points: null,
  };
  const work = {
    ...like,
    ...plain,
    id: randomUUID(),
    position: 1_000_001,
    kind: "assignment",
    title: "Work",
    points: 20,
  };
  const layer = {
    ...{ id: randomUUID(), position: 100, name: "Boats", rule: "at most one", private: false, following: null },
    ...{ keepApart: [], forming: null, selfPlacement: null, archivedAt: null },
  };
  const groups = Array.from({ length: 10 }, (_, at) => ({
    ...{
      id: randomUUID(),
      layerId: layer.id,
      position: at,
      name: `Boat ${at}`,
      label: `Boat ${at}`,
      min: null,
      max: null,
    },
    ...{
      stripe: { colour: at, pattern: 0, mark: `B${at}` },
      description: "",
      leads: [],
      scopeGroupId: null,
      code: null,
    },
    ...{ pattern: [], noClassDays: [], moved: [], added: [], archivedAt: null, page: null },
  }));
  const selfPlacement = { opens: null, closes: null, by: "choice", help: "", showNames: false };
  const commands = [
    { kind: "item.add", item: talk },
    { kind: "item.add", item: work },
    { kind: "layer.add", layer },
    ...groups.map((group) => ({ kind: "group.add", group })),
    { kind: "layer.selfPlacement", layerId: layer.id, selfPlacement },
  ].map((command) => ({ id: randomUUID(), ...command }));
  if ((await publish(load, staff, commands)) === null)
    throw new Error(`The course was not made: ${[...load.seen.wrong.keys()].join("; ")}`);
  return { talkId: talk.id, workId: work.id, groupIds: groups.map(({ id }) => id) };
}

/** Sums of every table on every node; null where they are the same. */
async function difference(nodes) {
  const sums = await Promise.all(
    nodes.map(async (node) => {
      const tables = await node.ask(
        "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = 'amber' ORDER BY table_name",
      );
      const rows = await node.ask(`CHECKSUM TABLE ${tables.map(({ name }) => `amber.${name}`).join(", ")}`);
      return rows.map(({ Table, Checksum }) => `${Table} ${Checksum}`);
    }),
  );
  const [first, ...others] = sums;
  const differing = first.filter((line, at) => others.some((other) => other[at] !== line));
  return differing.length === 0 ? null : `Tables differ between the nodes: ${differing.join(", ")}`;
}

/** As many as there are students: most read, some post, choose groups, and their work is marked. */
async function everybody(load, { pool, students, staff, course }) {
  const sessions = await openSessions(pool, `WSH ${students}`, students);
  const few = Math.max(2, Math.round(students / 10));
  const [people] = await pool.query("SELECT id, sourced_id AS sourcedId FROM people WHERE course_id = ?", [
    staff.courseId,
  ]);
  const idOf = new Map(people.map(({ id, sourcedId }) => [sourcedId, id]));
  const withIds = sessions.map((one) => ({ ...one, personId: idOf.get(one.sourcedId) }));
  const [posting, choosing] = [0, 1].map((at) => withIds.slice(at * few, at * few + few));
  const rest = withIds.slice(2 * few);
  const marked = rest.slice(0, 5);
  say(`${rest.length} read, ${few} post, ${few} choose groups, ${marked.length} are marked, one coordinator publishes`);
  return [
    ...rest.map((one) => reader(load, one)),
    ...posting.map((one) => writer(load, one, course.talkId)),
    ...choosing.map((one) => chooser(load, one, course.groupIds)),
    ...marked.map(({ personId }) => marker(load, staff, { itemId: course.workId, personId })),
    publisher(load, staff),
  ];
}

/** Gives whether the proof holds; what came of it is told. `isShort`: one fault of each kind. */
export async function proveCluster({ cluster, application, students, isShort = false }) {
  const { default: mysql } = await import("mysql2/promise");
  const state = { isOver: false, isBreaking: false, faultUntil: 0 };
  const load = createLoad({
    ...{ url: application.address, pace, looksBack: true, isOver: () => state.isOver },
    isFault: () => state.isBreaking || Date.now() < state.faultUntil,
  });
  const pool = mysql.createPool({ uri: cluster.urls[0], connectionLimit: 2 });
  const query = async (sql, values) => (await pool.query(sql, values))[0];
  try {
    const [{ id: courseId }] = await query("SELECT id FROM courses WHERE code = ?", [`WSH ${students}`]);
    const staff = { courseId, cookie: await signIn(load, "coordinator") };
    const course = await makeCourse(load, staff);
    // What is asked for the first time takes longer: it is no measure.
    state.faultUntil = Date.now() + 2 * settling;
    const all = Promise.all(await everybody(load, { pool, students, staff, course }));
    const nodes = cluster.nodes.flatMap(faultsOfNode);
    const processes = application.processes.flatMap(faultsOfProcess);
    const faults = isShort ? [nodes[0], nodes[2], processes[0]] : [...nodes, ...processes];
    for (const { says, work } of [...faults, rolling(application, cluster.urls)]) {
      await pause(settling);
      say(`${load.seen.answers.toLocaleString("en-GB")} requests so far: ${says}`);
      state.isBreaking = true;
      await work();
      await cluster.untilAllAreIn();
      state.faultUntil = Date.now() + settling;
      state.isBreaking = false;
    }
    await pause(2 * settling);
    state.isOver = true;
    await all;
    const wrong = [...load.seen.wrong, ...load.seen.stale].map(([what, times]) => `${times} x ${what}`);
    wrong.push(...(await lost(load, query, { itemId: course.workId, groupIds: course.groupIds })));
    const differs = await difference(cluster.nodes);
    if (differs) wrong.push(differs);
    for (const line of sayLoad(load)) say(line);
    say(
      wrong.length === 0
        ? "Nothing was wrong, lost or doubled, and the nodes hold the same"
        : `Wrong:\n  ${wrong.join("\n  ")}`,
    );
    return wrong.length === 0;
  } finally {
    await pool.end().catch(() => {});
  }
}
