/**
 * npm run jobs: the jobs of a coordinator's week, done in the real interface on an application of their own, and counted.
 * The counts go to docs/jobs.md; with --check they are only held against what was reached before, as npm test does.
 */
import { spawn } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { ensureBrowser, ensureModules, ensureProgram, root, say } from "./lib/machine.mjs";

const run = (args, env) =>
  new Promise((done) => {
    const child = spawn(join(root, "node_modules/.bin/playwright"), args, {
      cwd: root,
      stdio: "inherit",
      env: { ...process.env, ...env },
    });
    child.on("error", () => done(false));
    child.on("exit", (code) => done(code === 0));
  });

/** Does every job; gives whether all were done within their limits, and what was counted. */
export async function countJobs() {
  const { startForTests } = await import("./lib/tests.mjs");
  const folder = mkdtempSync(join(tmpdir(), "amber-jobs-"));
  const application = await startForTests("jobs", { firstPort: 4600 });
  try {
    const { stop, ...known } = application;
    const good = await run(["test"], { AMBER_JOBS: folder, AMBER_TEST_APPLICATIONS: JSON.stringify([known]) });
    const counts = readdirSync(folder).map((name) => JSON.parse(readFileSync(join(folder, name), "utf8")));
    return { good, counts };
  } finally {
    await application.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

function pageOf(counts, limits) {
  const jobs = [...new Set(counts.map(({ job }) => job))].sort((a, b) => a - b);
  const rows = jobs.map((job) => {
    const of = (isLine) => counts.find((one) => one.job === job && (one.byLine !== null) === isLine);
    const [screen, line] = [of(false), of(true)];
    return `| ${job} | ${limits[job].job} | ${screen?.counted ?? ""} | ${line?.counted ?? ""} | ${limits[job].goal} |`;
  });
  const steps = counts
    .sort((a, b) => a.job - b.job || (a.byLine === null ? -1 : 1))
    .map(({ job, byLine, actions }) => `${job}${byLine === null ? "" : ", by line"}: ${actions.join("; ")}.`);
  return `# The jobs, counted

\`npm run jobs\` does these in the real interface and counts: one for a press, a drag, a field typed into, a choice in an open
list, a choice of files, and a wait of more than a second; reading, scrolling, Tab and the Enter that ends a field are free.
\`npm test\` does them too, and fails where one takes more actions than it did (\`src/tests/jobs/limits.json\`).

| no | job | by screen | by line | goal |
| --- | --- | --- | --- | --- |
${rows.join("\n")}

## What was counted

${steps.map((one) => `- ${one}`).join("\n")}
`;
}

async function main() {
  await ensureModules();
  await ensureProgram("mariadbd", "mariadb-server");
  await ensureBrowser();
  const { good, counts } = await countJobs();
  const { default: limits } = await import("../src/tests/jobs/limits.json", { with: { type: "json" } });
  for (const { job, counted, byLine } of counts)
    say(`${job}${byLine === null ? "" : " by line"}: ${counted}, goal ${limits[job].goal}`);
  if (good && !process.argv.includes("--check")) writeFileSync(join(root, "docs/jobs.md"), pageOf(counts, limits));
  process.exit(good ? 0 : 1);
}

if (process.argv[1] && import.meta.url === pathToFileURL(process.argv[1]).href) await main();
