/** A layer of the demo course in one of Placement's views, and leaving it as it was found. */
import type { Page } from "@playwright/test";
import { expect, openWorkbench, settled, signIn } from "./helpers.ts";

/** Opens a layer in a view, as the coordinator; gives the id of the course. */
export async function openLayer(page: Page, layer: RegExp, view: string): Promise<string> {
  await signIn(page, "coordinator");
  const id = await openWorkbench(page, "WSH 240", "placement");
  await page.getByRole("tab", { name: layer }).click();
  await page.getByRole("button", { name: view, exact: true }).click();
  return id;
}
export const column = (page: Page, name: string) => page.getByRole("listbox", { name: new RegExp(`^${name}, `) });
export const drafted = (page: Page, count: number) =>
  expect(page.getByText(`${count} change`, { exact: false })).toBeVisible();
/** Takes so many steps back, after which nothing is drafted. */
export async function undo(page: Page, times: number): Promise<void> {
  for (let time = 0; time < times; time++) await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("Nothing is drafted.")).toBeVisible();
  await settled(page);
}
