/** What axe finds on a page: nothing. */
import AxeBuilder from "@axe-core/playwright";
import type { Page } from "@playwright/test";
import { expect } from "./helpers.ts";

const everything = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"];

/** In dark only colours are other than in light, so only contrast is asked about again. */
export async function check(page: Page, scheme: "light" | "dark" = "light"): Promise<void> {
  // An open bench listens as long as it is there, so that the network is never idle.
  await page.waitForLoadState("load");
  await expect(page.locator("main, [role=dialog]").first()).toBeVisible();
  const axe = new AxeBuilder({ page });
  const { violations } = await (scheme === "dark"
    ? axe.withRules(["color-contrast"])
    : axe.withTags(everything)
  ).analyze();
  expect(
    violations.map(
      ({ id, nodes }) =>
        `${id}: ${nodes
          .slice(0, 3)
          .map(({ html }) => html.slice(0, 160))
          .join(" | ")}`,
    ),
  ).toEqual([]);
}
