/** The registrar's own service, and people and sections by hand beside it. */
import { readFileSync } from "node:fs";
import type { Page } from "@playwright/test";
import { application, choose, expect, openWorkbench, publish, settled, signIn, test } from "./helpers.ts";
import { csv, drop, rows, storeEmptyCourse, toggle } from "./rosters.ts";

test.describe.configure({ mode: "serial" });
const code = "WSH 243";
const registrar = (page: Page, action: string, form: Record<string, string>) =>
  page.request.post(`${application().registrarUrl}/${action}`, { form });
test.beforeAll(() => storeEmptyCourse(code));
test.beforeEach(async ({ page }) => {
  await signIn(page, "coordinator");
});

test("from the registrar: set up, pulled, looked at and applied; trouble is told and nothing happens", async ({
  page,
}) => {
  await openWorkbench(page, code, "intake");
  const feed = page.getByRole("region", { name: "From the registrar" });
  await feed.getByRole("button", { name: "Set up" }).click();
  for (const section of ["D1 Day 1", "EV Evening"])
    await page.getByRole("dialog").getByText(section, { exact: false }).click();
  await page.getByLabel("Every night at").fill("25:00");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("dialog").getByRole("alert")).toContainText("written as 02:30");
  await page.getByLabel("Every night at").fill("02:30");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(feed).toContainText("Draws on 2 classes, pulls nightly at 02:30, waits for you to look");
  await registrar(page, "mood", { mood: "down" });
  await feed.getByRole("button", { name: "Pull now" }).click();
  await expect(page.getByText(/refused \(503\)\. Nothing was taken in/).first()).toBeVisible();
  await registrar(page, "mood", { mood: "well" });
  await feed.getByRole("button", { name: "Pull now" }).click();
  await expect(page.getByText(/rows read, nothing changed yet/)).toBeVisible();
  await page.getByRole("button", { name: "Put away" }).click();
  await expect(feed.getByRole("button", { name: "Put it away" })).toBeVisible();
  await feed.getByRole("button", { name: "Look at it" }).click();
  await page.getByRole("button", { name: "Apply" }).click();
  await expect(page.getByText("0 unplaced", { exact: true })).toBeVisible();
});

test("the registrar's own page adds, moves and drops, and the next pull says so", async ({ page }) => {
  await page.goto(application().registrarUrl);
  await page.getByText(/^D1 Day 1, \d+ students/).click();
  const add = page.getByLabel("Add to D1");
  const [, name] = /^(.*), \d+$/.exec((await add.locator("option").first().textContent()) ?? "") ?? [];
  await page.getByRole("button", { name: "Add to D1" }).click();
  await openWorkbench(page, code, "intake");
  await page.getByRole("button", { name: "Pull now" }).click();
  await expect(toggle(page, "new 1")).toBeVisible();
  await toggle(page, "new 1").click();
  await expect(page.getByText(name ?? "nobody").first()).toBeVisible();
  await page.getByRole("button", { name: "Put away" }).click();
  await page.getByRole("button", { name: "Put it away" }).click();
});

test("people by hand: found in the directory, added to a section, published; the next roster keeps them", async ({
  page,
}) => {
  await openWorkbench(page, code, "intake");
  await page.getByRole("tab", { name: "People" }).click();
  await page.getByRole("button", { name: "Add people" }).click();
  await page.getByLabel("Find in the directory").fill("00310");
  const found = page.getByRole("dialog").getByRole("checkbox", { name: /00310/ });
  await expect(found.first()).toBeVisible();
  const name = (await page.getByRole("dialog").locator("label", { hasText: "00310" }).first().textContent()) ?? "";
  await page.getByRole("dialog").locator("label", { hasText: "00310" }).first().click();
  await choose(page, "Add them to", "EV");
  await page.getByRole("button", { name: "Draft 1 to add" }).click();
  await settled(page);
  await page.getByLabel("Find people").fill((/0031\d+/.exec(name) ?? [""])[0]);
  await expect(page.getByText("added by hand")).toBeVisible();
  await publish(page);
  await openWorkbench(page, code, "intake");
  await drop(page, "evening.csv", csv(rows.filter((row) => row[5] === "EV").slice(1)));
  await toggle(page, "kept by hand 1").click();
  await expect(page.getByText("added by hand, so the roster does not take them out")).toBeVisible();
  await page.getByRole("button", { name: "Put away" }).click();
});

test("a person's page says what is known of them and which roster brought them; removing is drafted and undone", async ({
  page,
}) => {
  await openWorkbench(page, code, "intake");
  await page.getByRole("tab", { name: "People" }).click();
  await choose(page, "Section", "EV");
  const people = page.getByRole("region", { name: "People of the course" });
  await expect(page.getByText(/^\d+ people$/)).toBeVisible();
  await people.getByRole("button").nth(1).click();
  const why = page.getByRole("complementary", { name: "Why" });
  await expect(why).toContainText(/EV, by the roster Registrar, .*, which Ferreira, Jakub took in/);
  await expect(why).toContainText("0 hand-ins, 0 marks, 0 items opened");
  const count = Number.parseInt((await page.getByText(/^\d+ people$/).textContent()) ?? "", 10);
  await people.getByRole("checkbox").first().press("Space");
  await page.getByRole("button", { name: "Remove from their section" }).click();
  await expect(page.getByText(`${count - 1} people`, { exact: true })).toBeVisible();
  await expect(page.getByText("1 change drafted")).toBeVisible();
  await settled(page);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText(`${count} people`, { exact: true })).toBeVisible();
  await page.getByText("Also who left").click();
  await expect(page.getByText(`${count} people`, { exact: true })).toBeVisible();
});

test("a filter of the people goes out as CSV, XLSX, ODS and OneRoster, and comes in again without a difference", async ({
  page,
}) => {
  for (const [format, extension] of [
    ["CSV", "csv"],
    ["XLSX", "xlsx"],
    ["ODS", "ods"],
    ["OneRoster", "zip"],
  ] as const) {
    await openWorkbench(page, code, "intake");
    await page.getByRole("tab", { name: "People" }).click();
    await choose(page, "Section", "D1");
    const count = Number((/(\d+) people/.exec((await page.getByText(/^\d+ people$/).textContent()) ?? "") ?? [])[1]);
    const download = page.waitForEvent("download");
    await page.getByRole("button", { name: format, exact: true }).click();
    const file = await download;
    expect(file.suggestedFilename()).toMatch(new RegExp(`\\.${extension}$`));
    await page.getByRole("tab", { name: "Rosters" }).click();
    await drop(page, file.suggestedFilename(), readFileSync(await file.path()));
    await expect(toggle(page, `same ${count}`)).toBeVisible();
    await expect(page.getByText("No group changes, nobody is left unplaced, and no date moves.")).toBeVisible();
    await page.getByRole("button", { name: "Put away" }).click();
  }
});

test("a section's titles, pattern, no-class days and a moved meeting are drafted as one change", async ({ page }) => {
  await openWorkbench(page, code, "intake");
  await page.getByRole("tab", { name: "Sections" }).click();
  await page.getByRole("button", { name: "Change section D1" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Title that students see").fill("Morning group");
  await dialog.getByLabel("Meets").fill("whenever");
  await expect(dialog.getByText("No day and time can be read here.")).toBeVisible();
  await dialog.getByLabel("Meets").fill("Mon Wed 10:00-11:15 Weir hut");
  await choose(page, "Move a meeting", /^2: /);
  await dialog.getByRole("button", { name: "Draft the change" }).click();
  const row = page.getByRole("row", { name: /^D1/ });
  await expect(row).toContainText("Morning group");
  await expect(row).toContainText("Mon Wed 10:00, 1 moved");
  await expect(row.getByRole("img")).toHaveAttribute("aria-label", /^D1: \d+ now/);
  await page.getByRole("button", { name: "Change no-class days" }).click();
  await dialog.getByRole("textbox").fill("2026-02-30 Never");
  await dialog.getByRole("button", { name: "Draft the change" }).click();
  await expect(dialog.getByRole("alert")).toContainText("does not begin with a day");
  await page.keyboard.press("Escape");
  await expect(page.getByText("1 change drafted")).toBeVisible();
});
