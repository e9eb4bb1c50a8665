/**
 * npm run dev: the application as its sources stand, with a database and stand-ins of its own in .data/dev. What is changed
 * under src is on the screen at once; a change of a migration or of demo data is there after a new start.
 */
import { spawn } from "node:child_process";
import { join } from "node:path";
import { startDatabase } from "./lib/database.mjs";
import { dataFolder, endProcess, ensureModules, freePort, makeFolder, root, runScript, say } from "./lib/machine.mjs";
import { startPostOffice } from "./lib/post-office.mjs";
import { startRegistrar } from "./lib/registrar.mjs";

await ensureModules();
const { watchThreads } = await import("./lib/threads.mjs");
const folder = join(dataFolder, "dev");
makeFolder(folder);
const port = await freePort(Number(process.env.AMBER_PORT ?? 4322));
const database = await startDatabase(folder, 33560);
await runScript("demo/load.ts", [], { AMBER_DATABASE_URL: database.url });
const registrar = await startRegistrar(folder, port + 1);
const post = await startPostOffice(folder, port + 2);
const threadsFile = join(folder, "threads.mjs");
const threads = await watchThreads(threadsFile);
const child = spawn(join(root, "node_modules/.bin/astro"), ["dev", "--host", "127.0.0.1", "--port", String(port)], {
  cwd: root,
  stdio: "inherit",
  env: {
    ...process.env,
    ...registrar.env,
    ...post.env,
    AMBER_DATABASE_URL: database.url,
    AMBER_THREADS_FILE: threadsFile,
    AMBER_ADDRESS: `http://127.0.0.1:${port}`,
    ASTRO_TELEMETRY_DISABLED: "1",
  },
});
say(`\nhttp://127.0.0.1:${port}: sign in as coordinator, password tarnbeck. Ctrl-C stops it.\n`);

let isStopping = false;
async function stop(code) {
  if (isStopping) return;
  isStopping = true;
  await endProcess(child.pid);
  await threads.dispose();
  await post.stop();
  await registrar.stop();
  await database.stop();
  process.exit(code);
}
child.once("exit", (code) => void stop(code ?? 1));
for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"]) process.on(signal, () => void stop(0));
