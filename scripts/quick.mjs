/**
 * npm run test:quick: types, lint, and the unit tests beside whatever is changed and not committed, at the same time. Types of
 * pages, browser tests and the database are for npm test.
 */
import { execFileSync, spawn } from "node:child_process";
import { existsSync, readdirSync } from "node:fs";
import { dirname, join } from "node:path";
import { ensureModules, root, say } from "./lib/machine.mjs";

await ensureModules();

/** Tests in the folders of what is changed: a rule and its test stand beside each other. */
function changedTests() {
  const status = execFileSync("git", ["status", "--porcelain", "--no-renames"], { cwd: root, encoding: "utf8" });
  const files = status.split("\n").flatMap((line) => (line.length > 3 ? [line.slice(3).replaceAll('"', "")] : []));
  const folders = new Set(files.filter((file) => /\.(tsx?|mjs)$/.test(file)).map(dirname));
  return [...folders]
    .filter((folder) => !folder.startsWith("src/server") && existsSync(join(root, folder)))
    .flatMap((folder) => readdirSync(join(root, folder)).map((name) => join(folder, name)))
    .filter((file) => /\.test\.(ts|mjs)$/.test(file));
}

const run = (name, args) =>
  new Promise((done) => {
    const begun = Date.now();
    const child = spawn(join(root, "node_modules/.bin", name), args, { cwd: root });
    let said = "";
    for (const stream of [child.stdout, child.stderr]) stream.on("data", (piece) => (said += piece));
    child.on("exit", (code) => {
      say(`${code === 0 ? "good" : "WRONG"}  ${name}, ${((Date.now() - begun) / 1000).toFixed(1)} s`);
      if (code !== 0) say(said);
      done(code === 0);
    });
  });

const tests = changedTests();
const kept = join(root, ".data", "quick.tsbuildinfo");
const all = await Promise.all([
  run("tsc", ["--noEmit", "--incremental", "--tsBuildInfoFile", kept]),
  run("biome", ["check", ".", "--error-on-warnings"]),
  ...(tests.length > 0 ? [run("vitest", ["run", "--project", "core", ...tests])] : []),
]);
if (tests.length === 0) say("Nothing is changed that has unit tests beside it.");
process.exit(all.every(Boolean) ? 0 : 1);
