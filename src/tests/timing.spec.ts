/** Timing by hand, as a coordinator does it; what is drafted goes again. In the demo course. */
import type { Page } from "@playwright/test";
import {
  beginWithoutDraft,
  choose,
  chooseDates,
  choosePerson,
  drafted,
  expect,
  openWorkbench,
  test,
  timingView,
  why,
} from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();

const cell = (page: Page, name: RegExp) => page.getByRole("button", { name });

test.describe("dates", () => {
  test("why this date, for a student: the chain, losers struck through, and what the student is told", async ({
    page,
  }) => {
    await openWorkbench(page, code, "timing");
    await chooseDates(page, "Lab 4: Rating the weir");
    await expect(why(page)).toContainText("due before it opens, for 15 students");
    await expect(why(page)).toContainText("Wed 2 Dec, 18:00 for 22 students");
    await choosePerson(page, "Why this date, for", "Farrokhzad Thandiwe");
    const due = why(page)
      .locator("div", { has: page.getByRole("heading", { name: "Due", exact: true }) })
      .last();
    await expect(due.locator("s").first()).toHaveText("Fri 27 Nov, 17:00");
    await expect(due).toContainText("everyone: an override sets it");
    await expect(due).toContainText("Evening: it is the only override that sets it");
    await expect(due).toContainText("The student reads: for Evening.");
  });
  test("typed in plain words each group's own date is shown; a meeting is another day for each; nonsense says what is wanted", async ({
    page,
  }) => {
    await openWorkbench(page, code, "timing");
    await chooseDates(page, "Safety check");
    await cell(page, /^due for everyone: Fri 9 Oct, 17:00/).click();
    const field = page.getByRole("textbox", { name: "due for everyone" });
    await field.fill("m6 start");
    const gets = page.locator("#typed-date");
    await expect(gets).toContainText("start of meeting 6");
    await expect(gets.getByRole("listitem").filter({ hasText: "Day 1" })).toContainText("Fri 9 Oct, 09:00");
    await expect(gets.getByRole("listitem").filter({ hasText: "Evening" })).toContainText("Wed 4 Nov, 18:00");
    await expect(gets.getByRole("listitem").filter({ hasText: "Distance" })).toContainText("no date");
    await field.fill("fri 5 oct");
    await expect(gets.getByRole("alert")).toHaveText("5 Oct is a Monday, not a Friday.");
    // What cannot be read stays to be mended, wherever the focus goes.
    await page.keyboard.press("Enter");
    await expect(field).toHaveValue("fri 5 oct");
    await field.fill("m6 start else 16 oct 12:00");
    await page.keyboard.press("Enter");
    await expect(cell(page, /^due for everyone: start of meeting 6\. Change it/)).toBeVisible();
    await expect(cell(page, /^due for Evening: Wed 4 Nov, 18:00, as it falls/)).toBeVisible();
    await expect(cell(page, /^due for Distance: Fri 16 Oct, 12:00, as it falls/)).toBeVisible();
    await expect(drafted(page)).toContainText("Safety check: due start of meeting 6");
  });
  test("Escape puts back what was typed, an emptied field unsets, and a date can be picked", async ({ page }) => {
    await openWorkbench(page, code, "timing");
    await chooseDates(page, "Lab 4: Rating the weir");
    await cell(page, /^due for Evening: Wed 2 Dec, 18:00/).click();
    await page.keyboard.type("9 dec");
    await page.keyboard.press("Escape");
    await expect(cell(page, /^due for Evening: Wed 2 Dec, 18:00/)).toBeFocused();
    await expect(page.getByText("Nothing is drafted.")).toBeVisible();
    await page.keyboard.press("Enter");
    await page.keyboard.press("Backspace");
    await page.keyboard.press("Enter");
    await expect(cell(page, /^due for Evening: Fri 27 Nov, 17:00, as it falls/)).toBeVisible();
    await expect(drafted(page)).toContainText("Lab 4: Rating the weir for Evening: due unset");
    await cell(page, /^closes for Day 1/).click();
    await page.getByRole("button", { name: "Pick instead" }).click();
    await choose(page, "closes for Day 1, given as", "a class meeting");
    await page.getByRole("textbox", { name: "closes for Day 1: meeting" }).fill("30");
    await page.getByRole("button", { name: "Draft it" }).click();
    await expect(cell(page, /^closes for Day 1: start of meeting 30/)).toBeVisible();
  });
  test("by keys: Enter goes down, arrows lead, a block is pasted as one change, what stands above is taken", async ({
    page,
  }) => {
    await openWorkbench(page, code, "timing");
    await chooseDates(page, "Safety check");
    await cell(page, /^due for Day 1/).click();
    await page.keyboard.type("fri 4 dec 9:00");
    // What it comes to leaves the next row in sight.
    const next = await cell(page, /^due for Day 2/).boundingBox();
    const gets = await page.getByRole("dialog", { name: "What due for Day 1 comes to" }).boundingBox();
    if (!next || !gets) throw new Error("not on the screen");
    expect(gets.y + gets.height).toBeLessThanOrEqual(next.y);
    await page.keyboard.press("Enter");
    await expect(cell(page, /^due for Day 2/)).toBeFocused();
    await page.keyboard.press("ArrowRight");
    await expect(cell(page, /^closes for Day 2/)).toBeFocused();
    await page.keyboard.press("ArrowLeft");
    await page.keyboard.press("Control+d");
    await expect(cell(page, /^due for Day 2: Fri 4 Dec, 09:00/)).toBeFocused();
    const pasteInto = (name: RegExp, text: string) =>
      cell(page, name).evaluate((button, pasted) => {
        const clipboardData = new DataTransfer();
        clipboardData.setData("text/plain", pasted);
        button.dispatchEvent(new ClipboardEvent("paste", { clipboardData, bubbles: true, cancelable: true }));
      }, text);
    await pasteInto(/^due for Evening/, "someday\nfri 4 dec 10:00");
    await expect(page.getByRole("alert")).toContainText('Nothing was pasted. Evening, due: "someday".');
    await pasteInto(/^due for Evening/, "fri 4 dec 18:00\t\nsat 5 dec 10:00\tsun 6 dec 10:00");
    await expect(cell(page, /^due for Evening: Fri 4 Dec, 18:00/)).toBeVisible();
    await expect(cell(page, /^due for Distance: Sat 5 Dec, 10:00/)).toBeVisible();
    await expect(cell(page, /^closes for Distance: Sun 6 Dec, 10:00/)).toBeVisible();
  });
  test("several items at once, and somebody beside the groups", async ({ page }) => {
    await openWorkbench(page, code, "timing");
    await page.getByRole("checkbox", { name: "Choose Kit list" }).click();
    await page.getByRole("checkbox", { name: "Choose Working near water" }).click();
    await expect(page.getByRole("heading", { name: "2 items" }).first()).toBeVisible();
    await cell(page, /^opens for everyone/).click();
    // Each group's own date is shown for several as for one.
    await page.keyboard.type("m20 start");
    await expect(page.getByRole("listitem").filter({ hasText: "Day 1" })).toContainText(
      /Fri 13 Nov|Mon 16 Nov|Wed 11 Nov/,
    );
    await page.keyboard.press("Control+a");
    await page.keyboard.type("mon 30 nov 8:00");
    await page.keyboard.press("Enter");
    await expect(drafted(page)).toContainText("2 items: opens Mon 30 Nov, 08:00");
    await chooseDates(page, "Final report");
    await page.getByLabel("Dates of their own for").fill("Farrokhzad");
    await page.getByRole("option").first().click();
    await cell(page, /^due for Farrokhzad/).click();
    await page.keyboard.type("+1w");
    await page.keyboard.press("Enter");
    await expect(drafted(page)).toContainText(
      /Final report for Farrokhzad, Thandiwe: due Fri 25 Dec|Final report for Farrokhzad/,
    );
    await expect(page.getByRole("row", { name: /Farrokhzad/ })).toContainText("person");
  });
  test("a date that is out of order is found before it is published, and the check's mend removes it", async ({
    page,
  }) => {
    await openWorkbench(page, code, "timing");
    await chooseDates(page, "Final report");
    await cell(page, /^opens for Day 2/).click();
    await page.keyboard.type("28 dec 9:00");
    await page.keyboard.press("Enter");
    await expect(why(page)).toContainText("Final report: due before it opens, for");
    await timingView(page, "Checks");
    await page.getByRole("button", { name: /Final report: due before it opens/ }).click();
    await page.getByRole("button", { name: "Remove the override" }).first().click();
    await expect(page.getByRole("button", { name: /Final report: due before it opens/ })).toHaveCount(0);
  });
  test("how dates are decided: the policy and the order of layers, drafted as one", async ({ page }) => {
    await openWorkbench(page, code, "timing");
    await page.getByRole("button", { name: "How dates are decided" }).click();
    await choose(page, "Where overrides of several groups", "the first layer in the order holds");
    await page.getByRole("button", { name: "Drone pilots earlier" }).click();
    await page.getByLabel("Percent of difference").fill("90");
    await page.getByRole("button", { name: "Draft the rules" }).click();
    await expect(drafted(page)).toContainText(
      "the first layer holds; order of layers: Sections, River teams, Drone pilots",
    );
    await timingView(page, "Checks");
    await expect(page.getByRole("button", { name: /^Unequal time/ })).toHaveCount(0);
  });
});

test.describe("spans", () => {
  const spans = (page: Page) => page.getByRole("listbox", { name: /^Spans/ });
  const current = (page: Page) => page.locator("#span-focused");
  async function goTo(page: Page, title: string): Promise<void> {
    await timingView(page, "Spans");
    await page.getByLabel("Items shown").fill(title);
    await spans(page).focus();
    await expect(current(page)).toContainText(`${title}`);
  }
  test("by keys: an edge goes from meeting to meeting and becomes that group's date", async ({ page }) => {
    await openWorkbench(page, code, "timing");
    await goTo(page, "Lab 3: Dilution gauging");
    await expect(current(page)).toContainText(
      "Lab 3: Dilution gauging, Day 1: opens Mon 2 Nov, 08:00, due Fri 13 Nov, 17:00",
    );
    await page.keyboard.press("d");
    await page.keyboard.press("Alt+ArrowRight");
    await expect(
      page.getByText("Lab 3: Dilution gauging, Day 1: due Mon 16 Nov, 09:00, start of meeting 21"),
    ).toBeVisible();
    await page.keyboard.press("Escape");
    await expect(page.getByText("Nothing is drafted.")).toBeVisible();
    await page.keyboard.press("d");
    await page.keyboard.press("Alt+ArrowRight");
    await page.keyboard.press("Enter");
    await expect(drafted(page)).toContainText("Lab 3: Dilution gauging for Day 1: due start of meeting 21");
    await page.keyboard.press("ArrowDown");
    await expect(current(page)).toContainText("Lab 3: Dilution gauging, Day 2");
  });
  test("by mouse: an edge is dragged, what it would be is said meanwhile, and letting go drafts it", async ({
    page,
  }) => {
    const id = await openWorkbench(page, code, "timing");
    await timingView(page, "Spans");
    await page.getByLabel("Items shown").fill("Final report");
    await expect(page.getByText("4 bars")).toBeVisible();
    const box = (await spans(page).boundingBox()) as { x: number; y: number; width: number; height: number };
    const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
    const { termStart, termEnd } = plan.course;
    const dayOf = (day: string) => Date.parse(day) / 86_400_000;
    // The picture shows the term and a day and a half to either side.
    const at = (day: string, hour: number) =>
      box.x +
      ((dayOf(day) + hour / 24 - dayOf(termStart) + 1.5) / (dayOf(termEnd) + 1 - dayOf(termStart) + 3)) * box.width;
    const y = box.y + 34 + 5 + 8;
    await page.mouse.move(at("2026-12-25", 17), y);
    await page.mouse.down();
    await page.mouse.move(at("2026-12-28", 8), y, { steps: 4 });
    await expect(page.getByText("Final report, Day 1: due Mon 28 Dec, 09:00, start of meeting 39")).toBeVisible();
    await page.mouse.up();
    await expect(drafted(page)).toContainText("Final report for Day 1: due start of meeting 39");
  });
  test("several bars move by meetings, each group by its own, with every date before and after", async ({ page }) => {
    await openWorkbench(page, code, "timing");
    await goTo(page, "Lab 3: Dilution gauging");
    await page.getByRole("button", { name: "This item in every group" }).click();
    await expect(page.getByText("4 bars selected")).toBeVisible();
    await spans(page).focus();
    await page.keyboard.press("m");
    const dialog = page.getByRole("dialog");
    await expect(dialog.getByText("stays: the group has no meetings").first()).toBeVisible();
    await expect(dialog.getByText("Mon 16 Nov, 17:00").first()).toBeVisible();
    await dialog.getByRole("textbox", { name: "How many" }).fill("2");
    await choose(page, "Days or meetings", "days with class");
    await expect(dialog.getByText("Sun 15 Nov, 17:00").first()).toBeVisible();
    await dialog.getByRole("button", { name: "Draft 12 dates" }).click();
    await expect(drafted(page)).toContainText("4 changes drafted");
  });
});

test("overrides are found by item, group and student; what holds without them is shown before they go", async ({
  page,
}) => {
  await openWorkbench(page, code, "timing");
  await timingView(page, "Overrides");
  const table = page.getByRole("region", { name: "Overrides" });
  const find = page.getByLabel("Item, group, section or student");
  await find.fill("Lab 1 evening");
  await expect(table.getByRole("row")).toHaveCount(2);
  await expect(table.getByRole("row").last()).toContainText(/22 students from .+ to .+/);
  // A student is found with every override that they are in.
  await find.fill("Farrokhzad, Thandiwe".split(", ").join(" "));
  await expect(table.getByRole("row", { name: /Report draft/ })).toContainText("Evening");
  await expect(table.getByText("Distance")).toHaveCount(0);
  await find.fill("Report draft");
  await table.getByRole("checkbox", { name: "Select Report draft for Evening" }).click();
  await expect(why(page)).toContainText(/Due Wed 2 Dec, 18:00 becomes .* for 22 students/);
  await page.getByRole("button", { name: "Remove 1 override" }).click();
  await expect(drafted(page)).toContainText("Report draft for Evening: as for everyone");
  await expect(drafted(page)).toContainText("due earlier, or less allowed, for 22 students");
});

test("an allowance follows a group everywhere; bad numbers say what is wanted", async ({ page }) => {
  await openWorkbench(page, code, "timing");
  await timingView(page, "Allowances");
  await expect(page.getByRole("region", { name: "Allowances" }).getByRole("row", { name: /Extra time/ })).toContainText(
    "minutes ×",
  );
  await page.getByRole("button", { name: "New allowance" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("For groups, sections or students").fill("Distance");
  await page
    .getByRole("option", { name: /Distance/ })
    .first()
    .click();
  await dialog.getByLabel("Minutes, times").fill("half");
  await expect(dialog).toContainText("A factor is a number above 1, such as 1.5.");
  await expect(dialog.getByRole("button", { name: "Draft the allowance" })).toBeDisabled();
  await dialog.getByLabel("Minutes, times").fill("1,25");
  await dialog.getByLabel("Days more").fill("2");
  await dialog.getByRole("button", { name: "Draft the allowance" }).click();
  await expect(drafted(page)).toContainText("Allowance for Distance: minutes × 1.25, 2 days more");
  await page.getByRole("button", { name: "Change the allowance for Distance" }).click();
  await dialog.getByLabel("Days more").fill("3");
  await dialog.getByRole("button", { name: "Draft the allowance" }).click();
  await expect(page.getByRole("row", { name: /Distance/ })).toContainText("3 days more");
  await page.getByRole("button", { name: "Remove the allowance for Distance" }).click();
  await expect(page.getByRole("row", { name: /Distance/ })).toHaveCount(0);
});
