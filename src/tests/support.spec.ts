/** Support people: their students first, each with all that is known of them; and whoever was given nobody asks for some. */
import type { Page } from "@playwright/test";
import { v7 } from "uuid";
import { check } from "./accessible.ts";
import { application, courseId, drafted, expect, pageOf, send, settled, signIn, test, why } from "./helpers.ts";

const code = "WSH 240";
const open = (page: Page) => page.getByRole("link", { name: new RegExp(code) }).click();
const students = (page: Page) => page.getByRole("region", { name: "Your students" });

test("whoever was given nobody is told whom to ask, asks at a press, and is read by the coordinator", async ({
  page,
  browser,
}) => {
  await signIn(page, "support.access");
  const id = await courseId(page, code);
  await open(page);
  await expect(page.getByText("Jakub Ferreira can give you the sections and groups")).toBeVisible();
  await check(page);
  await page.getByLabel("Whom you are here for").fill("The access plans, please.");
  await page.getByRole("button", { name: "Ask Jakub Ferreira" }).press("Enter");
  await expect(page.getByRole("status").filter({ hasText: "You asked on Wed 25 Nov, 10:00." })).toBeVisible();
  await page.reload();
  await expect(page.getByRole("button", { name: "Ask again" })).toBeVisible();
  const coordinator = await pageOf(browser, "coordinator");
  await coordinator.goto(`/course/${id}/notices`);
  await expect(coordinator.getByRole("article").first()).toContainText("The access plans, please.");
  await expect(coordinator.getByRole("article").first()).toContainText("Rania Keating");
  // Whoever has students, or all of them, has nothing to ask for here; a request without a text says what it is.
  const ask = { id: v7(), text: "" };
  const address = `/api/courses/${id}/staff/ask`;
  const mine = await pageOf(browser, "support.writing");
  for (const other of [coordinator, mine])
    expect((await send(other.request, "POST", address, application().url, ask)).status()).toBe(404);
  for (const _ of ["once", "and the same again"])
    expect((await send(page.request, "POST", address, application().url, ask)).status()).toBe(200);
  await coordinator.reload();
  await expect(coordinator.getByText("I was given nobody in this course yet.")).toHaveCount(1);
  await coordinator.context().close();
  await mine.context().close();
});

test("their students come first: groups, dues, work, notes; a note and an allowance by keyboard", async ({
  page,
  browser,
}) => {
  await signIn(page, "support.writing");
  const id = await courseId(page, code);
  await open(page);
  await expect(page.getByText("11 students")).toBeVisible();
  await check(page);
  const first = students(page).getByRole("button").first();
  const name = (await first.textContent()) ?? "";
  await first.focus();
  await page.keyboard.press("Enter");
  await expect(first).toHaveAttribute("aria-pressed", "true");
  await expect(why(page).getByRole("heading", { name })).toBeVisible();
  // Into a group is not theirs to put anybody.
  await expect(why(page).getByRole("button", { name: "Into a group" })).toHaveCount(0);
  await why(page).getByRole("button", { name: "Leave a note for staff" }).press("Enter");
  await page.keyboard.type("Reads aloud better than on paper.");
  await why(page).getByRole("button", { name: "Keep the note" }).press("Enter");
  await page.getByRole("textbox", { name: "Find students" }).fill("zzz");
  await expect(page.getByText("0 of 11 students")).toBeVisible();
  await page.getByRole("textbox", { name: "Find students" }).fill(name.split(",")[0] ?? "");
  await why(page).getByRole("button", { name: "Allowance" }).press("Enter");
  const dialog = page.getByRole("dialog");
  await expect(dialog.getByText(name)).toBeVisible();
  await dialog.getByLabel("Days more, for due and closes").fill("3");
  await page.keyboard.press("Enter");
  await expect(drafted(page)).toContainText(`Allowance for ${name}: 3 days more`);
  await expect(students(page)).toContainText("3 days more");
  await settled(page);
  await page.getByRole("button", { name: "Undo" }).click();
  await settled(page);
  await page.reload();
  await expect(students(page).getByText("1 note")).toBeVisible();
  await why(page).getByRole("button", { name: "Take away: Reads aloud" }).press("Enter");

  // The same for somebody who is not theirs, or where it is not allowed, is refused by the server.
  const coordinator = await pageOf(browser, "coordinator");
  const { plan } = await (await coordinator.request.get(`/api/courses/${id}/plan`)).json();
  const { plan: within, scope } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const theirs = Object.values<{ personId: string; role: string }>(within.enrolments).filter(
    ({ role }) => role === "student",
  );
  const other = Object.values<{ personId: string; role: string; until: number | null }>(plan.enrolments).find(
    ({ role, until, personId }) =>
      role === "student" && until === null && !theirs.some((one) => one.personId === personId),
  );
  const draft = (personId: string | undefined) => {
    const allowance = { id: v7(), target: { kind: "person", id: personId }, extraDays: 3 };
    const command = {
      id: v7(),
      kind: "allowance.set",
      allowance: { minutesFactor: null, extraAttempts: null, ...allowance },
    };
    return send(page.request, "POST", `/api/courses/${id}/draft`, application().url, { commands: [command] });
  };
  expect((await draft(other?.personId)).status()).toBe(409);
  const given = { role: "support", sectionIds: [], groupIds: scope.groupIds, may: [] as string[] };
  const give = (may: string[]) =>
    send(coordinator.request, "POST", `/api/courses/${id}/staff`, application().url, {
      change: scope.personId,
      given: { ...given, may },
    });
  expect((await give([])).status()).toBe(200);
  const refused = await draft(theirs[0]?.personId);
  expect([refused.status(), (await refused.json()).detail]).toEqual([409, expect.stringContaining("Allowances are")]);
  expect((await give(["set allowances"])).status()).toBe(200);
  await coordinator.context().close();
});
