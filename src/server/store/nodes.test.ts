/** Several nodes: a real cluster of three, of which some are killed, held and cut off while it is written and read. */
import mysql from "mysql2/promise";
import { afterAll, beforeAll, expect, test } from "vitest";
import { makeCluster } from "../../../scripts/lib/cluster.mjs";
import { closeDatabase, isDatabaseAway, rows, run, transaction } from "./database.ts";

type Cluster = Awaited<ReturnType<typeof makeCluster>>;
let cluster: Cluster;
const alone = process.env.AMBER_DATABASE_URL;

beforeAll(async () => {
  cluster = await makeCluster();
  await cluster.start();
  process.env.AMBER_DATABASE_URL = cluster.urls.join(" ");
  await run("CREATE TABLE kept (id INT NOT NULL PRIMARY KEY, writer INT NOT NULL) ENGINE = InnoDB", []);
  await run("CREATE TABLE sums (writer INT NOT NULL PRIMARY KEY, count INT NOT NULL) ENGINE = InnoDB", []);
});
afterAll(async () => {
  await closeDatabase();
  process.env.AMBER_DATABASE_URL = alone;
  await cluster?.stop();
});

let next = 1;
/** Writers go on until they are stopped, each write in a transaction with its sum, and read what they wrote. */
function startWriting() {
  const [acknowledged, failed, stale] = [new Set<number>(), [] as { id: number; error: unknown }[], [] as number[]];
  let isOver = false;
  const write = async (writer: number) => {
    await run("INSERT IGNORE INTO sums (writer, count) VALUES (?, 0)", [writer]);
    while (!isOver) {
      const id = next++;
      try {
        await transaction(async (connection) => {
          await run("INSERT INTO kept (id, writer) VALUES (?, ?)", [id, writer], connection);
          await run("UPDATE sums SET count = count + 1 WHERE writer = ?", [writer], connection);
        });
        acknowledged.add(id);
        if ((await rows("SELECT id FROM kept WHERE id = ?", [id])).length !== 1) stale.push(id);
      } catch (error) {
        failed.push({ id, error });
        await new Promise((resolve) => setTimeout(resolve, 50));
      }
    }
  };
  const all = Promise.all([1, 2, 3, 4].map(write));
  return {
    acknowledged,
    failed,
    stale,
    async stop() {
      isOver = true;
      await all;
    },
  };
}
/** Waits until more was written, by far, than was on its way. */
async function goesOn({ acknowledged }: ReturnType<typeof startWriting>) {
  const before = acknowledged.size;
  await expect.poll(() => acknowledged.size, { timeout: 90_000 }).toBeGreaterThan(before + 50);
}

/** What was acknowledged is there, with its sums; of what failed at most what was in flight is not known. */
async function expectKept({ acknowledged, failed, stale }: ReturnType<typeof startWriting>, inFlight: number) {
  const there = new Set((await rows<{ id: number }>("SELECT id FROM kept", [])).map(({ id }) => id));
  expect([...acknowledged].filter((id) => !there.has(id))).toEqual([]);
  expect(stale).toEqual([]);
  expect([failed.length <= inFlight, failed.map(({ error }) => String(error))]).toEqual([true, expect.anything()]);
  for (const { error } of failed) expect(isDatabaseAway(error)).toBe(true);
  const wrong = await rows(
    "SELECT s.writer FROM sums s LEFT JOIN kept k ON k.writer = s.writer GROUP BY s.writer, s.count HAVING COUNT(k.id) <> s.count",
    [],
  );
  expect(wrong).toEqual([]);
}

test("a node that is killed is passed over: nothing acknowledged is lost, nothing but what was in flight fails", async () => {
  await cluster.untilAllAreIn();
  const writing = startWriting();
  await goesOn(writing);
  await cluster.nodes[0]?.kill();
  await goesOn(writing);
  await cluster.nodes[0]?.start();
  await goesOn(writing);
  await writing.stop();
  // The node that fills it again is left, too.
  await expectKept(writing, 8);
});

test("what is written through one node gets through while another writes the same rows again and again", async () => {
  await cluster.untilAllAreIn();
  const rival = await mysql.createConnection(cluster.urls[2] ?? "");
  await run("REPLACE INTO sums (writer, count) VALUES (100, 0)", []);
  // Only reading waits for what was written through another node.
  await rival.query("SELECT count FROM sums");
  let [isOver, theirs] = [false, 0];
  const rivalry = (async () => {
    while (!isOver) {
      const done = rival.query("UPDATE sums SET count = count + 1 WHERE writer = 100");
      theirs += await done.then(
        () => 1,
        () => 0,
      );
      await new Promise((resolve) => setTimeout(resolve, 8));
    }
  })();
  const add = () =>
    transaction(async (connection) => {
      await rows("SELECT count FROM sums WHERE writer = 100 FOR UPDATE", [], connection);
      await new Promise((resolve) => setTimeout(resolve, 2));
      await run("UPDATE sums SET count = count + 1 WHERE writer = 100", [], connection);
    });
  let ours = 0;
  try {
    for (; theirs < 400; ours += 8) await Promise.all(Array.from({ length: 8 }, add));
  } finally {
    isOver = true;
    await rivalry;
    await rival.end();
  }
  const [sum] = await rows<{ count: number }>("SELECT count FROM sums WHERE writer = 100", []);
  await run("DELETE FROM sums WHERE writer = 100", []);
  expect(sum?.count).toBe(theirs + ours);
  expect(ours).toBeGreaterThan(20);
});

test("a node that is held is passed over once it is missed, and takes part again", async () => {
  await cluster.untilAllAreIn();
  const writing = startWriting();
  await goesOn(writing);
  // The one that is asked: the first was away.
  cluster.nodes[1]?.signal("SIGSTOP");
  await goesOn(writing);
  cluster.nodes[1]?.signal("SIGCONT");
  await goesOn(writing);
  await writing.stop();
  await expectKept(writing, 8);
});

test("a node that is killed while many connect to it is passed over by all of them", async () => {
  // The one that is asked is held: whoever comes now waits for a connection to it.
  await cluster.untilAllAreIn();
  const [first] = cluster.nodes;
  await expect
    .poll(async () => (await rows<{ name: string }>("SELECT @@wsrep_node_name AS name"))[0]?.name)
    .toBe("node-1");
  first?.signal("SIGSTOP");
  const all = Array.from({ length: 10 }, () => rows<{ name: string }>("SELECT @@wsrep_node_name AS name, SLEEP(0.1)"));
  // Until it is known to be away, with connections to it still begun.
  await new Promise((resolve) => setTimeout(resolve, 4300));
  await first?.kill();
  const answers = await Promise.all(all);
  expect(answers.map(([row]) => row?.name === "node-1")).toEqual(all.map(() => false));
  await first?.start();
});

test("what is left of the nodes without the others answers nothing wrong, and says that it is away", async () => {
  await cluster.untilAllAreIn();
  await cluster.nodes[0]?.kill();
  await cluster.nodes[1]?.kill();
  const asked = () => run("DELETE FROM kept", []).then(() => null, isDatabaseAway);
  await expect.poll(asked, { timeout: 60_000 }).toBe(true);
  // It stays so, and nothing was deleted on the one that is left.
  expect(await asked()).toBe(true);
});
