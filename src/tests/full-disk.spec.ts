/** A private application on a disk that counts as full: what is refused, and what goes on. */
import { expect, test } from "@playwright/test";
import { startForTests } from "../../scripts/lib/tests.mjs";
import { cookieOf, rawly } from "./attacker.ts";
import { password } from "./helpers.ts";

test("on a disk that is almost full nothing is stored and all is read; signing in goes on", async () => {
  test.setTimeout(240_000);
  const settings = { AMBER_DISK_RESERVE_MB: "999999999" };
  const full = await startForTests(`full-${process.env.TEST_PARALLEL_INDEX ?? 0}`, { firstPort: 5460, settings });
  try {
    const cookie = (await cookieOf(full.url, "coordinator", password)) ?? "";
    const home = await rawly(full.url, "/", { headers: { cookie } });
    const id = /\/workbench\/([0-9a-f-]{36})/.exec(home.text)?.[1] ?? "";
    for (const path of [`/api/courses/${id}/plan`, `/api/courses/${id}/journal`, `/workbench/${id}/reach`])
      expect((await rawly(full.url, path, { headers: { cookie } })).status).toBe(200);
    const headers = { cookie, "content-type": "application/json" };
    for (const path of ["draft", "marks", "messages", "publish"]) {
      const pieces = [Buffer.from("{}")];
      const answer = await rawly(full.url, `/api/courses/${id}/${path}`, { method: "POST", headers, pieces });
      expect([answer.status, answer.headers["retry-after"]]).toEqual([503, "5"]);
      expect(answer.text).toContain("almost full");
    }
    // A stranger learns nothing of the disk.
    const stranger = await rawly(full.url, `/api/courses/${id}/draft`, { method: "POST", pieces: [Buffer.from("{}")] });
    expect(stranger.status).toBe(401);
  } finally {
    await full.stop();
  }
});
