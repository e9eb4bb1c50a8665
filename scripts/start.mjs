/**
 * npm start: installs what is missing, builds, starts the database and the application, and stops both. With --empty (or
 * AMBER_DEMO=off) it is an institution's own, without made-up data; --set-up FILE sets it up by a JSON file.
 */
import { spawn } from "node:child_process";
import { closeSync, existsSync, openSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { startDatabase } from "./lib/database.mjs";
import { startIdentity } from "./lib/identity.mjs";
import {
  commandLine,
  dataFolder,
  endProcess,
  ensureBuild,
  ensureModules,
  isFree,
  makeFolder,
  pause,
  root,
  runScript,
  Stop,
  say,
  serveScript,
} from "./lib/machine.mjs";
import { startPostOffice } from "./lib/post-office.mjs";
import { startRegistrar } from "./lib/registrar.mjs";

const port = Number(process.env.AMBER_PORT ?? 4321);
const address = `http://127.0.0.1:${port}`;
const fresh = process.argv.includes("--fresh");
const isEmpty = process.argv.includes("--empty") || process.env.AMBER_DEMO === "off";
const setUpFile = process.argv[process.argv.indexOf("--set-up") + 1 || process.argv.length];
/** An institution's data are kept apart from the demo's. */
const folder = isEmpty ? join(dataFolder, "institution") : dataFolder;
const lockFile = join(folder, "running.json");
/** What to stop, in order, last started first. */
const running = [];
/** Port of our own database, for npm run demo:large. */
let databasePort = null;
let stopping = false;

async function takeLock() {
  makeFolder(folder);
  for (;;) {
    try {
      const file = openSync(lockFile, "wx");
      writeFileSync(file, JSON.stringify({ pid: process.pid, port }));
      closeSync(file);
      return;
    } catch (error) {
      if (error.code !== "EEXIST") throw error;
    }
    let other = {};
    try {
      other = JSON.parse(readFileSync(lockFile, "utf8"));
    } catch {
      // A lock that was half written belongs to nobody.
    }
    if (other.pid && commandLine(other.pid)?.includes("start.mjs")) {
      throw new Stop(
        `Amber Weave is already running at http://127.0.0.1:${other.port} (process ${other.pid}). Use it there, or stop it with Ctrl-C first.`,
      );
    }
    if (other.server && commandLine(other.server)?.includes("server/entry.mjs")) {
      say("Stopping an application that an earlier start left running");
      await endProcess(other.server);
    }
    rmSync(lockFile, { force: true });
  }
}

async function stopAll(code) {
  if (stopping) return;
  stopping = true;
  say("Stopping");
  for (const { name, stop } of running.reverse()) {
    await stop().catch((error) => say(`${name} did not stop cleanly: ${error.message}`));
  }
  rmSync(lockFile, { force: true });
  process.exit(code);
}

async function readableLogs(stream) {
  const { default: pretty } = await import("pino-pretty");
  stream.pipe(
    pretty({
      ignore: "pid,hostname,method,path,status,ms",
      messageFormat: "{msg} {method} {path} {status} {ms} ms",
      translateTime: "HH:MM:ss",
    }),
  );
}

/** `services`: what the application is told of by its environment. */
function startApplication(entry, url, services) {
  const child = spawn(process.execPath, [serveScript, entry], {
    cwd: root,
    env: {
      ...process.env,
      ...Object.assign({}, ...services.map(({ env }) => env)),
      AMBER_DATABASE_URL: url,
      // A database of our own fills our own disk.
      ...(databasePort ? { AMBER_DATABASE_FOLDER: folder } : {}),
      AMBER_ADDRESS: process.env.AMBER_ADDRESS ?? address,
      HOST: "127.0.0.1",
      PORT: String(port),
      NODE_ENV: "production",
    },
    stdio: ["ignore", "pipe", "inherit"],
    detached: true,
  });
  writeFileSync(lockFile, JSON.stringify({ pid: process.pid, port, server: child.pid, database: databasePort }));
  running.push({ name: "The application", stop: () => endProcess(child.pid) });
  child.once("exit", (code) => {
    if (stopping) return;
    say(`The application ended by itself (exit ${code}). Its last lines are above. Start it again with npm start.`);
    stopAll(1);
  });
  return child;
}

async function waitFor(child) {
  for (const until = Date.now() + 180_000; Date.now() < until && child.exitCode === null; await pause(100)) {
    if (
      await fetch(`${address}/sign-in`).then(
        (answer) => answer.ok,
        () => false,
      )
    )
      return;
  }
  throw new Stop("The application did not answer within 30 seconds.");
}

async function ownDatabase() {
  if (process.env.AMBER_DATABASE_URL) {
    say("Using the database server that AMBER_DATABASE_URL names");
    return process.env.AMBER_DATABASE_URL;
  }
  if (fresh && existsSync(join(folder, "mariadb"))) {
    say("Starting over: removing the database of earlier starts");
    // A leftover server would hold the folder; starting once stops it, so the folder is only removed after that.
    const leftover = Number(
      existsSync(join(folder, "mariadb.pid")) ? readFileSync(join(folder, "mariadb.pid"), "utf8") : 0,
    );
    if (leftover && commandLine(leftover)?.includes(join(folder, "mariadb"))) await endProcess(leftover, 60_000);
    rmSync(join(folder, "mariadb"), { recursive: true, force: true });
  }
  say("Starting the database");
  const database = await startDatabase(folder, 33060);
  databasePort = database.port;
  running.push({ name: "The database", stop: database.stop });
  database.ended.then(() => {
    if (stopping) return;
    say(
      `The database ended by itself; nothing that was saved is lost. Its log is ${join(folder, "mariadb.log")}. Start again with npm start.`,
    );
    stopAll(1);
  });
  return database.url;
}

/** The institution's registrar, or with the demo the stand-in that ships. */
async function registrarService() {
  if (isEmpty || process.env.AMBER_REGISTRAR_URL) return { url: null, env: {} };
  if (fresh) rmSync(join(folder, "registrar.json"), { force: true });
  const registrar = await startRegistrar(folder, port + 1);
  running.push({ name: "The registrar stand-in", stop: registrar.stop });
  return registrar;
}

/** The institution's mail server, or with the demo the post office that ships. */
async function mailService() {
  if (isEmpty || process.env.AMBER_SMTP_URL) return { url: null, env: {} };
  if (fresh) rmSync(join(folder, "post.jsonl"), { force: true });
  const post = await startPostOffice(folder, port + 2);
  running.push({ name: "The post office", stop: post.stop });
  return post;
}

/** The institution's identity providers, or with the demo the stand-in that ships. */
async function identityService() {
  if (isEmpty || process.env.AMBER_IDENTITY_PROVIDERS) return { url: null, env: {} };
  const identity = await startIdentity(process.env.AMBER_ADDRESS ?? address, port + 4);
  running.push({ name: "The identity provider", stop: identity.stop });
  return identity;
}

async function main() {
  const [major, minor] = process.versions.node.split(".").map(Number);
  if (major < 20 || (major === 20 && minor < 11))
    throw new Stop(`Node.js 20.11 or newer is needed; this is ${process.version}.`);
  await takeLock();
  if (!(await isFree(port)))
    throw new Stop(
      `Port ${port} on 127.0.0.1 is taken by another program. Stop that one, or choose a port: AMBER_PORT=4400 npm start`,
    );
  await ensureModules();
  const entry = await ensureBuild();
  const url = await ownDatabase();
  const environment = { AMBER_DATABASE_URL: url, AMBER_ADDRESS: process.env.AMBER_ADDRESS ?? address };
  if (isEmpty) await runScript("src/server/institution/prepare.ts", setUpFile ? [setUpFile] : [], environment);
  else await runScript("demo/load.ts", [], environment);
  say("Starting the application");
  const registrar = await registrarService();
  const post = await mailService();
  const identity = await identityService();
  const child = startApplication(entry, url, [registrar, post, identity]);
  await waitFor(child);
  say(`\nAmber Weave is at ${address}\n`);
  if (isEmpty) sayWhatIsMissing();
  else sayDemo({ registrar, post, identity });
  say("Ctrl-C stops it.\n");
  await readableLogs(child.stdout);
}

/** What an institution most likely wants and has not named. */
function sayWhatIsMissing() {
  if (!process.env.AMBER_SMTP_URL) say("No mail server is named (AMBER_SMTP_URL): letters wait until one is.");
  if (!process.env.AMBER_REGISTRAR_URL)
    say("No registrar's service is named (AMBER_REGISTRAR_URL): rosters come as files.");
  say("docs/operating.md lists what can be named.\n");
}

/** Whom one signs in as, and where the stand-ins are. */
function sayDemo({ registrar, post, identity }) {
  const signIns = JSON.parse(readFileSync(join(root, "demo/sign-ins.json"), "utf8"));
  for (const { username, what } of signIns.accounts) say(`  ${username.padEnd(18)} ${what}`);
  say(`\n  password for all: ${signIns.password}\n`);
  if (registrar.url) say(`The registrar stand-in is at ${registrar.url}\n`);
  if (post.url) say(`The post office, where letters arrive, is at ${post.url}\n`);
  if (identity.url) say(`The identity provider is a stand-in at ${identity.url}: the same usernames and password\n`);
}

for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"]) process.on(signal, () => stopAll(0));
main().catch(async (error) => {
  if (stopping) return;
  console.error(error instanceof Stop ? `\n${error.message}\n` : error);
  // A lock that another start holds stays with it.
  const ours = existsSync(lockFile) && readFileSync(lockFile, "utf8").includes(`"pid":${process.pid}`);
  if (ours) await stopAll(1);
  else process.exit(1);
});
