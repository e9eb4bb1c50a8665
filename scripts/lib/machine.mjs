/** What the commands need of the machine: programs, packages, child processes, and one way of saying things. */
import { spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { dirname, join, resolve } from "node:path";
import { fileURLToPath } from "node:url";
import { compressFolder } from "./compressed.mjs";

export const root = resolve(dirname(fileURLToPath(import.meta.url)), "../..");
/** Databases and locks. AMBER_DATA puts them elsewhere; builds stay in the checkout. */
export const dataFolder = process.env.AMBER_DATA ? resolve(process.env.AMBER_DATA) : join(root, ".data");
export const say = (line) => console.log(line);

/** Ends the command with an answer a person can act on. */
export class Stop extends Error {}

export const which = (program) =>
  ["/usr/sbin", "/usr/bin", "/usr/local/bin", "/usr/local/sbin", ...(process.env.PATH ?? "").split(":")]
    .map((folder) => join(folder, program))
    .find((path) => existsSync(path));

/** Runs a program to its end, its output shown; rejects when it fails. */
export function runProgram(program, args, options = {}) {
  return new Promise((done, failed) => {
    const child = spawn(program, args, { cwd: root, stdio: "inherit", ...options });
    child.on("error", failed);
    child.on("exit", (code, signal) =>
      code === 0 ? done() : failed(new Stop(`${[program, ...args].join(" ")} failed (${signal ?? `exit ${code}`}).`)),
    );
  });
}

/** A Debian package, installed when the program is missing: as root, or through sudo where that needs no password. */
export async function ensureProgram(program, debianPackage) {
  if (which(program)) return which(program);
  const isRoot = process.getuid?.() === 0;
  const sudo = !isRoot && spawnSync("sudo", ["-n", "true"]).status === 0 ? ["sudo", "-n"] : [];
  if (!which("apt-get") || (!isRoot && sudo.length === 0)) {
    throw new Stop(
      `${program} is missing, and this user may not install it. Ask for the Debian package ${debianPackage}:\n  apt-get install ${debianPackage}`,
    );
  }
  say(`Installing the Debian package ${debianPackage} (a minute or two)`);
  const apt = (...args) => {
    const [first, ...rest] = [...sudo, "env", "DEBIAN_FRONTEND=noninteractive", "apt-get", "-qq", ...args];
    return runProgram(first, rest, { stdio: ["ignore", "ignore", "inherit"] });
  };
  await apt("update");
  await apt("install", "-y", "--no-install-recommends", debianPackage);
  if (!which(program)) throw new Stop(`The package ${debianPackage} was installed, but ${program} is still missing.`);
  return which(program);
}

const browsers = ["chromium-headless-shell", "chromium"];
/** Debian's chromium for tests and pictures: the one without windows where it is installed, which is lighter. */
export const browserPath = () => browsers.map(which).find(Boolean) ?? null;

/** The same, installed where it is missing; releases of Debian without the lighter one have the other. */
export async function ensureBrowser() {
  const [light, whole] = browsers;
  if (which(light)) return which(light);
  try {
    return await ensureProgram(light, light);
  } catch {
    return ensureProgram(whole, whole);
  }
}

const digestOf = (text) => createHash("sha256").update(text).digest("hex");

/** `npm ci` in a folder when the lock file is not the one that node_modules was made from. */
export async function ensureModules(folder = root) {
  const wanted = digestOf(readFileSync(join(folder, "package-lock.json")));
  const stamp = join(folder, "node_modules", ".amber-lock");
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === wanted) return;
  say("Installing packages (npm ci)");
  await runProgram("npm", ["ci", "--no-audit", "--no-fund", "--loglevel=error"], { cwd: folder });
  writeFileSync(stamp, wanted);
}

/** Paths, sizes and times of every file below some folders, tests left out. */
function fingerprint(paths) {
  const parts = [];
  const walk = (path) => {
    const stat = statSync(path);
    if (stat.isDirectory()) {
      for (const name of readdirSync(path).sort()) if (name !== "tests") walk(join(path, name));
    } else parts.push(`${path} ${stat.size} ${stat.mtimeMs}`);
  };
  for (const path of paths) walk(join(root, path));
  return digestOf(parts.join("\n"));
}

/** What starts the built application; its argument is the entry that `ensureBuild` gives. */
export const serveScript = join(import.meta.dirname, "serve.mjs");

/**
 * Builds the application when its sources changed, and gives the program to run. Each state of the sources has a
 * folder of its own, so that building never takes the ground from under an application that runs.
 */
export async function ensureBuild() {
  const wanted = fingerprint([
    "src",
    "public",
    "astro.config.mjs",
    "scripts/lib/threads.mjs",
    "scripts/lib/sharing-workers.mjs",
    "scripts/lib/fonts.mjs",
    "scripts/lib/compressed.mjs",
    "package-lock.json",
  ]).slice(0, 16);
  const builds = join(root, ".data", "builds");
  const folder = join(builds, wanted);
  const entry = join(folder, "server", "entry.mjs");
  const stamp = join(folder, "finished");
  if (existsSync(stamp)) return entry;
  makeFolder(builds);
  const older = readdirSync(builds).sort(
    (a, b) => statSync(join(builds, b)).mtimeMs - statSync(join(builds, a)).mtimeMs,
  );
  for (const name of older.slice(2)) rmSync(join(builds, name), { recursive: true, force: true });
  say("Building the application");
  await runProgram(join(root, "node_modules/.bin/astro"), ["build", "--silent", "--outDir", folder], {
    env: { ...process.env, ASTRO_TELEMETRY_DISABLED: "1" },
  });
  compressFolder(join(folder, "client"));
  writeFileSync(stamp, new Date().toISOString());
  return entry;
}

/** Whether a port of 127.0.0.1 is free. */
export const isFree = (port) =>
  new Promise((done) => {
    const probe = createServer();
    probe.once("error", () => done(false));
    probe.listen(port, "127.0.0.1", () => probe.close(() => done(true)));
  });

export async function freePort(from) {
  for (let port = from; port < from + 200; port++) if (await isFree(port)) return port;
  throw new Stop(`No free port from ${from} to ${from + 199} on 127.0.0.1.`);
}

/** The command line of a process, or null where there is none: tells ours from another that took its number. */
export function commandLine(pid) {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, "utf8").replaceAll("\0", " ");
  } catch {
    return null;
  }
}

export const pause = (milliseconds) => new Promise((done) => setTimeout(done, milliseconds));

/** Asks a process to end and waits for it; after the limit it is ended. */
export async function endProcess(pid, milliseconds = 20_000) {
  const signal = (name) => {
    try {
      process.kill(pid, name);
      return true;
    } catch {
      return false;
    }
  };
  if (!signal("SIGTERM")) return;
  for (const until = Date.now() + milliseconds; Date.now() < until; ) {
    await pause(50);
    if (!signal(0)) return;
  }
  signal("SIGKILL");
}

export const makeFolder = (path) => mkdirSync(path, { recursive: true });

/** Runs a TypeScript file of ours. */
export const runScript = (file, args, env) =>
  runProgram(process.execPath, ["--import", "tsx", join(root, file), ...args], {
    env: { ...process.env, ...env },
  });
