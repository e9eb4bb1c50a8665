/** What is ticked takes dates, leads and messages at once. */
import { check } from "./accessible.ts";
import { beginWithoutDraft, choose, drafted, expect, openWorkbench, test } from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();

test("items that are ticked take dates, for everyone or for some; what is left empty stays", async ({ page }) => {
  await openWorkbench(page, code, "reach");
  for (const title of ["Kit list", "Field card"]) await page.getByRole("checkbox", { name: `Select ${title}` }).click();
  await page.getByRole("toolbar").getByRole("button", { name: "Dates" }).click();
  const dialog = page.getByRole("dialog", { name: "Dates: 2 items" });
  await expect(dialog.getByRole("button", { name: "Draft the dates" })).toBeDisabled();
  await dialog.getByLabel("Closes").fill("someday");
  await expect(dialog.getByText(/Type a date such as/)).toBeVisible();
  await expect(dialog.getByRole("button", { name: "Draft the dates" })).toBeDisabled();
  await dialog.getByLabel("Closes").fill("fri 4 dec 17:00");
  await check(page);
  await dialog.getByLabel("For some alone (empty: for everyone)").fill("evening");
  await page.keyboard.press("Enter");
  await dialog.getByRole("button", { name: "Draft the dates" }).click();
  await expect(drafted(page)).toContainText("2 items for Evening: closes Fri 4 Dec, 17:00");
});

test("groups that are ticked take a lead each, people who are ticked lead their groups", async ({ page }) => {
  await openWorkbench(page, code, "placement");
  await page.getByRole("tab", { name: /River teams/ }).click();
  await page.getByRole("button", { name: "Groups", exact: true }).click();
  for (const name of ["Day 1 team 1", "Day 1 team 2"])
    await page.getByRole("checkbox", { name: `Select ${name}`, exact: true }).click();
  await choose(page, "A lead for each of them", "first by name");
  await expect(drafted(page)).toContainText(/leads? /i);
  await expect(page.getByText("1 change drafted")).toBeVisible();
  await page.getByRole("button", { name: "Flow", exact: true }).click();
  const person = page.getByRole("region", { name: "People" }).getByRole("checkbox").nth(1);
  const name = (await person.getAttribute("aria-label"))?.replace("Select ", "") ?? "";
  await person.click();
  await page.getByRole("button", { name: "Lead", exact: true }).click();
  await expect(page.getByText("2 changes drafted")).toBeVisible();
  await expect(drafted(page)).toContainText(name.split(",")[0] ?? "");
});
