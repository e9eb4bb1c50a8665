/** Placement rules: the order decides, each says whom it takes, and who falls through is counted. */
import AxeBuilder from "@axe-core/playwright";
import type { Page } from "@playwright/test";
import { expect, openWorkbench, settled, signIn, test } from "./helpers.ts";

async function openRules(page: Page, layer: RegExp, button: string) {
  await signIn(page, "coordinator");
  await openWorkbench(page, "WSH 240", "placement");
  await page.getByRole("tab", { name: layer }).click();
  await page.getByRole("button", { name: button }).click();
  return page.getByRole("dialog");
}
const rule = (page: Page, number: number) => page.getByRole("listitem", { name: `Rule ${number}` });

test("two sections into one group, by order and by attribute, with live counts; drafted and undone", async ({
  page,
}) => {
  const dialog = await openRules(page, /^Sections/, "Change the rules");
  await expect(rule(page, 1)).toContainText("takes 34");
  await expect(dialog.getByText("0 of 104 students fall through")).toBeVisible();
  // The second section joins the first, before a rule of its own can take it.
  await rule(page, 1).getByRole("button", { name: "Section" }).click();
  await page.getByRole("option", { name: /^D2/ }).click();
  await expect(rule(page, 1)).toContainText("takes 65");
  await expect(rule(page, 2)).toContainText("takes 0");
  await page.getByRole("button", { name: "Rule 2 up" }).press("Enter");
  await expect(rule(page, 1)).toContainText("takes 31");
  await page.getByRole("button", { name: "Drop rule 1" }).click();
  await rule(page, 1).getByRole("button", { name: "And column" }).click();
  await page.getByRole("option", { name: "Entry score" }).click();
  await expect(dialog.getByRole("button", { name: "Draft the rules" })).toBeDisabled();
  await rule(page, 1).getByRole("button", { name: "Test" }).click();
  await page.getByRole("option", { name: "is between" }).click();
  await rule(page, 1).getByLabel("From", { exact: true }).fill("0");
  await rule(page, 1).getByLabel("To", { exact: true }).fill("65");
  await expect(dialog.getByText(/^[1-9]\d* of 104 students fall through: .+ and \d+ more$/)).toBeVisible();
  const { violations } = await new AxeBuilder({ page }).include("[role=dialog]").analyze();
  expect(violations.map(({ id }) => id)).toEqual([]);
  await rule(page, 1).getByLabel("To", { exact: true }).fill("100");
  await expect(rule(page, 1)).toContainText("takes 65");
  await dialog.getByRole("button", { name: "Draft the rules" }).click();
  await expect(page.getByTestId("touched")).toHaveText("touches 31 students");
  await expect(page.getByText("D1 or D2, Entry score is between 0 and 100 into Day 1")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("Nothing is drafted.", { exact: false })).toBeVisible();
  await settled(page);
});

test("a layer placed by hand begins to follow and loses nobody; it stops, and all stay", async ({ page }) => {
  const dialog = await openRules(page, /^Gauge kits/, "Let it follow the sections");
  const figures = page.getByText(/^\d+ placed$/);
  const placed = Number((await figures.textContent())?.split(" ")[0]);
  await dialog.getByRole("button", { name: "Add a rule" }).click();
  await expect(rule(page, 1)).toContainText("takes 104");
  await rule(page, 1).getByRole("button", { name: "Into" }).click();
  await page.getByRole("option", { name: "Kit alder" }).click();
  await dialog.getByRole("button", { name: "Draft the rules" }).click();
  // Whoever had a kit keeps it, held where it is another; all others get the first.
  await expect(page.getByText("104 placed", { exact: true })).toBeVisible();
  await expect(page.getByTestId("touched")).toHaveText(`touches ${104 - placed} students`);
  await expect(page.getByText("0 held", { exact: true })).toHaveCount(0);
  await page.getByRole("button", { name: "Change the rules" }).click();
  await page.getByRole("button", { name: "Stop following, keep everyone" }).click();
  await expect(page.getByText("104 placed", { exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(figures).toHaveText(`${placed} placed`);
  await settled(page);
});
