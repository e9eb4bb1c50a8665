/** The board: people moved by mouse, by key and from a list, and undone. */
import { choose, expect, test } from "./helpers.ts";
import { column, drafted, openLayer, undo } from "./layer-view.ts";

test("people are dragged to another group with a count and what it breaks, before they are let go", async ({
  page,
}) => {
  await openLayer(page, /^Sections/, "Board");
  const [from, to] = [column(page, "Day 1"), column(page, "Evening")];
  const people = from.getByRole("option");
  const names = [await people.nth(0).textContent(), await people.nth(2).textContent()];
  await people.nth(0).click();
  await people.nth(2).click({ modifiers: ["Shift"] });
  await expect(page.getByText("3 selected")).toBeVisible();
  const [start, end] = [await people.nth(1).boundingBox(), await to.boundingBox()];
  if (!start || !end) throw new Error("not on the screen");
  await page.mouse.move(start.x + 20, start.y + 9);
  await page.mouse.down();
  await page.mouse.move(end.x + 20, end.y + 60, { steps: 5 });
  await page.mouse.move(end.x + 24, end.y + 64, { steps: 2 });
  const evening = page.getByRole("group", { name: "Evening" });
  await expect(evening.getByText("22 → 25")).toBeVisible();
  await expect(evening.getByText("3 held against the rules")).toBeVisible();
  await page.mouse.up();
  await expect(column(page, "Evening")).toHaveAccessibleName("Evening, 25");
  for (const name of names)
    await expect(to.getByRole("option", { name: new RegExp(`^${name}\\s*held`) })).toHaveCount(1);
  await drafted(page, 1);
  await undo(page, 1);
  await expect(column(page, "Evening")).toHaveAccessibleName("Evening, 22");
});

test("by key: space selects, arrows lead to a column, Enter puts down; two are swapped", async ({ page }) => {
  await openLayer(page, /^Sections/, "Board");
  const day = column(page, "Day 1");
  await day.focus();
  // Put down where they are, nobody is moved, nor held.
  await page.keyboard.press("Space");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Escape");
  await expect(page.getByText("Nothing is drafted.")).toBeVisible();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Shift+ArrowDown");
  await expect(day.getByRole("option", { selected: true })).toHaveCount(2);
  await page.keyboard.press("ArrowRight");
  await expect(column(page, "Day 2")).toBeFocused();
  await expect(page.getByRole("group", { name: "Day 2" }).getByText("31 → 33")).toBeVisible();
  await page.keyboard.press("Enter");
  await expect(column(page, "Day 2")).toHaveAccessibleName("Day 2, 33");
  await page.keyboard.press("Escape");

  const one = await day.getByRole("option").first().textContent();
  await day.focus();
  await page.keyboard.press("Home");
  await page.keyboard.press("Space");
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("End");
  await page.keyboard.press("Space");
  await page.getByRole("button", { name: "Swap them" }).click();
  await column(page, "Day 2").press("Home");
  await expect(column(page, "Day 2").getByRole("option", { name: `${one}` })).toHaveCount(1);
  await expect(column(page, "Day 2")).toHaveAccessibleName("Day 2, 33");
  await drafted(page, 2);
  await undo(page, 2);
});

test("switches leave only who is unplaced, or not in another layer; staff can be placed and are not counted", async ({
  page,
}) => {
  await openLayer(page, /^River teams/, "Board");
  await page.getByText("Only unplaced").click();
  await expect(page.getByRole("listbox")).toHaveCount(1);
  await expect(column(page, "Unplaced").getByRole("option")).toHaveCount(2);
  await choose(page, "Not in", "Not in Sections");
  await expect(column(page, "Unplaced").getByRole("option")).toHaveText(["Nobody"]);
  await choose(page, "Not in", "In any layer or none");
  await page.getByText("Staff", { exact: true }).click();
  await expect(column(page, "Unplaced")).toHaveAccessibleName("Unplaced, 2");
  const tutor = column(page, "Unplaced")
    .getByRole("option", { name: /staff$/ })
    .first();
  await tutor.click();
  await choose(page, "Move to", "Day 1 team 1");
  await page.getByText("Only unplaced").click();
  await expect(page.getByText("102 placed")).toBeVisible();
  await expect(
    page
      .getByRole("listbox")
      .nth(1)
      .getByRole("option", { name: /staff$/ }),
  ).toHaveCount(1);
  await undo(page, 1);
});

test("a pasted list places whom it names, and tells of each line that fits nobody", async ({ page }) => {
  const id = await openLayer(page, /^Gauge kits/, "Flow");
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const enrolled = Object.values<{ personId: string; role: string; until: number | null }>(plan.enrolments);
  const [one, other] = enrolled
    .filter(({ role, until }) => role === "student" && until === null)
    .map(({ personId }): { sourcedId: string; email: string } => plan.people[personId])
    .filter(({ email }) => email);
  await page.getByRole("button", { name: "Paste a list" }).click();
  await page
    .getByLabel("Ids, e-mails, usernames or names, a line each")
    .fill(`${one?.sourcedId}\n\nnobody@tarnbeck.example\n${other?.email.toUpperCase()}\n${one?.sourcedId}`);
  const dialog = page.getByRole("dialog");
  await expect(dialog.getByText("2 people found, 2 lines not used")).toBeVisible();
  await expect(dialog.getByText("Line 3: nobody@tarnbeck.example, nobody of this course")).toBeVisible();
  await expect(dialog.getByText(/^Line 5: /)).toBeVisible();
  await dialog.getByRole("button", { name: "Draft 2 placements" }).click();
  await drafted(page, 1);
  await undo(page, 1);
});

test("many groups stand in rows of short columns, one in full at a press, and arrows lead to rows out of sight", async ({
  page,
}) => {
  await openLayer(page, /^River teams/, "Board");
  const frame = page.getByRole("group", { name: "Groups", exact: true });
  const first = column(page, "Day 1 team 1");
  await expect(column(page, "Unplaced")).toBeVisible();
  // All columns of a row begin at one height, and the next row below it.
  const tops = await frame.getByRole("listbox").evaluateAll((all) => all.map((one) => one.getBoundingClientRect().top));
  expect(new Set(tops.slice(1)).size).toBeGreaterThan(1);
  expect(await frame.evaluate((one) => one.scrollWidth <= one.clientWidth)).toBe(true);
  await expect(column(page, "Evening team 1")).toHaveCount(0);
  await first.focus();
  for (let press = 0; press < 30 && (await column(page, "Evening team 1").count()) === 0; press++)
    await page.keyboard.press("ArrowRight");
  await column(page, "Evening team 1").focus();
  await expect(column(page, "Evening team 1")).toBeInViewport();
  // A group of many is short among others, until it is asked for in full.
  await page.setViewportSize({ width: 1024, height: 768 });
  await page.getByRole("tab", { name: /^Sections/ }).click();
  const day = column(page, "Day 1");
  const height = async () => (await day.boundingBox())?.height ?? 0;
  const short = await height();
  await page.getByRole("button", { name: "Day 1, in full" }).click();
  await expect.poll(height).toBeGreaterThan(short);
  await page.getByRole("button", { name: "Day 1, short" }).click();
  await expect.poll(height).toBe(short);
});
