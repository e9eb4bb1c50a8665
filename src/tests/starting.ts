/** `npm start` itself, as a test starts it: with data of its own, on a port of its own. */
import { type ChildProcess, spawn } from "node:child_process";
import { rmSync } from "node:fs";
import { join } from "node:path";
import { expect } from "@playwright/test";

const root = join(import.meta.dirname, "../..");

export interface Start {
  child: ChildProcess;
  /** Everything printed so far. */
  said(): string;
  /** Waits until something is printed, or fails with what was. */
  until(words: string): Promise<void>;
  /** The exit code, once it ended. */
  ended: Promise<number | null>;
}
/** Starts with a folder of data below .data and a port; `stopAll` ends what still runs and removes the folder. */
export function starter(name: string, port: number) {
  const data = join(root, ".data", name);
  const started: Start[] = [];
  const stopAll = async () => {
    for (const { child, ended } of started) {
      if (child.exitCode === null && child.signalCode === null) child.kill("SIGTERM");
      await ended;
    }
    rmSync(data, { recursive: true, force: true });
  };
  return { data, address: `http://127.0.0.1:${port}`, start: starting(data, port, started), stopAll };
}

const starting =
  (data: string, port: number, started: Start[]) =>
  (args: string[] = [], env: Record<string, string> = {}): Start => {
    const child = spawn(process.execPath, [join(root, "scripts/start.mjs"), ...args], {
      cwd: root,
      env: { ...process.env, AMBER_DATA: data, AMBER_PORT: String(port), AMBER_DATABASE_URL: "", ...env },
    });
    let text = "";
    child.stdout.on("data", (chunk) => (text += chunk));
    child.stderr.on("data", (chunk) => (text += chunk));
    const ended = new Promise<number | null>((done) => child.once("exit", done));
    const until = async (words: string) => {
      await expect.poll(() => text, { timeout: 240_000, message: `waiting for "${words}"` }).toContain(words);
    };
    const one = { child, said: () => text, until, ended };
    started.push(one);
    return one;
  };
export const stop = async ({ child, ended }: Start) => {
  child.kill("SIGTERM");
  expect(await ended).toBe(0);
};
