/** The gradebook by hand: blocks, filling, columns, groups, filters. In the demo course. */
import type { Page } from "@playwright/test";
import {
  beginWithoutDraft,
  cell,
  choice,
  drafted,
  expect,
  filterText,
  grid,
  openWorkbench,
  station,
  test,
  undoMarks,
} from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();

/** The first cells of a column: how many more are drawn depends on what stands around the grid. */
const states = (page: Page, column: string) =>
  grid(page)
    .getByRole("button", { name: new RegExp(`, ${column}: `) })
    .evaluateAll((cells) => cells.slice(0, 10).map((one) => one.getAttribute("aria-label")));

async function paste(page: Page, text: string): Promise<void> {
  await page.evaluate((block) => {
    const data = new DataTransfer();
    data.setData("text/plain", block);
    document.activeElement?.dispatchEvent(
      new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }),
    );
  }, text);
}
test.describe("the grid", () => {
  test("a pasted block is looked at, stored, and taken back", async ({ page }) => {
    await openWorkbench(page, code, "gradebook");
    await filterText(page).fill("section:D2");
    const before = await states(page, "Lab 1: Float gauging");
    await cell(page, ", Lab 1: Float gauging: ").first().click();
    await paste(page, "1.5\t2\r\nmany\t\r\n\t0.125\r\n");
    const dialog = page.getByRole("dialog");
    await expect(dialog).toContainText("6 marks looked at; nothing has changed yet.");
    await dialog.getByRole("button", { name: /^not a mark/ }).click();
    await expect(dialog).toContainText('"many" is not a mark.');
    await expect(dialog).toContainText("row 2, column 1 of the block");
    await dialog.getByRole("button", { name: "Store 3 marks" }).click();
    await expect(page.getByText("3 marks stored.")).toBeVisible();
    await expect(cell(page, "Lab 1: Float gauging: 1.5 of 20")).toHaveCount(1);
    await expect(cell(page, "Lab 2: Current meter: 0.125 of 20")).toHaveCount(1);
    await page.reload();
    await filterText(page).fill("section:D2");
    await expect(cell(page, "Lab 1: Float gauging: 1.5 of 20")).toHaveCount(1);
    // Back to what it was, by the block that it was.
    await cell(page, "Lab 1: Float gauging: 1.5 of 20").click();
    await page.keyboard.type((before[0] ?? "").match(/: ([\d.]+) of/)?.[1] ?? "x");
    await page.keyboard.press("Enter");
    await expect.poll(() => states(page, "Lab 1: Float gauging")).toEqual(before);
  });
  test("a range is filled down, and Ctrl Z takes it back", async ({ page }) => {
    await openWorkbench(page, code, "gradebook");
    await filterText(page).fill("section:EV");
    const column = "Quiz 2: The water balance";
    const before = await states(page, column);
    // The server takes its time: what comes next goes on from what was typed, and not from what is stored.
    await page.route(/\/marks$/, async (route) => {
      await new Promise((resolve) => setTimeout(resolve, 600));
      await route.continue();
    });
    await cell(page, `, ${column}: `).first().click();
    for (const points of ["8.75", "9.25"]) {
      await page.keyboard.type(points);
      await page.keyboard.press("Enter");
      await page.keyboard.press("ArrowUp");
    }
    await page.keyboard.press("Shift+ArrowDown");
    await page.keyboard.press("Shift+ArrowDown");
    await page.keyboard.press("Control+d");
    await expect(cell(page, `${column}: 9.25 of 10`)).toHaveCount(3);
    await page.keyboard.press("Control+z");
    await expect(cell(page, `${column}: 9.25 of 10`)).toHaveCount(1);
    await expect(page.getByText("2 marks as before.")).toBeVisible();
    await expect(page.getByText(/^Somebody else changed/)).toHaveCount(0);
    // Pressed twice while the first is under way.
    await page.keyboard.press("Control+z");
    await page.keyboard.press("Control+z");
    await expect.poll(() => states(page, column)).toEqual(before);
  });
  test("one value pasted on a range fills it, and Delete empties it", async ({ page }) => {
    await openWorkbench(page, code, "gradebook");
    await filterText(page).fill("section:DL");
    await cell(page, ", Safety check: ").nth(1).click();
    await cell(page, ", Lab 1: Float gauging: ")
      .nth(2)
      .click({ modifiers: ["Shift"] });
    await paste(page, "4.75");
    await page.getByRole("dialog").getByRole("button", { name: "Store 4 marks" }).click();
    await expect(cell(page, ": 4.75 of")).toHaveCount(4);
    await page.keyboard.press("Escape");
    await cell(page, ", Lab 1: Float gauging: 4.75 of 20").first().click();
    await page.keyboard.press("Shift+ArrowDown");
    await page.keyboard.press("Delete");
    await expect(cell(page, ": 4.75 of")).toHaveCount(2);
    await undoMarks(page);
    await expect(cell(page, ": 4.75 of")).toHaveCount(4);
    await undoMarks(page);
    await expect(cell(page, ": 4.75 of")).toHaveCount(0);
  });
  test("rows stand under their groups with subtotals; columns are hidden, moved, widened and put in bands", async ({
    page,
  }) => {
    await openWorkbench(page, code, "gradebook");
    await choice(page, "Rows grouped by").click();
    await page.getByRole("option", { name: "Rows by Sections" }).click();
    await expect(grid(page).getByRole("rowheader", { name: /Day 1 34/ })).toBeVisible();
    await expect(grid(page).getByRole("gridcell", { name: /^Day 1, Lab 4: .*13 to be marked/ })).toBeVisible();
    await page.getByRole("button", { name: /\d columns$/ }).click();
    const dialog = page.getByRole("dialog");
    await dialog.getByLabel("Find a column").fill("quiz");
    await dialog.getByRole("button", { name: "Hide these" }).click();
    await dialog.getByLabel("Find a column").fill("");
    await dialog.getByRole("button", { name: "Lab 1: Float gauging before the one before it" }).click();
    await choice(page, "Stand").click();
    await page.getByRole("option", { name: "by folder" }).click();
    await dialog.getByRole("button", { name: "Done" }).click();
    await expect(page.getByText("12 of 17 columns")).toBeVisible();
    const titles = grid(page).getByRole("columnheader");
    await expect(titles.nth(1)).toContainText("Gauging labs");
    await expect(titles.nth(1)).toContainText("Lab 1: Float gauging");
    // With the keys: to the right of its neighbour, and wider.
    await cell(page, ", Lab 1: Float gauging: ").first().click();
    await page.keyboard.press("Alt+ArrowRight");
    // The band of what comes first comes first.
    await expect(titles.nth(1)).toContainText("Start here");
    await expect(titles.nth(2)).toContainText("Lab 2: Current meter");
    await expect(titles.nth(3)).toContainText("Lab 1: Float gauging");
    const width = async () => (await titles.nth(3).boundingBox())?.width ?? 0;
    const before = await width();
    await page.keyboard.press("Alt+Shift+ArrowRight");
    await expect.poll(width).toBe(before + 20);
    // By mouse: a title is dragged before another.
    await titles.filter({ hasText: "Lab 3" }).dragTo(titles.filter({ hasText: "Lab 2" }));
    await expect(titles.nth(2)).toContainText("Lab 3: Dilution gauging");
  });
});

test.describe("filters", () => {
  test("what may come next is offered and taken by key; terms are chips that are turned round and taken out", async ({
    page,
  }) => {
    await openWorkbench(page, code, "gradebook");
    await filterText(page).pressSequentially("gro");
    await page.keyboard.press("ArrowDown");
    await page.keyboard.press("Tab");
    await expect(filterText(page)).toHaveValue("group:");
    await page.keyboard.type("eve");
    await expect(page.getByRole("option", { name: "Evening of Sections" })).toBeVisible();
    await page.keyboard.press("ArrowDown");
    await page.keyboard.press("Enter");
    await expect(filterText(page)).toHaveValue("group:Evening ");
    await page.keyboard.type("status@lab");
    await page.getByRole("option", { name: /Lab 4/ }).click();
    await expect(filterText(page)).toHaveValue('group:Evening status@"Lab 4: Rating the weir":');
    await page.keyboard.type("hand");
    await page.keyboard.press("ArrowDown");
    await page.keyboard.press("Enter");
    const shown = page.getByText(/^\d+ of 104 students$/);
    const count = async () => Number((await shown.textContent())?.split(" ")[0]);
    await expect.poll(count).toBeLessThan(21);
    const evening = await count();
    expect(evening).toBeGreaterThan(0);
    const chips = page.getByRole("list", { name: "Terms of the filter" });
    await expect(chips.getByRole("listitem")).toHaveCount(2);
    await chips.getByRole("button", { name: "group:Evening. Turn it round" }).click();
    await expect(filterText(page)).toHaveValue('not group:Evening status@"Lab 4: Rating the weir":"handed in"');
    await chips.getByRole("button", { name: "Take not group:Evening out" }).click();
    await expect.poll(count).toBeGreaterThan(evening);
  });
  test("groups as they stood on a day, for a student who changed since", async ({ page }) => {
    const id = await openWorkbench(page, code, "gradebook");
    const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
    const rows = Object.values<{ until: number | null; groupId: string; personId: string }>(plan.placements);
    const left = rows.find(
      (one) =>
        one.until !== null &&
        rows.some((other) => other.until === null && other.personId === one.personId) &&
        !rows.some((other) => other.until === null && other.personId === one.personId && other.groupId === one.groupId),
    );
    const group = plan.groups[left?.groupId ?? ""];
    const day = new Date((left?.until ?? 0) - 86_400_000).toISOString().slice(0, 10);
    const person = plan.people[left?.personId ?? ""];
    const named = `group:"${group.name}" "${person.familyName}, ${person.givenName}"`;
    await filterText(page).fill(`${named} asof:${day}`);
    await expect(page.getByText("1 of 104 students")).toBeVisible();
    await filterText(page).fill(named);
    await expect(page.getByText("0 of 104 students")).toBeVisible();
    await filterText(page).fill(`${named} asof:yesterday`);
    await expect(page.getByText(/a day such as 2026-10-01/)).toBeVisible();
  });
  test("a filter a group of a layer at one press, kept with its columns, shared with other staff", async ({ page }) => {
    await openWorkbench(page, code, "gradebook");
    await choice(page, "A filter for each group of a layer").click();
    await page.getByRole("option", { name: /Sections/ }).click();
    const pin = (name: string) => page.getByRole("button", { name: new RegExp(`^\\d ${name} \\d+$`) });
    await expect(pin("Evening")).toBeVisible();
    await page.keyboard.press("Escape");
    await station(page, "Gradebook").click();
    await page.keyboard.press("3");
    await expect(filterText(page)).toHaveValue("group:Evening");
    await expect(page.getByRole("button", { name: "Keep these columns" })).toHaveCount(0);
    await page.getByRole("button", { name: /\d columns$/ }).click();
    await page.getByRole("dialog").getByText("Safety check").click();
    await page.getByRole("dialog").getByRole("button", { name: "Done" }).click();
    // Offered only where there is something to keep, and gone once it is kept.
    const keep = page.getByRole("button", { name: "Keep these columns" });
    await keep.click();
    await expect(keep).toHaveCount(0);
    // The filter stands in the address: it stays, with the columns that it was kept with.
    await page.reload();
    await expect(filterText(page)).toHaveValue("group:Evening");
    await expect(page.getByText("16 of 17 columns")).toBeVisible();
    for (const name of ["Day 1", "Day 2", "Evening", "Distance"]) {
      await filterText(page).fill(/ /.test(name) ? `group:"${name}"` : `group:${name}`);
      await page.getByRole("button", { name: `Remove the filter ${name}` }).click();
      await expect(pin(name)).toHaveCount(0);
    }
  });
  test("making groups offers their filters at once", async ({ page }) => {
    await openWorkbench(page, code, "placement");
    await page.getByRole("button", { name: "New layer" }).click();
    const dialog = page.getByRole("dialog");
    await dialog.getByLabel("Name").first().fill("Boats");
    await dialog.getByRole("button", { name: /^Draft/ }).click();
    await page.getByRole("button", { name: "New group" }).first().click();
    await page.getByRole("dialog").getByLabel("Name").first().fill("Red boat");
    await page
      .getByRole("dialog")
      .getByRole("button", { name: /^Draft/ })
      .click();
    await page.getByRole("button", { name: "Save its gradebook filter" }).click();
    await expect(page.getByText("Saved, and pinned in the gradebook.")).toBeVisible();
    await page.getByRole("link", { name: /^Gradebook/ }).click();
    await page.getByRole("button", { name: /Red boat 0$/ }).click();
    await expect(filterText(page)).toHaveValue('group:"Red boat"');
    await page.getByRole("button", { name: "Remove the filter Red boat" }).click();
    await expect(page.getByRole("button", { name: /Red boat 0$/ })).toHaveCount(0);
  });
});

test("what stands in a cell stays in it, however late the work and however narrow the column", async ({ page }) => {
  await page.setViewportSize({ width: 1024, height: 800 });
  await openWorkbench(page, code, "gradebook");
  await expect(
    grid(page)
      .getByText(/ h late$/)
      .first(),
  ).toBeVisible();
  const beyond = await grid(page)
    .getByText(/ late$/)
    .evaluateAll(
      (all) =>
        all.filter((one) => {
          const [own, around] = [one, one.closest("button") as Element].map((element) =>
            element.getBoundingClientRect(),
          );
          return own && around && (own.left < around.left || own.right > around.right);
        }).length,
    );
  expect(beyond).toBe(0);
});

test("from a cell or a filter students get more time, are written to and looked at, by keys as well", async ({
  page,
  context,
}) => {
  await openWorkbench(page, "WSH 240", "gradebook");
  await filterText(page).fill("section:EV mark@Final>0");
  await expect(page.getByText(/several columns begin|no column is called/)).toHaveCount(0);
  await filterText(page).fill("mark@Quiz>0");
  await expect(page.getByText(/several columns begin with "Quiz": "Quiz 1/)).toBeVisible();
  await filterText(page).fill("00240037");
  await filterText(page).fill("Castellano");
  await expect(grid(page).getByRole("row")).not.toHaveCount(0);
  const first = grid(page)
    .getByRole("button", { name: /Lab 4: Rating the weir/ })
    .first();
  await first.click();
  await page.keyboard.press("m");
  const dialog = page.getByRole("dialog");
  await expect(dialog).toContainText("On Lab 4: Rating the weir.");
  await dialog.getByLabel("What they have").fill("dew +1d");
  await expect(dialog.getByRole("button", { name: "Draft it" })).toBeDisabled();
  await dialog.getByLabel("What they have").fill("due +2d");
  await page.keyboard.press("Enter");
  await expect(drafted(page)).toContainText(/Lab 4: Rating the weir for Castellano, \w+: due/);
  await first.click();
  await page.keyboard.press("w");
  await expect(dialog).toContainText("A link to Lab 4: Rating the weir stands beneath");
  await dialog.getByRole("button", { name: "Leave", exact: true }).click();
  await first.click();
  const opened = context.waitForEvent("page");
  await page.keyboard.press("l");
  await expect((await opened).getByText(/^Through the eyes of Castellano/)).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
});
