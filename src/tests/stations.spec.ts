/** The stations by hand, as a coordinator uses them: each test undoes what it drafted. In the demo course. */
import type { Page } from "@playwright/test";
import { v7 } from "uuid";
import {
  beginWithoutDraft,
  drafted,
  expect,
  filterText,
  findItem,
  openWorkbench,
  publish,
  send,
  station,
  test,
  why,
} from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();

test.describe("totals", () => {
  const grid = (page: Page) => page.getByRole("grid", { name: "Marks" });
  test("settings are tried on the marks as they are, drafted, and a total opens to its steps", async ({ page }) => {
    await openWorkbench(page, code, "gradebook");
    await filterText(page).fill("Farrokhzad Thandiwe");
    const total = grid(page).getByRole("button", { name: /^Total of Farrokhzad, Thandiwe/ });
    const before = await total.textContent();
    await page.getByRole("button", { name: "Totals" }).click();
    const dialog = page.getByRole("dialog");
    await expect(dialog).toContainText("Tried on the marks as they are: 0 totals higher, 0 lower");
    await dialog.getByText("Missing counts as zero").click();
    await expect(dialog).toContainText(/Tried on the marks as they are: 0 totals higher, [1-9]\d* lower/);
    for (const [at, name, weight] of [
      [0, "Labs", "60"],
      [1, "Quizzes", "40"],
    ] as const) {
      await dialog.getByRole("button", { name: "Add a category" }).click();
      await dialog.getByLabel("Name of the category").nth(at).fill(name);
      await dialog.getByLabel(`Weight of ${name}`).fill(weight);
    }
    await dialog.getByLabel("Lowest dropped of Quizzes").fill("1");
    for (const [column, category] of [
      ["Lab 1: Float gauging", "Labs"],
      ["Lab 2: Current meter", "Labs"],
      ["Quiz 1: Units and precision", "Quizzes"],
      ["Quiz 2: The water balance", "Quizzes"],
    ] as const) {
      await dialog.getByRole("button", { name: `Category of ${column}` }).click();
      await page.getByRole("option", { name: category }).click();
    }
    await dialog.getByLabel(/^Scale/).fill("Merit sixty");
    await expect(dialog).toContainText("is not a word and a percentage, such as Merit 60.");
    await expect(dialog.getByRole("button", { name: "Draft it" })).toBeDisabled();
    await dialog.getByLabel(/^Scale/).fill("Merit 60\nPass 10");
    await dialog.getByRole("button", { name: "Draft it" }).click();
    await expect(page.getByRole("region", { name: "Draft" })).toContainText(
      "Totals of Labs 60, Quizzes 40, missing as zero",
    );
    await expect(total).toContainText(/%, (Merit|Pass)/);
    expect(await total.textContent()).not.toBe(before);
    await grid(page).getByRole("gridcell").first().getByRole("button").click();
    await page.keyboard.press("t");
    await expect(why(page)).toContainText("60.0 % of the total");
    await expect(why(page)).toContainText("dropped as one of the lowest");
    await expect(why(page)).toContainText("In no category, so not counted:");
    // A total can be asked for in a filter.
    await filterText(page).fill("total>=0");
    await expect(page.getByText(/^[1-9]\d* of 104 students$/)).toBeVisible();
  });
});

test.describe("gradebook", () => {
  const grid = (page: Page) => page.getByRole("grid", { name: "Marks" });
  test("x excuses, Delete takes a mark away, a comma is a decimal point", async ({ page }) => {
    await openWorkbench(page, code, "gradebook");
    const cell = grid(page)
      .getByRole("button", { name: /, Quiz 1: Units and precision: [\d.]+ of 10/ })
      .first();
    const name = ((await cell.getAttribute("aria-label")) ?? "").replace(/: [\d.]+ of 10.*/, "");
    const mine = (state: string) => grid(page).getByRole("button", { name: `${name}: ${state}` });
    await cell.click();
    await page.keyboard.type("x");
    await page.keyboard.press("Enter");
    await expect(mine("excused")).toBeVisible();
    await mine("excused").click();
    await page.keyboard.type("7,5");
    await page.keyboard.press("Enter");
    await expect(mine("7.5 of 10")).toBeVisible();
    await mine("7.5 of 10").click();
    await page.keyboard.press("Delete");
    await expect(grid(page).getByRole("button", { name: new RegExp(`${name}: (handed in|missing)`) })).toBeVisible();
  });
  test("after a publication the filter, and what is looked at, stay", async ({ page }) => {
    const id = await openWorkbench(page, code, "gradebook");
    const origin = new URL(page.url()).origin;
    const title = async (to: string) => {
      const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
      const [item] = Object.values<{ id: string }>(plan.items);
      const command = { id: v7(), kind: "item.change", itemId: item?.id, fields: { title: to } };
      await send(page.request, "POST", `/api/courses/${id}/draft`, origin, { commands: [command] });
      return (plan.items[item?.id ?? ""] as { title: string }).title;
    };
    await filterText(page).fill("group:Evening");
    const was = await title("Called otherwise");
    await expect(drafted(page)).toContainText("1 change drafted");
    await publish(page);
    // One is back where the review was opened from.
    await expect(station(page, "Gradebook")).toBeVisible();
    await expect(filterText(page)).toHaveValue("group:Evening");
    await expect(page.getByText("22 of 104 students")).toBeVisible();
    await title(was);
    await expect(drafted(page)).toContainText("1 change drafted");
    await publish(page);
  });
  test("Tab keeps a mark and goes to the right, Escape puts back", async ({ page }) => {
    await openWorkbench(page, code, "gradebook");
    const cell = grid(page)
      .getByRole("button", { name: /, Lab 1: Float gauging: [\d.]+ of 20/ })
      .first();
    const person = ((await cell.getAttribute("aria-label")) ?? "").split(", Lab 1")[0];
    await cell.click();
    await page.keyboard.type("11.25");
    await page.keyboard.press("Tab");
    await expect(
      grid(page).getByRole("button", { name: `${person}, Lab 1: Float gauging: 11.25 of 20` }),
    ).toBeVisible();
    const next = grid(page).getByRole("button", { name: `${person}, Lab 2: Current meter: ` });
    await expect(next).toBeFocused();
    const before = await next.getAttribute("aria-label");
    await page.keyboard.type("3");
    await page.keyboard.press("Escape");
    await expect(next).toHaveAttribute("aria-label", before ?? "");
  });
  test("a filter is saved unpinned, pinned, unpinned and removed", async ({ page }) => {
    await openWorkbench(page, code, "gradebook");
    const text = filterText(page);
    await text.fill("late section:D1");
    await page.getByRole("button", { name: "Save filter" }).click();
    await page.getByRole("dialog").getByLabel("Name").fill("Late in D1");
    await page.getByText("Pin it: shown above the grid, on a number key").click();
    await page.getByRole("button", { name: "Save", exact: true }).click();
    await expect(page.getByRole("button", { name: "Saved filters" })).toBeVisible();
    await page.getByRole("button", { name: "Pin", exact: true }).click();
    const pin = page.getByRole("button", { name: /Late in D1 \d+$/ });
    await expect(pin).toBeVisible();
    await pin.click();
    await expect(page.getByText("104 of 104 students")).toBeVisible();
    await pin.click();
    await page.getByRole("button", { name: "Unpin" }).click();
    await page.getByRole("button", { name: "Remove the filter Late in D1" }).click();
    await expect(page.getByRole("button", { name: "Save filter" })).toBeVisible();
  });
  test("the Why panel tells how a student stands, with their own due and the way to the item", async ({ page }) => {
    await openWorkbench(page, code, "gradebook");
    await page
      .getByRole("combobox", { name: "Filter", exact: true })
      .fill('group:Evening status@"Lab 4: Rating the weir":"handed in"');
    await grid(page)
      .getByRole("button", { name: /Lab 4: Rating the weir: handed in/ })
      .first()
      .click();
    await expect(why(page)).toContainText("Due for them on Wed 2 Dec, 18:00.");
    await expect(why(page)).toContainText("Handed in on");
    await expect(why(page)).toContainText("They come to it through the folder Gauging labs.");
  });
});

test.describe("the frame", () => {
  test("the command field finds a person, a group, an item and an action", async ({ page }) => {
    await openWorkbench(page, code, "intake");
    const find = async (words: string, option: RegExp) => {
      await page.keyboard.press("Control+k");
      await page.keyboard.type(words);
      await page.getByRole("option", { name: option }).first().click();
    };
    await find("kit alder", /Kit alder/);
    await expect(page.getByRole("tab", { name: "Gauge kits" })).toHaveAttribute("aria-selected", "true");
    await find("pilots' log", /Pilots' log/);
    await expect(why(page).getByRole("heading", { name: "Pilots' log" })).toBeVisible();
    await find("shortcuts", /List the shortcuts/);
    await expect(page.getByRole("dialog", { name: "Shortcuts" })).toBeVisible();
    await page.keyboard.press("Escape");
  });
  test("stations have addresses of their own, and back goes back", async ({ page }) => {
    const id = await openWorkbench(page, code, "intake");
    await page.getByRole("navigation", { name: "Stations" }).getByRole("link", { name: "Timing" }).click();
    await expect(page).toHaveURL(`/workbench/${id}/timing`);
    await page.goBack();
    await expect(page.getByRole("heading", { name: "Drop the registrar's rosters here" })).toBeVisible();
    await page.goto(`/workbench/${id}/nowhere`);
    await expect(page.getByRole("heading", { name: "There is nothing at this address" })).toBeVisible();
    await page.goto(`/workbench/${id}/intake`);
  });
  test("the Why panel folds away, and colours turn and are remembered", async ({ page }) => {
    await openWorkbench(page, code, "reach");
    await page.getByRole("button", { name: "Why" }).click();
    await expect(page.getByText("Course-wide indexes")).toBeHidden();
    await page.getByRole("button", { name: "Why" }).click();
    await expect(page.getByText("Course-wide indexes")).toBeVisible();
    await page.getByRole("button", { name: "Dark colours" }).click();
    await page.reload();
    await expect(page.locator("html")).toHaveAttribute("data-theme", "dark");
    await page.getByRole("button", { name: "Light colours" }).click();
  });
  test("the review lists what each group gains, and undo all empties the draft", async ({ page }) => {
    await openWorkbench(page, code, "reach");
    await findItem(page, "Notes for next year");
    await page.getByRole("button", { name: "Make it published" }).click();
    await page.getByRole("button", { name: "Review" }).click();
    for (const name of ["Day 1", "Day 2", "Evening", "Distance"]) {
      await expect(page.getByRole("row", { name: new RegExp(`${name}.*Notes for next year`) })).toBeVisible();
    }
    await page.getByRole("button", { name: /^104 students/ }).click();
    await expect(why(page).getByRole("list").getByRole("link").first()).toBeVisible();
    await page.getByRole("button", { name: "Undo all" }).click();
    await expect(page.getByRole("heading", { name: "Nothing is drafted" })).toBeVisible();
  });
});

test.describe("where one was", () => {
  test("view, layer and what is selected stand in the address: reload, back and other stations keep them", async ({
    page,
  }) => {
    const id = await openWorkbench(page, code, "reach");
    await findItem(page, "Lab 1: Float gauging");
    await expect(page).toHaveURL(new RegExp(`/workbench/${id}/reach\\?.*item=`));
    await page.reload();
    await expect(why(page).getByRole("heading", { name: "Lab 1: Float gauging" })).toBeVisible();
    // Timing opens on the item that was selected on Reach.
    await page.getByRole("link", { name: /^Timing/ }).click();
    await expect(why(page).getByRole("heading", { name: /Lab 1: Float gauging/ })).toBeVisible();
    await page.getByRole("radio", { name: "Overrides" }).click();
    await expect(page).toHaveURL(/view=overrides/);
    await page.getByRole("link", { name: /^Placement/ }).click();
    await page.getByRole("tab", { name: /^River teams/ }).click();
    await expect(page).toHaveURL(/placement\?.*layer=/);
    await page.goBack();
    await expect(page.getByRole("radio", { name: "Overrides" })).toBeChecked();
    await page.goForward();
    await expect(page.getByRole("tab", { name: /^River teams/ })).toHaveAttribute("aria-selected", "true");
  });
  test("views and actions are found by name, the heading goes on from there, a link leads past the rest", async ({
    page,
  }) => {
    await openWorkbench(page, code, "intake");
    const find = page.getByRole("combobox", { name: "Find any student, group, item or action" });
    await find.fill("overrides");
    await page.keyboard.press("Enter");
    await expect(page.getByRole("radio", { name: "Overrides" })).toBeChecked();
    await find.fill("form groups");
    await page.keyboard.press("Enter");
    await expect(station(page, "Placement")).toBeVisible();
    await expect(page.getByRole("button", { name: "Form the groups" })).toBeVisible();
    await page.getByRole("link", { name: /^Timing/ }).press("Enter");
    await expect(station(page, "Timing")).toBeFocused();
    await page.goto(page.url());
    await expect(station(page, "Timing")).toBeVisible();
    await page.keyboard.press("Tab");
    await expect(page.getByRole("link", { name: "To the station" })).toBeFocused();
    await page.keyboard.press("Enter");
    await expect(page.locator("#work")).toBeFocused();
  });
  test("a course opens at the station that was used last", async ({ page }) => {
    await openWorkbench(page, code, "gradebook");
    await page.getByRole("link", { name: /^Timing/ }).click();
    await expect(station(page, "Timing")).toBeVisible();
    await page.goto("/");
    await page.getByRole("link", { name: /WSH 240/ }).click();
    await expect(station(page, "Timing")).toBeVisible();
  });
});
