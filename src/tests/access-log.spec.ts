/** The access log: who looked through whose eyes and who saved which file, read by the coordinator alone. In the demo course. */
import type { Page } from "@playwright/test";
import { check } from "./accessible.ts";
import { application, beginWithoutDraft, choose, expect, openWorkbench, pageOf, send, test } from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();
const log = (page: Page) => page.getByRole("table");
const line = (page: Page, who: RegExp, what: RegExp) =>
  log(page).getByRole("row").filter({ hasText: who }).filter({ hasText: what });
/** Somebody of a course by their username, as the coordinator's plan says. */
async function person(page: Page, course: string, username: string) {
  const { plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const people = Object.values<{ id: string; username: string; familyName: string }>(plan.people);
  return people.find((one) => one.username === username) ?? { id: "", familyName: "nobody" };
}

test("a look and a saved file stand in the access log, whoever did it; a refused look does not", async ({
  page,
  browser,
}) => {
  const course = await openWorkbench(page, code, "intake");
  const looked = await person(page, course, "student.day");
  const other = await person(page, course, "student.evening");
  await page.goto(`/look/${course}/${looked.id}`);
  await page.goto(`/look/${course}/${looked.id}/marks`);
  // An instructor of other students: refused, and so no look.
  const instructor = await pageOf(browser, "instructor.d1");
  const { familyName } = await person(page, course, "instructor.d1");
  const isTheirs = (await instructor.goto(`/look/${course}/${other.id}`))?.status() === 200;
  await openWorkbench(instructor, code, "gradebook");
  await instructor.getByRole("button", { name: "In and out" }).click();
  const saved = instructor.waitForEvent("download");
  const noted = instructor.waitForResponse(
    (one) => one.url().endsWith("/access-log") && one.request().method() === "POST",
  );
  await instructor.getByRole("dialog").getByRole("button", { name: "Save as CSV" }).click();
  const name = (await saved).suggestedFilename();
  expect((await noted).ok()).toBe(true);
  // Read by the coordinator.
  await openWorkbench(page, code, "review");
  await page.getByRole("radio", { name: "Access log" }).click();
  await expect(line(page, /./, new RegExp(`eyes of .*${looked.familyName}`)).first()).toBeVisible();
  await expect(log(page).getByText(`Saved ${name}`).first()).toBeVisible();
  expect(isTheirs).toBe(false);
  await expect(line(page, new RegExp(familyName), /^(?!.*Saved)/)).toHaveCount(0);
  await check(page);
  await choose(page, "Kind of line", "files that were saved");
  await expect(log(page).getByText(/^Looked/)).toHaveCount(0);
  await expect(log(page).getByText(`Saved ${name}`).first()).toBeVisible();
  // The log itself is nobody else's.
  for (const username of ["instructor.d1", "student.day"]) {
    const wrong = await pageOf(browser, username);
    const answer = await wrong.request.get(`/api/courses/${course}/access-log`);
    expect(answer.status()).toBe(404);
    await wrong.context().close();
  }
  await instructor.context().close();
});

test("a plan and an audit that the server hands out are noted by it; a name that is none is refused", async ({
  page,
}) => {
  const course = await openWorkbench(page, code, "review");
  const address = `/api/courses/${course}`;
  await page.request.get(`${address}/plan-file`);
  await page.request.get(`${address}/audit?format=csv`);
  const { lines } = await (await page.request.get(`${address}/access-log?kind=exported`)).json();
  const names = lines.map(({ what }: { what: string }) => what);
  expect(names).toEqual(
    expect.arrayContaining([expect.stringMatching(/plan\.json$/), expect.stringMatching(/^audit .*\.csv$/)]),
  );
  for (const name of ["", "   ", "x".repeat(201), "\ud800"])
    expect((await send(page.request, "POST", `${address}/access-log`, application().url, { name })).status()).toBe(400);
});
