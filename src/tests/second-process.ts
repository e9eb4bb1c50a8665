/** A second process of the application, on the same database. */
import { type ChildProcess, spawn } from "node:child_process";
import { join } from "node:path";
import { ensureBuild, freePort } from "../../scripts/lib/machine.mjs";
import { application, expect } from "./helpers.ts";

const root = join(import.meta.dirname, "../..");

export async function secondProcess(
  settings: Record<string, string> = {},
): Promise<{ child: ChildProcess; url: string }> {
  const port = await freePort(4900);
  const url = `http://127.0.0.1:${port}`;
  const child = spawn(process.execPath, [join(root, "scripts/lib/serve.mjs"), await ensureBuild()], {
    cwd: root,
    env: {
      ...process.env,
      AMBER_DATABASE_URL: application().databaseUrl,
      AMBER_ADDRESS: url,
      HOST: "127.0.0.1",
      PORT: String(port),
      NODE_ENV: "production",
      ...settings,
    },
    stdio: "ignore",
  });
  const isThere = () =>
    fetch(`${url}/health/live`).then(
      ({ ok }) => ok,
      () => false,
    );
  await expect.poll(isThere, { timeout: 60_000 }).toBe(true);
  return { child, url };
}
