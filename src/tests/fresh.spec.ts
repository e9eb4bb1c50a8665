/** A student's open page keeps up with what is published, and takes nothing from under its reader's hands. */
import type { Page } from "@playwright/test";
import { application, expect, openWorkbench, pageOf, send, signIn, test } from "./helpers.ts";

const code = "WSH 240";

/** Publishes another title of the kit list. */
async function rename(page: Page, course: string, title: string): Promise<void> {
  const { plan, revision } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const kit = Object.values<{ id: string; title: string }>(plan.items).find((item) => item.title.startsWith("Kit "));
  const commands = [{ id: crypto.randomUUID(), kind: "item.change", itemId: kit?.id, fields: { title } }];
  const origin = application().url;
  const draft = await (await send(page.request, "POST", `/api/courses/${course}/draft`, origin, { commands })).json();
  const publication = { publicationId: crypto.randomUUID(), revision, version: draft.version };
  const published = await send(page.request, "POST", `/api/courses/${course}/publish`, origin, publication);
  expect(published.status()).toBe(200);
}

test("an open page learns by itself that something was published, and never takes away what is typed", async ({
  page,
  browser,
}) => {
  await signIn(page, "coordinator");
  const course = await openWorkbench(page, code, "reach");
  const student = await pageOf(browser, "student.day");
  await student.goto(`/course/${course}`);
  await expect(student.getByRole("link", { name: "Kit list" })).toBeVisible();
  await expect(student.getByRole("heading", { name: "Opens next" })).toBeVisible();
  const { plan, revision } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  expect(revision).toBeGreaterThan(0);
  await rename(page, course, "Kit and gloves");
  // The page asks again when it is looked at.
  await student.evaluate(() => document.dispatchEvent(new Event("visibilitychange")));
  await expect(student.getByRole("link", { name: "Kit and gloves" })).toBeVisible();
  await rename(page, course, "Kit list");
  await student.getByLabel("Search this course").fill("weir");
  await student.evaluate(() => document.dispatchEvent(new Event("visibilitychange")));
  await expect(student.getByRole("link", { name: "Kit list", exact: true })).toBeVisible();
  await expect(student.getByLabel("Search this course")).toHaveValue("weir");
  // What was written in a thread stays, also while something else is looked at.
  const talk = Object.values<{ id: string; title: string }>(plan.items).find(
    ({ title }) => title === "The café by the weir",
  );
  const asked = student.waitForResponse(/\/fresh$/);
  await student.goto(`/course/${course}/item/${talk?.id}`);
  await asked;
  const field = student.getByRole("textbox", { name: /^Write/ });
  await field.fill("Half a thought");
  await student.getByRole("heading", { level: 1 }).click();
  await rename(page, course, "Kit and mittens");
  const address = student.url();
  const renewals: string[] = [];
  student.on("request", (request) => {
    if (request.url() === address) renewals.push(request.method());
  });
  // What the first answer leads to is decided before the second is asked for.
  for (let times = 0; times < 2; times++) {
    const again = student.waitForResponse(/\/fresh$/);
    await student.evaluate(() => document.dispatchEvent(new Event("visibilitychange")));
    await (await again).finished();
  }
  expect(renewals).toEqual([]);
  await expect(field).toHaveText("Half a thought");
  await rename(page, course, "Kit list");
  await student.context().close();
});

test("a page that is renewed while it is read keeps unfolded what its reader unfolded", async ({ page, browser }) => {
  await signIn(page, "coordinator");
  const course = await openWorkbench(page, code, "reach");
  const student = await pageOf(browser, "student.day");
  const asked = student.waitForResponse(/\/fresh$/);
  await student.goto(`/course/${course}/calendar`);
  await asked;
  const earlier = student.locator("details", { hasText: "earlier weeks" });
  await earlier.locator("summary").click();
  await expect(earlier.getByRole("listitem").first()).toBeVisible();
  await student.locator("main").evaluate((main) => main.setAttribute("data-old", ""));
  await rename(page, course, "Kit and rope");
  // The page asks again when it is looked at.
  await student.evaluate(() => document.dispatchEvent(new Event("visibilitychange")));
  await expect(student.locator("main[data-old]")).toHaveCount(0);
  await expect(earlier.getByRole("listitem").first()).toBeVisible();
  await rename(page, course, "Kit list");
  await student.context().close();
});
