/** What axe finds on a page: nothing. */
import AxeBuilder from "@axe-core/playwright";
import type { Page } from "@playwright/test";
import { expect } from "./helpers.ts";

const everything = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"];

/**
 * Asks of the whole page or, where a dialog is open, of that: what lies under it was asked before and is out of reach.
 * In dark only colours are other than in light, so only contrast is asked about again.
 */
export async function check(page: Page, scheme: "light" | "dark" = "light"): Promise<void> {
  // An open workbench listens as long as it is there, so that the network is never idle.
  await page.waitForLoadState("load");
  await expect(page.locator("main, [role=dialog]").first()).toBeVisible();
  const axe = new AxeBuilder({ page })
    // There are no frames of other origins: axe runs in the page itself, at a sixth of the time.
    .setLegacyMode(true)
    // Nothing is put together of what passes: a path to each of a thousand elements is most of the work.
    .options({ resultTypes: ["violations"] });
  if (await page.getByRole("dialog").count()) axe.include("[role=dialog]");
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
