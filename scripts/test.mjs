/** npm test: installs what is missing, then types, lint, import rules, unit and end-to-end; the last line counts. */
import { spawn } from "node:child_process";
import { existsSync, readdirSync, readFileSync, rmSync, statSync } from "node:fs";
import { join } from "node:path";
import { stripVTControlCharacters } from "node:util";
import { exceptions, suppressions } from "./lib/limits.mjs";
import { ensureBrowser, ensureModules, ensureProgram, root, Stop, say } from "./lib/machine.mjs";

/** How many tests there are at least; at most how many files are excepted from the limits of functions, and rules suppressed. */
const {
  tests: least,
  exceptions: mostExceptions,
  suppressions: mostSuppressions,
} = JSON.parse(readFileSync(join(root, "src/tests/count.json"), "utf8"));
let passed = 0;
let failed = 0;
const failures = [];
/** `why`: what the failing test said, of which the beginnings of the first lines are shown with it at the end. */
const count = (name, good, why = "") => {
  if (good) passed++;
  else {
    failed++;
    const lines = stripVTControlCharacters(why).split("\n").filter(Boolean).slice(0, 8);
    failures.push([name, ...lines.map((line) => line.slice(0, 300))].join("\n    "));
  }
};

/** Runs a program with its output shown; gives whether it ended well. */
const run = (program, args, env = {}) =>
  new Promise((done) => {
    const child = spawn(join(root, "node_modules/.bin", program), args, {
      cwd: root,
      stdio: "inherit",
      env: { ...process.env, ...env },
    });
    child.on("error", () => done(false));
    child.on("exit", (code) => done(code === 0));
  });

async function checks() {
  const quiet = { ASTRO_TELEMETRY_DISABLED: "1" };
  say("\nTypes");
  count("types (astro check)", await run("astro", ["check", "--minimumFailingSeverity", "warning"], quiet));
  say("\nLint");
  count("lint (biome)", await run("biome", ["check", ".", "--error-on-warnings"]));
  const { files, kept } = exceptions();
  for (const file of kept) say(`${file} keeps to the limits of functions by now: take it off the list in biome.json.`);
  count("the list of exceptions to the limits of functions is as short as it can be", kept.length === 0);
  count(`no more exceptions than the ${mostExceptions} that were committed`, files.length <= mostExceptions);
  count(`no more suppressed rules than ${mostSuppressions}`, suppressions() <= mostSuppressions);
  say("\nImport rules");
  count(
    "import rules (dependency-cruiser)",
    await run("depcruise", ["src", "demo", "benchmarks", "--config", ".dependency-cruiser.cjs"]),
  );
}

const readReport = (file) => (existsSync(join(root, file)) ? JSON.parse(readFileSync(join(root, file), "utf8")) : null);

async function unit() {
  say("\nUnit tests");
  const good = await run("vitest", [
    "run",
    "--reporter=default",
    "--reporter=json",
    "--outputFile=test-results/unit.json",
  ]);
  const report = readReport("test-results/unit.json");
  passed += report?.numPassedTests ?? 0;
  for (const file of report?.testResults ?? [])
    for (const test of file.assertionResults)
      if (test.status === "failed") count(test.fullName, false, test.failureMessages?.[0]);
  if (!good && !report?.numFailedTests) count("unit tests ran to their end", false);
}

async function endToEnd() {
  say("\nEnd-to-end tests");
  const { startForTests } = await import("./lib/tests.mjs");
  const applications = [];
  let good = false;
  try {
    for (const name of ["e2e-1", "e2e-2"]) applications.push(await startForTests(name));
    good = await run("playwright", ["test"], {
      AMBER_TEST_APPLICATIONS: JSON.stringify(applications.map(({ stop, ...rest }) => rest)),
    });
  } finally {
    for (const application of applications) await application.stop();
  }
  const report = readReport("test-results/report.json");
  const specs = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specs)];
  const all = (report?.suites ?? []).flatMap(specs);
  const said = ({ tests }) => tests.flatMap(({ results }) => results).find(({ error }) => error)?.error.message;
  for (const spec of all) count(`${spec.file}: ${spec.title}`, spec.ok, said(spec));
  if (!good && all.every(({ ok }) => ok)) count("end-to-end tests ran to their end", false);
}

/** The jobs of a coordinator's week, none of which takes more actions than before. */
async function jobs() {
  say("\nJobs");
  const { countJobs } = await import("./jobs.mjs");
  const { good, counts } = await countJobs();
  count(`jobs within their limits (${counts.length} counted)`, good);
}

/** The versions of Node.js beside the machine's own. */
async function nodes() {
  say("\nOther versions of Node.js");
  const { onEveryNode } = await import("./nodes.mjs");
  for (const { name, good } of await onEveryNode({ whole: false }))
    count(`${name} runs the core and the application`, good);
}

/** A small pass of every measure, so that none rots. */
async function bench() {
  say("\nA small pass of the bench");
  const child = spawn(process.execPath, [join(root, "scripts/bench.mjs"), "--quick"], { cwd: root, stdio: "inherit" });
  const good = await new Promise((done) => child.on("exit", (code) => done(code === 0)));
  count("every measure of the bench runs", good);
}

/** Three nodes, three processes and nginx at work, while one of each is killed or cut off and all are started anew. */
async function cluster() {
  say("\nA cluster, the short form of its proof");
  const args = [join(root, "scripts/cluster.mjs"), "--test", "--short", "--students", "60"];
  const child = spawn(process.execPath, args, { cwd: root, stdio: "inherit" });
  const good = await new Promise((done) => child.on("exit", (code) => done(code === 0)));
  count("a cluster loses nothing that was acknowledged", good);
}

/** Test lines in all lines of code, as the tree stands. */
function share() {
  let [tests, all] = [0, 0];
  const walk = (path) => {
    for (const name of readdirSync(join(root, path))) {
      const inner = join(path, name);
      if (["node_modules", ".git", ".data", ".astro", "dist", "test-results"].includes(name)) continue;
      if (statSync(join(root, inner)).isDirectory()) walk(inner);
      else if (/\.(ts|tsx|astro|css|sql|mjs)$/.test(name) && !name.endsWith(".d.ts")) {
        const lines = readFileSync(join(root, inner), "utf8").split("\n").length - 1;
        all += lines;
        if (/\.test\.|\.spec\.|(^|\/)tests\//.test(inner)) tests += lines;
      }
    }
  };
  walk("");
  return { tests, all, percent: (100 * tests) / all };
}

async function main() {
  await ensureModules();
  await ensureProgram("mariadbd", "mariadb-server");
  await ensureBrowser();
  rmSync(join(root, "test-results"), { recursive: true, force: true });
  await checks();
  await unit();
  await endToEnd();
  await jobs();
  await nodes();
  await bench();
  await cluster();
  const { tests, all, percent } = share();
  say(`\n${tests} of ${all} lines are tests: ${percent.toFixed(1)} %`);
  count("tests are 25 to 33 % of the lines", percent >= 25 && percent <= 33);
  count(`no fewer tests than the ${least} that were committed`, passed + failed >= least);
  for (const name of failures) say(`Failed: ${name}`);
  say(`${passed} passed, ${failed} failed`);
  process.exit(failed > 0 ? 1 : 0);
}

main().catch((error) => {
  console.error(error instanceof Stop ? error.message : error);
  say(`${passed} passed, ${failed + 1} failed`);
  process.exit(1);
});
