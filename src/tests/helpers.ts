/** What every end-to-end test begins with: signing in, finding a course, and no error in the console. */
import { type APIRequestContext, type Browser, test as base, expect, type Page } from "@playwright/test";

import { closeDatabase, run } from "../server/store/database.ts";

export const password = "tarnbeck";

/** The application of this worker: each has one of its own, with a database of its own, so that files run side by side. */
export function application(): Record<
  "url" | "databaseUrl" | "registrarUrl" | "postUrl" | "smtpUrl" | "identityUrl",
  string
> {
  const all = JSON.parse(process.env.AMBER_TEST_APPLICATIONS ?? "[]");
  return all[Number(process.env.TEST_PARALLEL_INDEX ?? 0)];
}

/** A test that fails when its page logged an error or threw one. Expected refusals (4xx, and 502 of a registrar in trouble) are not counted. */
export const test = base.extend<{ quiet: undefined }>({
  // biome-ignore lint/correctness/noEmptyPattern: Playwright reads the fixtures from the pattern
  baseURL: async ({}, use) => use(application().url),
  quiet: [
    async ({ page }, use) => {
      const errors: string[] = [];
      watch(page, errors);
      await use(undefined);
      expect(errors).toEqual([]);
    },
    { auto: true },
  ],
});
export { expect };

function watch(page: Page, errors: string[]): void {
  page.on("pageerror", (error) => errors.push(error.message));
  page.on("console", (message) => {
    if (message.type() === "error" && !/status of (4\d\d|502)/.test(message.text())) errors.push(message.text());
  });
}

/** Signs in by the form's own address, and opens the list of courses. The form itself is tested in routes.spec.ts. */
export async function signIn(page: Page, username: string): Promise<void> {
  const answer = await page.request.post("/sign-in", {
    headers: { origin: application().url },
    form: { username, password },
    maxRedirects: 0,
  });
  expect(answer.status()).toBe(303);
  await page.goto("/");
  await expect(page.getByRole("heading", { name: "Your courses" })).toBeVisible();
}

/** Signed in as somebody, in a browser context of their own. */
export async function pageOf(browser: Browser, username: string): Promise<Page> {
  const context = await browser.newContext({ baseURL: application().url });
  const page = await context.newPage();
  await signIn(page, username);
  return page;
}

/** The id of a course the signed-in person is in, by its code. */
export async function courseId(page: Page, code: string): Promise<string> {
  if (page.url() !== `${application().url}/`) await page.goto("/");
  const address = await page.getByRole("link", { name: new RegExp(code) }).getAttribute("href");
  return address?.split("/")[2] ?? "";
}

export async function openWorkbench(page: Page, code: string, station: string): Promise<string> {
  const id = await courseId(page, code);
  await page.goto(`/workbench/${id}/${station}`);
  // Thousands of students take a while on a machine that does other work.
  await expect(page.getByRole("navigation", { name: "Stations" })).toBeVisible({ timeout: 120_000 });
  return id;
}

/** Waits until everything drafted so far is kept by the server, and counted: only then can it be published. */
export async function settled(page: Page): Promise<void> {
  await expect(page.locator("[aria-label=Draft][aria-busy=true]")).toHaveCount(0);
  await expect(page.getByTestId("touched").filter({ hasText: "counting" })).toHaveCount(0);
}

/** Publishes what is drafted, by the review, and goes back to where one came from. */
export async function publish(page: Page): Promise<void> {
  await settled(page);
  await page.getByRole("button", { name: "Review" }).click();
  await settled(page);
  await page.getByRole("button", { name: /^Publish/ }).click();
  await expect(page.getByText("Published. Everyone sees it now.")).toBeVisible();
  const wasPublished = page.getByRole("region", { name: "What was published" });
  if (await wasPublished.isVisible()) await wasPublished.getByRole("button", { name: /^Back to / }).click();
}

/** Chooses from one of our lists. */
export async function choose(page: Page, label: string, option: string | RegExp): Promise<void> {
  await page.getByRole("button", { name: label }).click();
  await page.getByRole("option", { name: option }).first().click();
}

/** A request as the person of a page, with our own origin. */
export const send = (request: APIRequestContext, method: string, address: string, origin: string, data?: unknown) =>
  request.fetch(address, {
    method,
    headers: { origin },
    maxRedirects: 0,
    ...(data === undefined ? {} : { data: data as object }),
  });

/** The heading of a station: other headings hold the same word ("Earlier intakes"), so that it is asked for exactly. */
export const station = (page: Page, name: string) => page.getByRole("heading", { name, level: 2, exact: true });

export const why = (page: Page) => page.getByRole("complementary", { name: "Why" });
export const drafted = (page: Page) => page.getByRole("region", { name: "Draft", exact: true });

/** Each test of a file begins as the coordinator with an empty draft: whatever one drafted goes. */
export function beginWithoutDraft(): void {
  test.beforeEach(async ({ page }) => {
    await signIn(page, "coordinator");
  });
  test.afterEach(async ({ page }) => {
    // Whatever a test drafted goes: the next one begins with an empty draft.
    await settled(page);
    const id = new URL(page.url()).pathname.split("/")[2];
    const origin = new URL(page.url()).origin;
    if (!id) return;
    const address = `/api/courses/${id}/draft`;
    const answer = await page.request.post(address, { headers: { origin }, data: { step: "undo all" } });
    expect(answer.ok(), "the draft is put back").toBe(true);
  });
}

/** Chooses an item by the command field, wherever it stands in the outline. */
export async function findItem(page: Page, title: string, kind = ""): Promise<void> {
  await page.keyboard.press("Control+k");
  await page.keyboard.type(title);
  await page
    .getByRole("option", { name: `${title} ${kind}`.trim() })
    .first()
    .click();
  await expect(why(page).getByRole("heading", { name: title })).toBeVisible();
}

/** Chooses one person of a field that finds people by typing. */
export async function choosePerson(page: Page, label: string, text: string): Promise<void> {
  await page.getByRole("combobox", { name: label, exact: true }).fill(text);
  await page.getByRole("option").first().click();
}

/** Chooses an item on Timing: its list is as long as the outline, so what is looked for is typed. */
export async function chooseDates(page: Page, title: string): Promise<void> {
  await page.getByRole("textbox", { name: "Find an item" }).fill(title);
  await page.getByRole("region", { name: "Items with dates" }).getByRole("button", { name: title }).click();
}
export const timingView = (page: Page, name: string) => page.getByRole("radio", { name, exact: true }).click();

/** The gradebook's grid, its filter, a cell by what it says, and one of its lists by its label. */
export const grid = (page: Page) => page.getByRole("grid", { name: "Marks" });
export const filterText = (page: Page) => page.getByRole("combobox", { name: "Filter", exact: true });
export const cell = (page: Page, name: string) => grid(page).getByRole("button", { name });
export const choice = (page: Page, label: string) => page.getByRole("button", { name: new RegExp(`${label}$`) });
export async function undoMarks(page: Page): Promise<void> {
  await page.getByRole("button", { name: "Undo marks" }).click();
  await expect(page.getByText(/marks? as before\.$/)).toBeVisible();
}

/** The ids of a course and of an item in it, by its title; asked as staff. */
export async function itemIn(page: Page, code: string, title: string): Promise<{ course: string; item: string }> {
  const course = await courseId(page, code);
  const { plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const item = Object.values<{ id: string; title: string }>(plan.items).find((one) => one.title === title);
  return { course, item: item?.id ?? "" };
}

/** A student in a browser of their own, and an item that the coordinator, signed in on the page, has. */
export async function studentWith(
  page: Page,
  browser: Browser,
  { code, title, username }: { code: string; title: string; username: string },
): Promise<{ course: string; item: string; student: Page; address: string }> {
  await signIn(page, "coordinator");
  const found = await itemIn(page, code, title);
  await allAttempts(found, username);
  const student = await pageOf(browser, username);
  return { ...found, student, address: `/course/${found.course}/item/${found.item}` };
}

/** Leaves a student all attempts at an item: takes out of the database what other tests handed in for them. */
export async function allAttempts({ course, item }: { course: string; item: string }, username: string): Promise<void> {
  process.env.AMBER_DATABASE_URL = application().databaseUrl;
  await run("DELETE FROM hand_ins WHERE item_id = ? AND person_id IN (SELECT id FROM people WHERE username = ?)", [
    item,
    username,
  ]);
  await run("UPDATE courses SET progress_revision = progress_revision + 1 WHERE id = ?", [course]);
  await closeDatabase();
}

export interface Letter {
  to: string;
  subject: string;
  text: string;
}
/** What arrived at the post office under a subject. */
export const letters = async (subject: string): Promise<Letter[]> =>
  (await (await fetch(`${application().postUrl}/letters.json`)).json()).filter(
    (one: Letter) => one.subject === subject,
  );
