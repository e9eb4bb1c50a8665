/** npm start itself: what may go wrong gets a clear answer, and nothing is damaged. */
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import { starter, stop } from "./starting.ts";

test.describe.configure({ mode: "serial" });
const port = 4391;
const { data, address, start, stopAll } = starter("start", port);

const answers = () =>
  fetch(`${address}/sign-in`).then(
    ({ ok }) => ok,
    () => false,
  );
const alive = (pid: number) => existsSync(`/proc/${pid}`);
const databasePid = () => Number(readFileSync(join(data, "mariadb.pid"), "utf8"));
/** Every process whose command line names the data folder: stand-ins too. */
const processes = () =>
  readdirSync("/proc").filter((name) => /^\d+$/.test(name) && (commandLine(Number(name)) ?? "").includes(`${data}/`));
const commandLine = (pid: number) => {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, "utf8").replaceAll("\0", " ");
  } catch {
    return null;
  }
};
const serverPid = () => JSON.parse(readFileSync(join(data, "running.json"), "utf8")).server as number;

test.beforeAll(() => rmSync(data, { recursive: true, force: true }));
test.afterAll(stopAll);
test.beforeEach(() => test.setTimeout(600_000));

test("the first start makes everything, and prints address and sign-ins; SIGTERM stops all of it", async () => {
  const first = start();
  await first.until("Ctrl-C stops it.");
  for (const words of [
    `Amber Weave is at ${address}`,
    "coordinator",
    "student.evening",
    "password for all: tarnbeck",
    "Loading the demo data",
  ])
    expect(first.said()).toContain(words);
  const pids = [databasePid(), serverPid()];
  expect(pids.every(alive)).toBe(true);
  await stop(first);
  expect(pids.some(alive)).toBe(false);
  expect(processes()).toEqual([]);
  expect(await answers()).toBe(false);
});

test("a start beside a running one says so, and the running one goes on; its data are kept by the next", async () => {
  const first = start();
  await first.until("Ctrl-C stops it.");
  expect(first.said()).not.toContain("Loading the demo data");
  const second = start();
  expect(await second.ended).toBe(1);
  expect(second.said()).toContain(`Amber Weave is already running at ${address} (process ${first.child.pid}).`);
  expect(await answers()).toBe(true);
  await stop(first);
});

test("a port that another program has is named, with what to do, and nothing is left running", async () => {
  const other = createServer();
  await new Promise<void>((done) => other.listen(port, "127.0.0.1", done));
  const one = start();
  expect(await one.ended).toBe(1);
  expect(one.said()).toContain(
    `Port ${port} on 127.0.0.1 is taken by another program. Stop that one, or choose a port: AMBER_PORT=4400 npm start`,
  );
  expect(existsSync(join(data, "running.json"))).toBe(false);
  await new Promise((done) => other.close(done));
});

test("a database that is killed ends the start with where to look, and the next start finds what was saved", async () => {
  const first = start();
  await first.until("Ctrl-C stops it.");
  process.kill(databasePid(), "SIGKILL");
  expect(await first.ended).toBe(1);
  expect(first.said()).toContain("The database ended by itself; nothing that was saved is lost.");
  const next = start();
  await next.until("Ctrl-C stops it.");
  expect(next.said()).not.toContain("Loading the demo data");
  await stop(next);
});

test("after a start that was killed, the next one stops what it left running", async () => {
  const first = start();
  await first.until("Ctrl-C stops it.");
  const left = [databasePid(), serverPid()];
  first.child.kill("SIGKILL");
  await first.ended;
  expect(left.every(alive)).toBe(true);
  const next = start();
  await next.until("Ctrl-C stops it.");
  expect(next.said()).toContain("Stopping an application that an earlier start left running");
  expect(next.said()).toContain("Stopping a database that an earlier start left running");
  expect(left.some(alive)).toBe(false);
  expect(await answers()).toBe(true);
  await stop(next);
  expect(processes()).toEqual([]);
});

test("wherever a start is killed, the next one begins, and nothing is left when that one stops", async () => {
  for (const words of ["Starting the database", "Starting the application"]) {
    const first = start();
    await first.until(words);
    first.child.kill("SIGKILL");
    await first.ended;
  }
  const next = start();
  await next.until("Ctrl-C stops it.");
  await stop(next);
  await expect.poll(processes).toEqual([]);
});

test("a data folder that was half made is made again; --fresh starts over", async () => {
  mkdirSync(join(data, "mariadb.new"), { recursive: true });
  const first = start(["--fresh"]);
  await first.until("Ctrl-C stops it.");
  for (const words of [
    "Starting over: removing the database of earlier starts",
    "An earlier first start was interrupted",
    "Loading the demo data",
  ])
    expect(first.said()).toContain(words);
  await stop(first);
});
