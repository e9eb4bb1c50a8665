/**
 * npm run test:nodes: the unit tests of the core, and the application with its demo, on each further version of Node.js that
 * an institution may choose (scripts/nodes/package.json). `npm test` runs a short form.
 */
import { spawn } from "node:child_process";
import { readdirSync } from "node:fs";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { ensureModules, root, say } from "./lib/machine.mjs";
import { startForTests } from "./lib/tests.mjs";

const folder = join(root, "scripts/nodes");
/** What a short form tests: folders whose answers stand on the language's own sorting, dates and numbers. */
const shortly = ["src/core/clock", "src/core/text", "src/core/sets", "src/core/access"];

const ends = (program, args) =>
  new Promise((done) => {
    const child = spawn(program, args, { cwd: root, stdio: "inherit" });
    child.on("error", () => done(false));
    child.on("exit", (code) => done(code === 0));
  });

/** Whether the built application starts on a version, signs somebody in and gives the course. */
async function serves(program, name) {
  const application = await startForTests(name, { node: program });
  try {
    const { accounts, password } = (await import("../demo/sign-ins.json", { with: { type: "json" } })).default;
    const answer = await fetch(`${application.url}/sign-in`, {
      method: "POST",
      headers: { origin: application.url },
      body: new URLSearchParams({
        username: accounts.find(({ username }) => username === "coordinator").username,
        password,
      }),
      redirect: "manual",
    });
    const cookie = (answer.headers.get("set-cookie") ?? "").split(";")[0];
    const home = await fetch(application.url, { headers: { cookie } }).then((page) => page.text());
    const course = home.match(/\/workbench\/([0-9a-f-]{36})/)?.[1];
    const plan = await fetch(`${application.url}/api/courses/${course}/plan`, { headers: { cookie } });
    return answer.status === 303 && plan.ok && (await plan.json()) !== null;
  } finally {
    await application.stop();
  }
}

/** Each further version and whether it passed. */
export async function onEveryNode({ whole }) {
  await ensureModules(folder);
  const answers = [];
  for (const name of readdirSync(join(folder, "node_modules")).filter((one) => one.startsWith("node-"))) {
    say(`\n${name}`);
    const program = join(folder, "node_modules", name, "bin/node");
    const vitest = join(root, "node_modules/vitest/vitest.mjs");
    const tested = await ends(program, [vitest, "run", "--project", "core", ...(whole ? [] : shortly)]);
    answers.push({ name, good: tested && (await serves(program, name)) });
  }
  return answers;
}

if (process.argv[1] && import.meta.url === pathToFileURL(process.argv[1]).href) {
  await ensureModules();
  const answers = await onEveryNode({ whole: true });
  for (const { name, good } of answers) say(`${good ? "good" : "WRONG"}  ${name}`);
  process.exit(answers.every(({ good }) => good) ? 0 : 1);
}
