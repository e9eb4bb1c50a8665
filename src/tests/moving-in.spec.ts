/** An institution moves in, the whole way: set up, signed in at its provider, classes merged, published, handed in, and restored elsewhere. */
import { spawn } from "node:child_process";
import { mkdirSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import type { Browser, Page } from "@playwright/test";
import { v7 } from "uuid";
import { startDatabase } from "../../scripts/lib/database.mjs";
import { startIdentity } from "../../scripts/lib/identity.mjs";
import { blankItem } from "../core/plan/types.ts";
import { application, expect, password, send, test } from "./helpers.ts";
import { starter, stop } from "./starting.ts";

const root = join(import.meta.dirname, "../..");
const folder = join(root, ".data/moving-in-test");
const { data, address, start, stopAll } = starter("moving-in-start", 4396);
const stops: (() => Promise<void>)[] = [];
test.beforeAll(() => {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
});
test.afterAll(async () => {
  await stopAll();
  for (const end of stops.reverse()) await end();
  rmSync(folder, { recursive: true, force: true });
});

const run = (script: string, args: string[], env: Record<string, string>) =>
  new Promise<{ code: number | null; said: string }>((done) => {
    const child = spawn(process.execPath, [join(root, `scripts/${script}.mjs`), ...args], {
      cwd: root,
      env: { ...process.env, ...env },
    });
    let said = "";
    for (const stream of [child.stdout, child.stderr]) stream.on("data", (piece) => (said += piece));
    child.on("exit", (code) => done({ code, said }));
  });

/** A page of somebody who signed in at the provider. */
async function signedIn(browser: Browser, username: string): Promise<Page> {
  const page = await (await browser.newContext({ baseURL: address })).newPage();
  await page.goto("/sign-in");
  await page.getByRole("link", { name: "Sign in at Tarnbeck College" }).click();
  await page.getByLabel("Username").fill(username);
  await page.getByLabel("Password").fill(password);
  await page.getByRole("button", { name: "Continue" }).click();
  await expect(page.getByRole("heading", { name: "Your courses" })).toBeVisible();
  return page;
}

const setUp = {
  institution: { name: "Alder Row College", timeZone: "Europe/Dublin" },
  terms: [{ name: "Autumn 2026", starts: "2026-09-14", ends: "2026-12-18", noClassDays: [] }],
  administrators: [{ username: "marta", givenName: "Marta", familyName: "Quist", email: "marta@alder.example" }],
};

test("from an empty machine to a hand-in, and the same on another machine out of a backup", async ({ browser }) => {
  test.setTimeout(600_000);
  const identity = await startIdentity(address, 5396);
  stops.push(identity.stop);
  const { registrarUrl, smtpUrl } = application();
  const env = {
    ...identity.env,
    ...{ AMBER_NOW: "2026-11-25T10:00:00Z", AMBER_SMTP_URL: smtpUrl },
    ...{ AMBER_REGISTRAR_URL: registrarUrl, AMBER_REGISTRAR_TOKEN: "stand-in" },
  };
  const file = join(folder, "set-up.json");
  writeFileSync(file, JSON.stringify(setUp));
  const first = start(["--empty", "--set-up", file], env);
  await first.until("Ctrl-C stops it.");

  // A coordinator whom nobody has told of this program: two presses after signing in.
  const coordinator = await signedIn(browser, "coordinator");
  await coordinator.getByRole("link", { name: "Merge classes" }).click();
  await coordinator.getByRole("button", { name: /^Merge into one course/ }).click();
  await expect(coordinator.getByText("60 placed")).toBeVisible();
  const course = coordinator.url().split("/")[4] ?? "";
  const itemId = v7();
  const { plan, revision } = await (await coordinator.request.get(`/api/courses/${course}/plan`)).json();
  const [section] = Object.values<{ id: string; code: string }>(plan.sections).filter(({ code }) => code === "A");
  const item = {
    ...blankItem,
    ...{ id: itemId, parentId: null, position: 1, kind: "assignment", title: "Gauge the ditch", points: 20 },
    audience: { to: [{ kind: "section", id: section?.id }], minus: [] },
  };
  const commands = [{ id: v7(), kind: "item.add", item }];
  const drafted = await send(coordinator.request, "POST", `/api/courses/${course}/draft`, address, { commands });
  const publication = { publicationId: v7(), revision, version: (await drafted.json()).version };
  const published = await send(coordinator.request, "POST", `/api/courses/${course}/publish`, address, publication);
  expect(published.status()).toBe(200);

  const students = async (code: string) =>
    (
      await (
        await fetch(`${registrarUrl}/ims/oneroster/rostering/v1p2/classes/hyd310-${code}/students`, {
          headers: { authorization: "Bearer stand-in" },
        })
      ).json()
    ).users as { username: string; sourcedId: string }[];
  const [inA, inB] = [await students("a"), await students("b")];
  const other = inB.find(({ sourcedId }) => inA.every((one) => one.sourcedId !== sourcedId));
  const student = await signedIn(browser, inA[0]?.username ?? "");
  await student.getByRole("link", { name: /^HYD 310/ }).click();
  await student.getByRole("link", { name: "Gauge the ditch" }).click();
  await student.getByLabel("Your text").fill("A hand deep, an arm wide.");
  await student.getByRole("button", { name: "Hand in" }).click();
  await expect(student.getByText(/^Handed in /)).toBeVisible();
  // Nobody of another section has it.
  const stranger = await signedIn(browser, other?.username ?? "");
  expect((await stranger.request.get(`/course/${course}/item/${itemId}`)).status()).toBe(404);

  const backup = join(folder, "all.backup");
  expect(await run("backup", [backup, "--empty"], { AMBER_DATA: data, AMBER_DATABASE_URL: "" })).toMatchObject({
    code: 0,
    said: expect.stringContaining("is whole"),
  });
  await stop(first);
  const database = await startDatabase(join(folder, "database"), 33390);
  stops.push(database.stop);
  expect(await run("restore", [backup], { AMBER_DATABASE_URL: database.url })).toMatchObject({ code: 0 });
  const second = start(["--empty"], { ...env, AMBER_DATABASE_URL: database.url });
  await second.until("Ctrl-C stops it.");
  expect(second.said()).not.toContain("/set-up/");
  await student.goto(`/course/${course}/item/${itemId}`);
  await expect(student.getByText("A hand deep, an arm wide.")).toBeVisible();
  const marker = await signedIn(browser, "coordinator");
  await expect(marker.getByRole("link", { name: "1 to mark" })).toBeVisible();
  for (const one of [coordinator, student, stranger, marker]) await one.context().close();
});
