/** The review: warnings first, a part left out, a moment chosen; the journal, the way back, the plan as it was. */
import { beginWithoutDraft, choose, expect, findItem, openBench, settled, test, why } from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();
const station = (page: import("@playwright/test").Page) =>
  page.getByRole("navigation", { name: "Stations" }).getByRole("link", { name: /^Review/ });

test("from a change to whom it touches, down to one student before and after; a part is left out", async ({ page }) => {
  const id = await openBench(page, code, "reach");
  await findItem(page, "North bank", "folder");
  await page.getByRole("button", { name: "Seal it" }).click();
  await page.getByRole("button", { name: "Kit list", exact: true }).dblclick();
  await page.getByRole("dialog").getByLabel("Title").fill("Kit and boots");
  await page.getByRole("button", { name: "Draft the change" }).click();
  await settled(page);
  await station(page).click();
  const drafted = page.getByRole("region", { name: "Drafted changes" });
  await drafted.getByRole("button", { name: /Rename Kit list.*touches 104 students/ }).click();
  await drafted.getByRole("button", { name: /North bank seals.*touches 39 students/ }).click();
  await page
    .getByRole("button", { name: /^39 students/ })
    .first()
    .click();
  const [look] = await Promise.all([
    page.context().waitForEvent("page"),
    why(page).getByRole("list").getByRole("link").first().click(),
  ]);
  await expect(look.getByText("Before and after what is drafted")).toBeVisible();
  await expect(look.getByRole("row").filter({ hasText: "North bank notes" })).toContainText("not there");
  await look.close();
  await drafted.getByRole("checkbox", { name: /North bank seals/ }).press("Space");
  await expect(page.getByText("1 of them stay drafted")).toBeVisible();
  await page.getByRole("button", { name: /^Publish( to .*)?$/ }).click();
  await expect(page.getByText("Published. Everyone sees it now.")).toBeVisible();
  await expect(page.getByText("1 change drafted")).toBeVisible();
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const titles = Object.values<{ title: string; seals: boolean }>(plan.items);
  expect(titles.some(({ title }) => title === "Kit and boots")).toBe(true);
  expect(titles.find(({ title }) => title === "North bank")?.seals).toBe(false);
});

test("what was published is found in the journal, reverted in a new draft, and the plan as it was is shown", async ({
  page,
}) => {
  await openBench(page, code, "review");
  await page.getByRole("radio", { name: "Journal" }).click();
  await page.getByRole("textbox", { name: "Search the journal" }).fill("boots");
  await page.getByRole("button", { name: "Rename Kit list to Kit and boots" }).click();
  await expect(why(page).getByText('"Kit and boots", title: Kit list to Kit and boots')).toBeVisible();
  await page.getByRole("button", { name: "Revert in a new draft" }).click();
  await expect(page.getByText("1 change drafted")).toBeVisible();
  await page.getByRole("radio", { name: "Draft" }).click();
  await expect(page.getByRole("button", { name: /^Revert: Rename Kit list/ })).toBeVisible();
  await page.getByRole("button", { name: /^Publish( to .*)?$/ }).click();
  await expect(page.getByText("Published. Everyone sees it now.")).toBeVisible();
  await page.getByRole("radio", { name: "Journal" }).click();
  await choose(page, "Kind of line", "publications");
  await expect(page.getByRole("button", { name: /^Revert: Rename Kit list/ })).toBeVisible();
  // Before any of it the list had its name; nothing can be changed while that is looked at.
  await page.getByRole("group", { name: "The plan as it was" }).getByRole("spinbutton").first().click();
  await page.keyboard.type("20112026");
  await page.keyboard.type("0900");
  await page.getByRole("button", { name: "Show the plan as it was" }).click();
  await expect(page.getByText(/as it was published on Fri 20 Nov, 09:00/)).toBeVisible();
  await findItem(page, "North bank", "folder");
  await page.getByRole("button", { name: "Seal it" }).click();
  await expect(page.getByText("You look at the plan as it was. Go back to now, then change it.")).toBeVisible();
  await page.getByRole("button", { name: "Back to now" }).click();
  await expect(page.getByText(/as it was published on/)).toBeHidden();
});

test("nothing is published before it is counted whom it touches; where that fails it is said", async ({ page }) => {
  let goOn = () => {};
  const held = new Promise<void>((resolve) => {
    goOn = resolve;
  });
  await page.route(/\/review-[^/]*\.js/, async (route) => {
    await held;
    await route.abort();
  });
  await openBench(page, code, "reach");
  await findItem(page, "North bank", "folder");
  await page.getByRole("button", { name: "Seal it" }).click();
  await expect(page.getByTestId("touched")).toHaveText("counting whom it touches");
  await station(page).click();
  const publish = page.getByRole("button", { name: /^Publish( to .*)?$/ });
  await expect(publish).toBeDisabled();
  await expect(page.getByRole("main").getByText("Counting whom the draft touches")).toBeVisible();
  goOn();
  await expect(page.getByTestId("touched")).toContainText("could not be counted on this page");
  await expect(publish).toBeDisabled();
  // Another question starts another worker.
  await page.unrouteAll();
  await page.getByRole("button", { name: "Undo", exact: true }).click();
  await page.getByRole("button", { name: "Redo", exact: true }).click();
  await expect(page.getByTestId("touched")).toHaveText("touches 39 students");
  await expect(page.getByText("touches 39 students").last()).toBeVisible();
  await expect(publish).toBeEnabled();
  await page.keyboard.press("Control+z");
  await expect(page.getByText("Nothing is drafted", { exact: true })).toBeVisible();
});

test("a publication is planned for a moment, waits in sight, and is taken back", async ({ page }) => {
  await openBench(page, code, "reach");
  await findItem(page, "North bank", "folder");
  await page.getByRole("button", { name: "Seal it" }).click();
  await page.getByRole("button", { name: "Review", exact: true }).click();
  await page.getByRole("button", { name: "At a moment" }).click();
  await page.getByRole("button", { name: "Plan it" }).click();
  await expect(page.getByText(/1 change will be published on Thu 26 Nov, 07:00/)).toBeVisible();
  await expect(page.getByRole("button", { name: "Undo", exact: true })).toBeDisabled();
  await page.getByRole("button", { name: "Take back into the draft" }).click();
  await expect(page.getByRole("button", { name: /North bank seals/ })).toBeVisible();
  await page.keyboard.press("Control+z");
  await expect(page.getByText("Nothing is drafted", { exact: true })).toBeVisible();
});

test("what is handed in and goes out of sight is warned of first", async ({ page }) => {
  await openBench(page, code, "reach");
  await findItem(page, "Lab 1: Float gauging");
  await page.getByRole("button", { name: "Unpublish" }).click();
  await page.getByRole("button", { name: "Review", exact: true }).click();
  await expect(page.getByRole("main").getByText(/\d+ lose work they did/)).toBeVisible();
  await expect(page.getByRole("region", { name: "Effects on people" }).getByRole("listitem").first()).toContainText(
    "what they handed in or were marked for in Lab 1: Float gauging goes out of their sight",
  );
});
