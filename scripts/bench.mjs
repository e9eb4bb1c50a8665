/**
 * npm run bench [-- NAMES] [-- --quick]: the work measured against peers and floors; --quick only shows that all of it runs. The sources are bundled first, as the application's
 * are: what runs here is what ships. Each measure is a process of its own, so that none lives in another's heap.
 */
import { existsSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { cpus } from "node:os";
import { join } from "node:path";
import { startDatabase } from "./lib/database.mjs";
import { dataFolder, ensureModules, ensureProgram, makeFolder, root, runProgram, say } from "./lib/machine.mjs";
import { performancePage, sayTime } from "./lib/performance.mjs";

await ensureModules();
await ensureProgram("mariadbd", "mariadb-server");
const { build } = await import("esbuild");
const { createConnection } = await import("mysql2/promise");
const folder = join(dataFolder, "bench");
rmSync(folder, { recursive: true, force: true });
makeFolder(folder);
const program = join(root, ".data", "bench-run.mjs");
await build({
  entryPoints: [join(root, "benchmarks/run.ts")],
  outfile: program,
  bundle: true,
  platform: "node",
  format: "esm",
  packages: "external",
  logLevel: "error",
});

const measures = [
  "reach",
  "reach-peers",
  "audit",
  "timing",
  "gradebook",
  "gradebook-peers",
  "intake-10000",
  "intake-100000",
  "intake-hostile",
  "apply",
  "following",
  "calendar",
  "forming",
  "board",
  "opening",
  "publishing",
  "attempts",
  "home",
  "listening",
  "lists",
  "growth",
];
const isQuick = process.argv.includes("--quick");
const wanted = process.argv.slice(2).filter((word) => !word.startsWith("--"));
const rows = [];
const database = await startDatabase(folder, 33460);
/** Empties the database before each measure: the courses that two of them make have the same ids. */
async function emptyDatabase() {
  const connection = await createConnection(database.url);
  await connection.query("DROP DATABASE amber");
  await connection.query("CREATE DATABASE amber CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci");
  await connection.end();
}
try {
  for (const name of wanted.length > 0
    ? measures.filter((each) => wanted.some((word) => each.startsWith(word)))
    : measures) {
    say(`Measuring ${name}`);
    await emptyDatabase();
    const started = Date.now();
    const measured = join(folder, `${name}.json`);
    // What is measured in a browser is a script of its own.
    const script = ["board", "home", "listening", "opening"].includes(name)
      ? [join(root, `benchmarks/${name}.mjs`)]
      : ["--expose-gc", program];
    await runProgram(process.execPath, [...script, name, measured], {
      env: { ...process.env, AMBER_DATABASE_URL: database.url, ...(isQuick ? { AMBER_BENCH: "quick" } : {}) },
    });
    rows.push(...JSON.parse(readFileSync(measured, "utf8")).map((row) => ({ measure: name, ...row })));
    say(`  in ${((Date.now() - started) / 1000).toFixed(1)} s`);
  }
} finally {
  await database.stop();
}

if (isQuick) {
  // Of courses so small nothing can be said but that every measure still runs.
  const empty = rows.filter(({ ours, against }) => !(ours > 0 && against.every((one) => one.milliseconds > 0)));
  if (empty.length > 0) throw new Error(`Nothing was measured: ${empty.map(({ name }) => name).join("; ")}`);
  say(`All ${rows.length} measures run.`);
  process.exit(0);
}
const file = join(root, "benchmarks/results.json");
// What was not measured now is told as it was.
const earlier = wanted.length > 0 && existsSync(file) ? JSON.parse(readFileSync(file, "utf8")).rows : [];
console.table(
  rows.flatMap((row) =>
    row.against.map((other) => ({
      name: row.name,
      sizes: row.note,
      ours: sayTime(row.ours),
      against: `${sayTime(other.milliseconds)} (${other.kind}: ${other.name})`,
      ratio: `${(row.ours / other.milliseconds).toFixed(2)} ×`,
    })),
  ),
);
for (const { name, note, memory } of rows.filter((row) => row.memory && !row.growth))
  say(`${name} (${note}): at most ${memory} MB of memory`);
const intake = (size) => rows.find(({ name }) => name === `Intake: read and reconcile ${size} rows`)?.ours;
if (intake("10,000") && intake("100,000"))
  say(
    `Intake's growth from 10,000 to 100,000 rows: ${(intake("100,000") / intake("10,000") / 10).toFixed(2)} times linear`,
  );
for (const { name, growth } of rows.filter((row) => row.growth))
  say(`${name}: ${growth.map((one) => `${one.students} in ${sayTime(one.milliseconds)}`).join(", ")}`);
const isNew = ({ measure }) => rows.some((row) => row.measure === measure);
const results = {
  at: new Date().toISOString(),
  node: process.version,
  processor: cpus()[0]?.model,
  cores: cpus().length,
  rows: [...earlier.filter((row) => !isNew(row)), ...rows].sort(
    (one, other) => measures.indexOf(one.measure) - measures.indexOf(other.measure),
  ),
};
writeFileSync(file, `${JSON.stringify(results, null, 2)}\n`);
if (measures.every((measure) => results.rows.some((row) => row.measure === measure)))
  writeFileSync(join(root, "docs/performance.md"), performancePage(results));
else say("docs/performance.md stays as it is until npm run bench has measured all of it here.");
