/**
 * npm run cluster: three nodes of the database, three processes of the application and nginx before them, all on this machine,
 * with the demo. Each process asks a node of its own first, and the others where that one is away. Ctrl-C stops all of it; what
 * was done in it goes.
 *
 * npm run cluster -- --test [--students 200]: the same, at work, while each node and each process is killed, held and cut off
 * in turn, and all processes are started anew over one more migration. Ends with 1 where anything acknowledged is lost, doubled
 * or read stale, or where the nodes differ at the end.
 */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { makeCluster } from "./lib/cluster.mjs";
import { makeApplication } from "./lib/cluster-application.mjs";
import { proveCluster } from "./lib/cluster-proof.mjs";
import { ensureBuild, ensureModules, root, runScript, Stop, say } from "./lib/machine.mjs";
import { numbersGiven } from "./lib/numbers.mjs";

const isTest = process.argv.includes("--test");
/** One fault of each kind, for CI. */
const isShort = process.argv.includes("--short");
const given = process.argv.slice(2).filter((word) => word !== "--test" && word !== "--short");
const { students } = numbersGiven("npm run cluster -- --test", { students: 200 }, given);

const stops = [];
let isStopping = false;
async function stopAll(code) {
  if (isStopping) return;
  isStopping = true;
  for (const stop of stops.reverse()) await stop();
  process.exit(code);
}

async function start() {
  await ensureModules();
  const entry = await ensureBuild();
  const cluster = await makeCluster();
  stops.push(cluster.stop);
  await cluster.start();
  const url = { AMBER_DATABASE_URL: cluster.urls.join(" ") };
  if (isTest) await runScript("demo/load-large.ts", ["--students", String(students), "--items", "60"], url);
  else await runScript("demo/load.ts", [], url);
  const firstPort = Number(process.env.AMBER_PORT ?? 4600);
  const application = await makeApplication({ entry, urls: cluster.urls, firstPort });
  stops.push(application.stop);
  await application.start();
  return { cluster, application };
}

function sayWhere({ cluster, application: { address, processes } }) {
  const { password, accounts } = JSON.parse(readFileSync(join(root, "demo/sign-ins.json"), "utf8"));
  say(
    `\nAmber Weave is at ${address}, by the processes at ${processes.map(({ port }) => `127.0.0.1:${port}`).join(", ")}`,
  );
  for (const { name, url, pid } of cluster.nodes) say(`  ${name}: ${new URL(url).host}, process ${pid()}`);
  say(`\n  ${accounts.map(({ username }) => username).join(", ")}; password ${password}\n\nCtrl-C stops it.\n`);
}

for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"]) process.on(signal, () => stopAll(0));
start()
  .then(async (running) => {
    if (isTest) await stopAll((await proveCluster({ ...running, students, isShort })) ? 0 : 1);
    else sayWhere(running);
  })
  .catch(async (error) => {
    if (isStopping) return;
    console.error(error instanceof Stop ? `\n${error.message}\n` : error);
    await stopAll(1);
  });
