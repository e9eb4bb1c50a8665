/** Dates, hours and numbers as each reader chose: on every page, in what workers say, in letters, and where they are typed. In the demo course. */
import type { Page } from "@playwright/test";
import { check } from "./accessible.ts";

import {
  beginWithoutDraft,
  cell,
  chooseDates,
  courseId,
  drafted,
  expect,
  letters,
  openWorkbench,
  pageOf,
  test,
  timingView,
  undoMarks,
} from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();

async function read(page: Page, locale: string, hours = ""): Promise<void> {
  await page.goto("/self#dates");
  await page.getByLabel("Dates and numbers as in").selectOption(locale);
  await page.getByLabel("Hours").selectOption(hours);
  await page.locator("button[name=dates]").click();
}

test("a coordinator reads and types dates in their own order and hours", async ({ page }) => {
  await openWorkbench(page, code, "timing");
  await read(page, "en-US");
  await expect(page.getByRole("status")).toHaveText("Kept. This is how a date looks now: Wed, Nov 25.");
  await check(page);
  try {
    await openWorkbench(page, code, "timing");
    await expect(page.getByText("Wed, Nov 25, 10:00 AM, week 9")).toBeVisible();
    await chooseDates(page, "Safety check");
    await page.getByRole("button", { name: /^due for everyone: Fri, Oct 9, 5:00 PM/ }).click();
    const field = page.getByRole("textbox", { name: "due for everyone" });
    await field.fill("Thu, Oct 9, 5:00 PM");
    await expect(page.locator("#typed-date").getByRole("alert")).toHaveText("Oct 9 is a Friday, not a Thursday.");
    await field.fill("10/12 6pm");
    await page.keyboard.press("Enter");
    await expect(page.getByRole("button", { name: /^due for everyone: Mon, Oct 12, 6:00 PM/ })).toBeVisible();
    // What a worker found says it so as well.
    await timingView(page, "Checks");
    await expect(page.getByText(/^[A-Z][a-z]{2}, [A-Z][a-z]{2} \d+:/).first()).toBeVisible();
    await drafted(page).getByRole("button", { name: "Undo" }).first().click();
    await read(page, "en-US", "24");
    await openWorkbench(page, code, "timing");
    await expect(page.getByText("Wed, Nov 25, 10:00, week 9")).toBeVisible();
  } finally {
    await read(page, "");
  }
  await openWorkbench(page, code, "timing");
  await expect(page.getByText("Wed 25 Nov, 10:00, week 9")).toBeVisible();
});

test("points are written and typed with the reader's decimal sign", async ({ page }) => {
  await openWorkbench(page, code, "gradebook");
  await read(page, "de-DE");
  try {
    await openWorkbench(page, code, "gradebook");
    await cell(page, ", Lab 1: Float gauging: ").first().click();
    await page.keyboard.type("1,125");
    await page.keyboard.press("Enter");
    await expect(cell(page, "Lab 1: Float gauging: 1,125 of 20")).toHaveCount(1);
    await undoMarks(page);
  } finally {
    await read(page, "");
  }
});

test("a student's pages and letters are written as that student reads", async ({ page, browser }) => {
  const subject = `In whose words ${Date.now()}`;
  const student = await pageOf(browser, "student.evening");
  const course = await courseId(student, code);
  await student.goto(`/course/${course}`);
  // It is kept as it was made by now; another locale is another page.
  await expect(student.getByText(/Wed 2 Dec, 18:00/).first()).toBeVisible();
  await read(student, "fi-FI");
  try {
    await student.goto(`/course/${course}`);
    await expect(student.getByText(/ke 2\.12\. klo 18\.00/).first()).toBeVisible();
    await openWorkbench(page, code, "placement");
    await page.keyboard.press("Control+k");
    await page.keyboard.type("Evening");
    await page.getByRole("option", { name: "Evening group of Sections" }).click();
    await page.getByRole("button", { name: "Write to the group" }).click();
    const dialog = page.getByRole("dialog");
    await dialog.getByLabel("Subject").fill(subject);
    await dialog.getByRole("textbox", { name: "Text" }).fill("Due {due of Final report}.");
    await dialog.getByRole("button", { name: "Send to 22" }).click();
    await expect(page.getByText("Written to 22 people.")).toBeVisible();
    await expect.poll(async () => (await letters(subject)).length, { timeout: 120_000 }).toBe(22);
    const texts = (await letters(subject)).map(({ text }) => /Due (.*)\./.exec(text)?.[1]);
    expect(texts.filter((text) => text === "Fri 25 Dec, 17:00")).toHaveLength(21);
    expect(texts.filter((text) => text === "pe 25.12. klo 17.00")).toHaveLength(1);
  } finally {
    await read(student, "");
    await student.context().close();
  }
});

test("a locale that is not offered is refused, and nothing is kept", async ({ page }) => {
  await openWorkbench(page, code, "intake");
  const origin = new URL(page.url()).origin;
  const answer = await page.request.post("/self", {
    headers: { origin },
    form: { dates: "1", locale: "xx-XX", hours: "usual" },
  });
  expect(answer.status()).toBe(404);
});
