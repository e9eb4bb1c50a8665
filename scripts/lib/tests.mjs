/** The application with a database of its own, for end-to-end tests, screenshots and benches in the browser. */
import { spawn } from "node:child_process";
import { createWriteStream, rmSync } from "node:fs";
import { join } from "node:path";
import { startDatabase } from "./database.mjs";
import { startIdentity } from "./identity.mjs";
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
import { startRegistrar } from "./registrar.mjs";

/** The moment of every test and screenshot: Wednesday of the ninth week. */
export const testNow = "2026-11-25T10:00:00Z";

/** A fresh database in .data/NAME with the demo in it, and the built application on it; `checks`: answers of the API are held against its contract; `settings` of the environment; the program of Node.js. */
export async function startForTests(
  name,
  {
    firstPort = 4331,
    load = ["demo/load.ts"],
    clock = testNow,
    checks = true,
    settings = {},
    node = process.execPath,
  } = {},
) {
  const entry = await ensureBuild();
  const folder = join(dataFolder, name);
  rmSync(folder, { recursive: true, force: true });
  makeFolder(folder);
  const database = await startDatabase(folder, 33160);
  const running = [];
  const stop = async () => {
    for (const one of running.reverse()) await one();
  };
  running.push(database.stop);
  const env = {
    AMBER_CHECK_ANSWERS: checks ? "1" : "0",
    AMBER_DATABASE_URL: database.url,
    AMBER_DATABASE_FOLDER: folder,
    // Tests store little, also where there is little room.
    AMBER_DISK_RESERVE_MB: "50",
    ...settings,
    ...(clock ? { AMBER_NOW: clock } : {}),
  };
  try {
    await runScript(load[0], load.slice(1), env);
    const port = await freePort(firstPort);
    const url = `http://127.0.0.1:${port}`;
    const registrar = await startRegistrar(folder, firstPort + 1000);
    running.push(registrar.stop);
    const post = await startPostOffice(folder, firstPort + 2000);
    running.push(post.stop);
    const identity = await startIdentity(url, firstPort + 3000);
    running.push(identity.stop);
    const services = { ...registrar.env, ...post.env, ...identity.env };
    // What a test says of the services is meant.
    const serving = { entry, folder, node, env: { ...services, ...env } };
    const { pid, stop: end } = await serve({ ...serving, port });
    running.push(end);
    /** One more process of the application on the same database, which has read nothing yet. */
    const another = async () => serve({ ...serving, port: await freePort(firstPort + 1) });
    const addresses = { registrarUrl: registrar.url, postUrl: post.url, identityUrl: identity.url };
    const smtpUrl = post.env.AMBER_SMTP_URL;
    return { url, databaseUrl: database.url, ...addresses, smtpUrl, pid, another, stop };
  } catch (error) {
    await stop();
    throw error;
  }
}

/** One process of the application, once it answers. */
async function serve({ entry, folder, node, env, port }) {
  const url = `http://127.0.0.1:${port}`;
  const log = createWriteStream(join(folder, "application.log"), { flags: "a" });
  const own = { HOST: "127.0.0.1", PORT: String(port), AMBER_ADDRESS: url, NODE_ENV: "production" };
  const child = spawn(node, [serveScript, entry], {
    cwd: root,
    env: { ...process.env, ...env, ...own },
    stdio: ["ignore", "pipe", "pipe"],
  });
  child.stdout.pipe(log);
  child.stderr.pipe(log);
  const stop = () => endProcess(child.pid);
  try {
    await answers(url, child, folder);
  } catch (error) {
    await stop();
    throw error;
  }
  return { url, pid: child.pid, stop };
}

/** Waits until the application answers. */
async function answers(url, child, folder) {
  for (const until = Date.now() + 180_000; ; await pause(100)) {
    if (
      await fetch(`${url}/sign-in`).then(
        (answer) => answer.ok,
        () => false,
      )
    )
      return;
    if (Date.now() > until || child.exitCode !== null)
      throw new Error(`The application did not start; see ${join(folder, "application.log")}`);
  }
}
