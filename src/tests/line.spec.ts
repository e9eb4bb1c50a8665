/** The line of the top rule: what the tray says can be typed, and is done at Enter. */
import type { Page } from "@playwright/test";
import { beginWithoutDraft, drafted, expect, openWorkbench, test } from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();
const field = (page: Page) => page.getByRole("combobox", { name: "Find any student, group, item or action" });
const offer = (page: Page, name: string | RegExp) => page.getByRole("option", { name });
async function type(page: Page, text: string): Promise<void> {
  await page.keyboard.press("Control+k");
  await field(page).fill(text);
}

test("a change is typed, said as the tray says it, and drafted at Enter", async ({ page }) => {
  await openWorkbench(page, code, "reach");
  await type(page, "kit list for Evening");
  await expect(offer(page, /^Kit list for Evening/)).toContainText("Enter drafts it");
  await page.keyboard.press("Enter");
  await expect(drafted(page)).toContainText("Kit list for Evening");
  await expect(page.getByRole("row", { name: /^Select Kit list/ })).toContainText("Evening, 22 of 104");
  await expect(field(page)).toHaveValue("");
  await type(page, "Lab 1: Float gauging, 00240037: due +1d");
  await expect(offer(page, /^Lab 1: Float gauging for Castellano, \w+: due/)).toBeVisible();
  await page.keyboard.press("Enter");
  await expect(drafted(page)).toContainText(/Lab 1: Float gauging for Castellano, \w+: due/);
  await expect(page.getByText("2 changes drafted")).toBeVisible();
});

test("a word that is not understood is marked with what could stand there; what cannot be says why", async ({
  page,
}) => {
  await openWorkbench(page, code, "reach");
  await type(page, "split Pilots' log along Gauge");
  await expect(offer(page, /^Split Pilots' log along Gauge kits, sealed/)).toBeVisible();
  await type(page, "Kit list for Eve nobody");
  await expect(offer(page, /^"Eve nobody": /)).toBeVisible();
  await page.keyboard.press("Enter");
  // Nothing was done, and nothing that was typed is lost.
  await expect(field(page)).toHaveValue("Kit list for Eve nobody");
  await type(page, "Lab: due fri 5pm");
  await offer(page, /^Lab 1: Float gauging could stand there/).click();
  await expect(field(page)).toHaveValue("Lab 1: Float gauging: due fri 5pm");
  await expect(page.getByText("Nothing is drafted.")).toBeVisible();
});

test("words that people try lead to ours; a message and a look begin from the line", async ({ page, context }) => {
  await openWorkbench(page, code, "reach");
  await type(page, "extension");
  await offer(page, /^Quiz 1, 00240037: due \+1d/).click();
  await expect(field(page)).toHaveValue("Quiz 1, 00240037: due +1d, 3 attempts");
  await type(page, "write to Evening");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("dialog")).toContainText("22 people");
  await page.getByRole("button", { name: "Leave", exact: true }).click();
  await type(page, "look as 00240037 on 2026-11-27");
  const opened = context.waitForEvent("page");
  await page.keyboard.press("Enter");
  const look = await opened;
  await expect(look.getByText(/^Through the eyes of .*Castellano/)).toBeVisible();
  await expect(look.getByText(/27 Nov/).first()).toBeVisible();
});

test("Enter takes the first that is offered, wherever the mouse rests; arrows lead to another", async ({ page }) => {
  await openWorkbench(page, code, "reach");
  await type(page, "write to Evening");
  const third = await page.getByRole("option").nth(2).boundingBox();
  if (!third) throw new Error("three are offered");
  await page.keyboard.press("Escape");
  await page.mouse.move(third.x + 40, third.y + third.height / 2);
  await type(page, "write to Evening");
  await expect(page.getByRole("option").nth(2)).toBeVisible();
  await page.mouse.move(third.x + 41, third.y + third.height / 2);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("dialog")).toContainText("22 people");
  await page.getByRole("button", { name: "Leave", exact: true }).click();
  await type(page, "write to Evening");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await expect(field(page)).toHaveValue(/^write to Evening \w/);
});

test("several lines are several changes, looked at before they are drafted", async ({ page }) => {
  await openWorkbench(page, code, "reach");
  await page.keyboard.press("Control+k");
  await field(page).evaluate((input) => {
    const clipboardData = new DataTransfer();
    clipboardData.setData("text/plain", "hide Kit list\nmove Field card to Readings\nnonsense here");
    input.dispatchEvent(new ClipboardEvent("paste", { clipboardData, bubbles: true, cancelable: true }));
  });
  const dialog = page.getByRole("dialog");
  await expect(dialog).toContainText("Unpublish Kit list");
  await expect(dialog).toContainText("Move Field card to Readings");
  await expect(dialog).toContainText('"nonsense here" is no change');
  await expect(dialog.getByRole("button", { name: "Draft 2 changes" })).toBeDisabled();
  await dialog.getByLabel("Lines").fill("hide Kit list\nmove Field card to Readings");
  await dialog.getByRole("button", { name: "Draft 2 changes" }).click();
  await expect(drafted(page)).toContainText("Move Field card to Readings");
  await page.keyboard.press("?");
  await expect(page.getByRole("dialog", { name: "Shortcuts" })).toContainText("Kit list for Evening, not 00240037");
});
