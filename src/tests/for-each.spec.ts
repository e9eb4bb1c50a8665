/** One gesture for many: one for each group of a layer, and for whom as people have it, typed or pasted. */
import type { Locator, Page } from "@playwright/test";
import { beginWithoutDraft, choose, drafted, expect, openWorkbench, settled, test, why } from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();
const row = (page: Page, title: string) => page.getByRole("button", { name: title, exact: true });
const dialogOf = (page: Page) => page.getByRole("dialog");
/** As a mail or a spreadsheet leaves it on the clipboard. */
const paste = (field: Locator, text: string) =>
  field.evaluate((input, pasted) => {
    const clipboardData = new DataTransfer();
    clipboardData.setData("text/plain", pasted);
    input.dispatchEvent(new ClipboardEvent("paste", { clipboardData, bubbles: true, cancelable: true }));
  }, text);

test("a new folder for each group of a layer is one change, named by a pattern, and undone as one", async ({
  page,
}) => {
  await openWorkbench(page, code, "reach");
  await page.getByRole("button", { name: "New item" }).click();
  const dialog = dialogOf(page);
  await dialog.getByLabel("Title").fill("folder");
  await dialog.getByRole("radio", { name: "One for each group" }).click();
  await expect(dialog.getByLabel("Title")).toHaveValue("{group} folder");
  await expect(dialog).toContainText("4 items, each for its own group alone: Day 1, Day 2, Evening, Distance");
  await dialog.getByLabel("Title").fill("{team} folder");
  await expect(dialog).toContainText("{team} is not known here");
  await expect(dialog.getByRole("button", { name: "Draft a folder for each" })).toBeDisabled();
  await dialog.getByLabel("Title").fill("{group} folder");
  await dialog.getByRole("button", { name: "Draft a folder for each" }).click();
  await expect(drafted(page)).toContainText("New folder {group} folder for each group of Sections");
  await expect(row(page, "Evening folder")).toBeVisible();
  await expect(page.getByRole("row", { name: /Evening folder/ })).toContainText("Evening, 22 of 104");
  await settled(page);
  await page.getByRole("button", { name: "Undo", exact: true }).click();
  await expect(row(page, "Evening folder")).toHaveCount(0);
  await expect(row(page, "Day 1 folder")).toHaveCount(0);
});

test("a folder that is there becomes one for each, with what lies in it", async ({ page }) => {
  await openWorkbench(page, code, "reach");
  await page.getByRole("checkbox", { name: "Select Readings", exact: true }).click();
  await page.getByRole("button", { name: "One for each group" }).click();
  await expect(dialogOf(page).getByLabel("Title")).toHaveValue("{group} Readings");
  await page.getByRole("button", { name: "Draft one for each" }).click();
  await expect(drafted(page)).toContainText("Readings: one for each group of Sections");
  await expect(row(page, "Day 1 Readings")).toBeVisible();
  // A private layer is not told by a title.
  await page.getByRole("checkbox", { name: "Select Start here", exact: true }).click();
  await page.getByRole("button", { name: "One for each group" }).click();
  await choose(page, "Each group of", "Writing support");
  await dialogOf(page).getByLabel("Behind each title").fill("{group}");
  await expect(dialogOf(page)).toContainText("Writing support is private");
  await expect(page.getByRole("button", { name: "Draft one for each" })).toBeDisabled();
});

test("for whom takes a pasted list; what fits nobody or several is told, and Enter takes the first offer", async ({
  page,
}) => {
  await openWorkbench(page, code, "reach");
  await page.getByRole("button", { name: "New item" }).click();
  const dialog = dialogOf(page);
  await dialog.getByLabel("Title").fill("Kit");
  await dialog.getByRole("radio", { name: "Only some" }).click();
  // Nobody is named yet: that is not drafted.
  await expect(dialog.getByRole("button", { name: "Draft the folder" })).toBeDisabled();
  const field = () => dialog.getByLabel("Groups, sections and persons");
  await paste(field(), "00240037\tCastellano\tJarlath\nEvening\nNobody Here\n");
  await expect(dialog.getByText("23 students")).toBeVisible();
  await expect(dialog.getByRole("status")).toContainText("1 name left over");
  await expect(dialog.getByRole("status")).toContainText("Nobody Here fits nobody here");
  await dialog.getByRole("button", { name: "Leave it out" }).click();
  await expect(dialog.getByText("left over")).toHaveCount(0);
  await field().fill("day 2");
  await page.keyboard.press("Enter");
  await expect(field()).toHaveValue("");
  await expect(dialog.getByRole("button", { name: "Leave out Day 2" })).toBeVisible();
  // A whole layer stands for all of its groups.
  await field().fill("sections");
  await page.getByRole("option", { name: /Sections all 4 groups/ }).click();
  await expect(dialog.getByText("104 students")).toBeVisible();
  await dialog.getByRole("button", { name: "Draft the folder" }).click();
  await expect(why(page).getByRole("heading", { name: "Kit" })).toBeVisible();
});

test("the field of the top rule takes the first offer at Enter, an exact name before others", async ({ page }) => {
  await openWorkbench(page, code, "placement");
  const find = page.getByRole("combobox", { name: "Find any student, group, item or action" });
  await find.fill("evening");
  await page.keyboard.press("Enter");
  await expect(why(page).getByRole("heading", { name: "Evening" })).toBeVisible();
  await expect(find).toHaveValue("");
});
