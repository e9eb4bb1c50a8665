/** An application and a database of its own that can be killed at any moment and started again on what they left. */
import { spawn } from "node:child_process";
import { rmSync } from "node:fs";
import { join } from "node:path";
import { startDatabase } from "./database.mjs";
import {
  dataFolder,
  endProcess,
  ensureBuild,
  freePort,
  makeFolder,
  pause,
  root,
  runScript,
  serveScript,
} from "./machine.mjs";
import { startPostOffice } from "./post-office.mjs";

const kill = async (pid, ended) => {
  try {
    process.kill(pid, "SIGKILL");
  } catch {
    // It is gone already.
  }
  await ended;
};

/** The demo, on ports from `firstPort`; `killApplication`, `killDatabase` and `start` may be called again and again. */
export async function startCrashing(name, firstPort, load = ["demo/load.ts"]) {
  const entry = await ensureBuild();
  const folder = join(dataFolder, name);
  rmSync(folder, { recursive: true, force: true });
  makeFolder(folder);
  let database = await startDatabase(folder, firstPort + 500);
  const databasePort = database.port;
  const { url: databaseUrl } = database;
  await runScript(load[0], load.slice(1), { AMBER_DATABASE_URL: databaseUrl });
  const post = await startPostOffice(folder, firstPort + 700);
  const port = await freePort(firstPort);
  const url = `http://127.0.0.1:${port}`;
  let application = null;

  async function startApplication() {
    const child = spawn(process.execPath, [serveScript, entry], {
      cwd: root,
      env: {
        ...process.env,
        ...post.env,
        AMBER_DATABASE_URL: databaseUrl,
        HOST: "127.0.0.1",
        PORT: String(port),
        NODE_ENV: "production",
      },
      stdio: "ignore",
    });
    application = { pid: child.pid, ended: new Promise((done) => child.once("exit", done)) };
    for (const until = Date.now() + 180_000; ; await pause(30)) {
      const answers = await fetch(`${url}/sign-in`).then(
        (answer) => answer.ok,
        () => false,
      );
      if (answers) return;
      if (Date.now() > until) throw new Error("The application did not start again.");
    }
  }
  await startApplication();
  return {
    url,
    databaseUrl,
    postUrl: post.url,
    pid: () => application.pid,
    killApplication: () => kill(application.pid, application.ended),
    killDatabase: () => kill(database.pid, database.ended),
    startApplication,
    async startDatabase() {
      database = await startDatabase(folder, databasePort);
      if (database.port !== databasePort) throw new Error("The database came back elsewhere.");
    },
    async stop() {
      await endProcess(application.pid);
      await post.stop();
      await database.stop();
    },
  };
}
