/** Sections into a course of their own and two courses into one: looked at, made, seen by a student, and taken back whole. */
import type { Page } from "@playwright/test";
import { v7 } from "uuid";
import { check } from "./accessible.ts";
import { application, courseId, expect, pageOf, test } from "./helpers.ts";

test.describe.configure({ mode: "serial" });

const titles = async (student: Page) => {
  await student.goto("/");
  return student.getByRole("main").getByRole("list").last().getByRole("link").allTextContents();
};
const takeBack = (page: Page, what: RegExp) => page.getByRole("button", { name: what }).click();

test("a section becomes a course of its own in five presses, a part of the first again in three, and all is taken back", async ({
  browser,
}) => {
  const page = await pageOf(browser, "coordinator");
  const student = await pageOf(browser, "student.evening");
  const course = await courseId(page, "WSH 240");
  await page.goto(`/workbench/${course}/intake?view=sections`);
  await page.getByRole("link", { name: "Move sections, join or split courses" }).click();
  await check(page);
  const before = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  await page.getByRole("checkbox", { name: /^EV/ }).check();
  await page.getByRole("radio", { name: /a course of their own/ }).check();
  await page.getByText("Call it otherwise").click();
  await page.getByLabel("Code", { exact: true }).fill("FLD 1");
  await page.getByLabel("Title", { exact: true }).fill("Evening field course");
  await page.getByRole("button", { name: "Look at it first" }).click();
  const look = page.getByRole("region", { name: "What it would do" });
  await expect(look).toContainText("23 people leave WSH 240 as if dropped");
  await expect(look).toContainText("FLD 1 has the same groups, items, conditions and dates");
  await check(page);
  await check(page, "dark");
  // Looked at, nothing has changed.
  expect((await (await page.request.get(`/api/courses/${course}/plan`)).json()).revision).toBe(before.revision);
  await page.getByRole("button", { name: "Make the course" }).click();
  await expect(page.getByRole("status")).toContainText("have a course of their own");
  expect((await titles(student)).join()).toContain("FLD 1 Evening field course");
  expect((await titles(student)).join()).not.toContain("WSH 240");
  await student.getByRole("link", { name: /^FLD 1/ }).click();
  await expect(student.getByRole("link", { name: "Kit list" })).toBeVisible();

  await page
    .getByLabel("Another course becomes a part of this one")
    .selectOption({ label: `FLD 1 Evening field course, ${before.plan.course.term}` });
  await page.getByRole("button", { name: "Look at joining first" }).click();
  await expect(look).toContainText("students of FLD 1 come over with all that they did");
  await expect(look).toContainText("The class list is shown to nobody now");
  await page.getByRole("button", { name: "Join the courses" }).click();
  await expect(page.getByRole("status")).toContainText("a part of this one");
  expect((await titles(student)).join()).not.toContain("FLD 1");
  await student.getByRole("link", { name: /^WSH 240/ }).click();
  await expect(student.getByRole("link", { name: "FLD 1 Evening field course" })).toBeVisible();

  // The first cannot go back before the second has.
  await takeBack(page, /Take back.*Made FLD 1/);
  await expect(page.getByRole("alert")).toContainText('became a part of WSH 240" came later');
  await takeBack(page, /Take back.*Took in FLD 1/);
  await expect(page.getByRole("status")).toContainText("taken back whole");
  expect((await titles(student)).join()).toContain("FLD 1");
  await takeBack(page, /Take back.*Made FLD 1/);
  await expect(page.getByRole("status")).toContainText("taken back whole");
  expect((await titles(student)).join()).toContain("WSH 240");
  const after = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  expect(after.plan).toEqual(before.plan);
  await page.goto(`/workbench/${course}/review`);
  const { lines } = await (await page.request.get(`/api/courses/${course}/journal?kind=sections`)).json();
  expect(lines.map(({ says }: { says: string }) => says)).toEqual([
    "Taken back: Made FLD 1 of EV",
    "Taken back: Took in FLD 1 Evening field course, which became a part of WSH 240",
    "Took in FLD 1 Evening field course, which became a part of WSH 240",
    "Made FLD 1 of EV",
  ]);
  for (const one of [page, student]) await one.context().close();
});

test("nobody but its coordinator comes to a course's sections, and nothing goes where they do not coordinate", async ({
  browser,
}) => {
  const page = await pageOf(browser, "coordinator");
  const course = await courseId(page, "WSH 240");
  const { plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const [section] = Object.keys(plan.sections);
  const form = { id: v7(), kind: "over", section: section ?? "", into: v7(), move: "yes" };
  const sent = (who: Page, changed: Partial<typeof form> & Record<string, string>) =>
    who.request.post(`/sections/${course}`, { headers: { origin: application().url }, form: { ...form, ...changed } });
  for (const username of ["instructor.d1", "support.writing", "student.day", "administrator"]) {
    const other = await pageOf(browser, username);
    expect((await other.request.get(`/sections/${course}`)).status()).toBe(404);
    expect((await sent(other, {})).status()).toBe(404);
    await other.context().close();
  }
  const refused = await sent(page, {});
  expect(refused.status()).toBe(400);
  expect(await refused.text()).toContain("You do not coordinate the other course.");
  const strangers: Record<string, string>[] = [{ kind: "everything" }, { section: "1" }, { into: "2" }];
  for (const changed of strangers) {
    const strange = await sent(page, changed);
    expect(strange.status()).toBe(400);
    expect(await strange.text()).toContain("Nothing that can be done was chosen.");
  }
  expect((await sent(page, { back: v7() })).status()).toBe(404);
  const nothing = await sent(page, { kind: "out", section: v7() });
  expect(await nothing.text()).toContain("A section that was ticked is not there any more.");
  await page.context().close();
});
