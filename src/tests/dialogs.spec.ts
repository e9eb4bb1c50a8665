/** Every dialog, and the parts of each station that are a press away: axe finds nothing. */
import { check } from "./accessible.ts";
import { choose, courseId, expect, filterText, openWorkbench, signIn, station, test } from "./helpers.ts";

test("dialogs of reach: an item with a condition, several at once, looking through, in and out", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, "WSH 240", "reach");
  const look = async (name: string | RegExp, inside?: () => Promise<void>) => {
    await page.getByRole("button", { name, exact: true }).click();
    await expect(page.getByRole("dialog")).toBeVisible();
    await inside?.();
    await check(page);
    await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog")).toHaveCount(0);
  };
  await look("New item", async () => {
    await page.getByRole("radio", { name: "quiz", exact: true }).click();
    await page.getByText("Release condition", { exact: true }).click();
    await page.getByRole("button", { name: "Another condition for some groups" }).click();
    await choose(page, "Condition: add", "all of these");
    await choose(page, "Condition: add a part", "they have at least");
  });
  await look("Look through", () => page.getByText("Beside another student or moment").click());
  await look("Outline in and out");
  await page.getByRole("checkbox", { name: "Select Kit list" }).click();
  for (const tool of ["For whom", "Condition", "Move or copy", "On group pages"]) await look(tool);
});

test("timing: a date typed and picked, its dialogs, and spans", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, "WSH 240", "timing");
  await page.getByRole("button", { name: /^due for everyone/ }).click();
  await page.keyboard.type("m6 start");
  await page.getByRole("button", { name: "Pick instead" }).click();
  await check(page);
  await page.keyboard.press("Escape");
  for (const name of ["How dates are decided", "Table in and out", "Calendars"]) {
    await page.getByRole("button", { name }).click();
    await check(page);
    await page.keyboard.press("Escape");
  }
  await page.getByRole("radio", { name: "Spans" }).click();
  await page.getByRole("listbox", { name: /^Spans/ }).focus();
  await page.keyboard.press("Space");
  await check(page);
  await page.keyboard.press("m");
  await check(page);
  await page.keyboard.press("Escape");
});

test("timing: meetings, checks, overrides, allowances", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, "WSH 240", "timing");
  await page.getByRole("radio", { name: "Meetings" }).click();
  await check(page);
  for (const name of ["Add a meeting", "Read a calendar file", "Meeting 7 of D1 falls out or moves"]) {
    await page.getByRole("button", { name }).click();
    await check(page);
    await page.keyboard.press("Escape");
  }
  await page.getByRole("radio", { name: "Checks" }).click();
  await page.getByRole("button", { name: /Lab 4: Rating the weir: due before it opens/ }).click();
  await check(page);
  await page.getByRole("radio", { name: "Overrides" }).click();
  await page.getByRole("checkbox", { name: "Select all overrides" }).click();
  await check(page);
  await page.getByRole("radio", { name: "Allowances" }).click();
  await check(page);
  await page.getByRole("button", { name: "New allowance" }).click();
  await check(page);
});

test("dialogs of placement: a group, names, parts, a set, files, self-placement, a pasted list", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, "WSH 240", "placement");
  const look = async (open: () => Promise<void>) => {
    await open();
    await expect(page.getByRole("dialog")).toBeVisible();
    await check(page);
    await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog")).toHaveCount(0);
  };
  const press = (name: string) => () => page.getByRole("button", { name, exact: true }).click();
  await look(press("Paste a list"));
  await page.getByRole("button", { name: "Groups", exact: true }).click();
  await look(press("Let students place themselves"));
  await look(press("Groups in and out as files"));
  await page.getByRole("button", { name: "Evening", exact: true }).click();
  await look(press("Change the group"));
  await page.getByRole("checkbox", { name: "Select Evening" }).press("Space");
  await look(press("Split"));
  await look(press("As a set"));
  await page.getByRole("checkbox", { name: "Select Distance" }).press("Space");
  await look(press("Rename"));
});

test("the pages for choosing a group and for typing a code", async ({ page }) => {
  await signIn(page, "student.day");
  const id = await courseId(page, "WSH 240");
  for (const address of [`/course/${id}/groups`, "/join"]) {
    await page.goto(address);
    await check(page);
  }
});

test("gradebook: marking, comparison, and its dialogs", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, "WSH 240", "gradebook");
  await filterText(page).fill("group:Evening");
  await check(page);
  await page.getByRole("radio", { name: "Marking" }).click();
  await page.getByRole("region", { name: "Queue" }).getByRole("button").first().click();
  await expect(page.getByRole("region", { name: "What was handed in" })).toContainText("Handed in");
  await check(page);
  await page.getByRole("radio", { name: "Comparison" }).click();
  await check(page);
  for (const dialog of ["In and out", "Totals", "Save filter"]) {
    await page.getByRole("button", { name: dialog }).click();
    await check(page);
    await page.keyboard.press("Escape");
  }
  await page.getByRole("radio", { name: "Grid" }).click();
  await page.getByRole("button", { name: /\d columns$/ }).click();
  await check(page);
});

test("marks and calendar of a student who is looked through", async ({ page }) => {
  await signIn(page, "coordinator");
  const id = await courseId(page, "WSH 240");
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const student = Object.values<{ id: string; username: string }>(plan.people).find(
    ({ username }) => username === "student.evening",
  );
  for (const part of ["marks", "calendar"]) {
    await page.goto(`/look/${id}/${student?.id}/${part}`);
    await check(page);
  }
});

test("dialogs: an item, a layer, the shortcuts", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, "WSH 240", "reach");
  await page.getByRole("button", { name: "New item" }).click();
  await check(page);
  await page.keyboard.press("Escape");
  await page.keyboard.press("Alt+2");
  await page.getByRole("button", { name: "New layer" }).click();
  await check(page);
  await page.keyboard.press("Escape");
  await station(page, "Placement").click();
  await page.keyboard.press("?");
  await expect(page.getByRole("dialog", { name: "Shortcuts" })).toBeVisible();
  await check(page);
});

test("the parts of the intake, its dialogs, a roster looked at and one compared", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, "WSH 240", "intake");
  await page.getByRole("button", { name: "Set up" }).click();
  await expect(page.getByRole("dialog").getByText("D1 Day 1")).toBeVisible();
  await check(page);
  await page.keyboard.press("Escape");
  await page.getByRole("tab", { name: "Sections" }).click();
  await check(page);
  await page.getByRole("button", { name: "Change section EV" }).click();
  await check(page);
  await page.keyboard.press("Escape");
  await page.getByRole("tab", { name: "People" }).click();
  await page.getByLabel("Find people").fill("walczak");
  await page.getByRole("button", { name: "Walczak, Senan" }).first().click();
  await check(page);
  await page.getByRole("button", { name: "Add people" }).click();
  await page.getByLabel("Find in the directory").fill("okafor");
  await expect(page.getByRole("dialog").getByText("Okafor, Aoife")).toBeVisible();
  await check(page);
  await page.keyboard.press("Escape");
  await page.getByRole("tab", { name: "Rosters" }).click();
  await page.locator("input[type=file]").setInputFiles("demo/rosters/week-3-merged.csv");
  await expect(page.getByText("104 rows read, nothing changed yet")).toBeVisible();
  await page.getByText(/^Columns recognised/).click();
  await check(page);
  await choose(page, "What to do with this list", "Only compare with the course");
  await expect(page.getByText("Compared; nothing is changed")).toBeVisible();
  await check(page);
});
