/** What is typed instead of pressed: a new item, groups with people, what is otherwise, classes of a section, codes. */
import type { Page } from "@playwright/test";
import { check } from "./accessible.ts";
import {
  beginWithoutDraft,
  choose,
  drafted,
  expect,
  findItem,
  openWorkbench,
  settled,
  station,
  test,
  why,
} from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();
const dialogOf = (page: Page) => page.getByRole("dialog");

test("a new item in one line: what is not understood is said and not drafted; the rest stands in the fields", async ({
  page,
}) => {
  await openWorkbench(page, code, "reach");
  await page.getByRole("button", { name: "New item" }).click();
  const dialog = dialogOf(page);
  const line = dialog.getByLabel("In one line, or in the fields below");
  await line.fill("quiz Contours for Day 1, due someday");
  await expect(dialog).toContainText('"someday" is not understood');
  await line.press("Enter");
  await expect(dialog).toBeVisible();
  await expect(dialog.getByRole("button", { name: /^Draft the/ })).toBeDisabled();
  await line.fill("quiz Contours for Day 1, due fri 5pm, points 12, attempts 2");
  await expect(dialog.getByRole("radio", { name: "quiz", exact: true })).toBeChecked();
  await expect(dialog.getByLabel("Title")).toHaveValue("Contours");
  await expect(dialog.getByLabel("Points")).toHaveValue("12");
  await expect(dialog.getByLabel("Attempts")).toHaveValue("2");
  await expect(dialog).toContainText("34 students of 104");
  await check(page);
  // A field that is changed after the line keeps what was changed.
  await dialog.getByLabel("Points").fill("15");
  await dialog.getByRole("button", { name: "Draft the quiz" }).click();
  await expect(drafted(page)).toContainText("New quiz Contours, for Day 1");
  await expect(page.getByRole("row", { name: /Contours/ })).toContainText("Day 1, 34 of 104");
});

test("a new item does not land in a folder that some whom it is for cannot enter", async ({ page }) => {
  await openWorkbench(page, code, "reach");
  await findItem(page, "Drone survey", "folder");
  await page.getByRole("button", { name: "New item", exact: true }).click();
  const dialog = dialogOf(page);
  const line = dialog.getByLabel("In one line, or in the fields below");
  await line.fill("page Landing for Drone pilots");
  await expect(dialog.getByRole("button", { name: /In$/ })).toContainText("Drone survey");
  // Where nobody is named it is for whoever comes in there, and not for all of the course.
  await line.fill("page Landing");
  await expect(dialog.getByRole("button", { name: /In$/ })).toContainText("Drone survey");
  await expect(dialog).toContainText("12 students of 104");
  await line.fill("page Landing for Evening");
  await expect(dialog.getByRole("button", { name: /In$/ })).toContainText("Top of the outline");
  await expect(dialog).toContainText("22 students of 104");
});

test("groups are typed with people and leads; whoever fits nobody is told; a lead is a press on board and card", async ({
  page,
}) => {
  await openWorkbench(page, code, "placement");
  await page.getByRole("button", { name: "New layer" }).click();
  const dialog = dialogOf(page);
  await dialog.getByLabel("Name", { exact: true }).fill("Boats");
  await dialog
    .getByLabel("Groups, a line each")
    .fill("Heron: 00240037 (lead), 00240074, Nobody Atall\nOtter (Mon 09:00-10:00): 00240111\nHeron: 00240111");
  await expect(dialog).toContainText("2 groups, 4 people, 1 lead, 1 with meetings of their own");
  await expect(dialog).toContainText("Nobody Atall fits nobody here and is left out");
  await expect(dialog).toContainText("In several of these groups, and placed in the first alone: Mbeki, Beatriz");
  await expect(dialog.getByRole("button", { name: /Each student is in/ })).toContainText("at most one group");
  await check(page);
  await dialog.getByRole("button", { name: "Draft the layer" }).click();
  await expect(page.getByText("3 placed", { exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Board", exact: true }).click();
  const heron = page.getByRole("listbox", { name: /^Heron/ });
  await expect(heron.getByRole("option", { name: /leads$/ })).toHaveText(/Castellano, Jarlath/);
  await heron.getByRole("option", { name: /Jayasuriya/ }).click();
  await page.getByRole("button", { name: "Lead the group" }).click();
  await expect(heron.getByRole("option", { name: /leads$/ })).toHaveCount(2);
  await page.getByRole("button", { name: "Groups", exact: true }).click();
  await page.getByRole("button", { name: "Heron", exact: true }).click();
  await why(page).getByRole("button", { name: "No longer led by Castellano, Jarlath" }).click();
  await expect(drafted(page)).toContainText("Jayasuriya, Gethin leads Heron");
  await page.getByRole("tab", { name: /^Boats/ }).click();
});

test("all groups of a layer get a lead at once", async ({ page }) => {
  await openWorkbench(page, code, "placement");
  await page.getByRole("tab", { name: /^Gauge kits/ }).click();
  await choose(page, "A lead for each group", "first by name");
  await expect(drafted(page)).toContainText(/Leads of \d+ groups/);
  await settled(page);
  await choose(page, "A lead for each group", "first by name");
  await expect(page.getByText("No group here would be led otherwise than it is.")).toBeVisible();
});

test("what is otherwise for somebody stands on the item's card; why, for one student; and none of it any more", async ({
  page,
}) => {
  await openWorkbench(page, code, "reach");
  await findItem(page, "Safety check", "quiz");
  const field = why(page).getByLabel("A group, section or student, and what they have");
  await field.fill("Nobody Atall: due +1d");
  await field.press("Enter");
  await expect(why(page)).toContainText("“Nobody Atall”: Nobody and no group is called that.");
  await expect(field).toHaveValue("Nobody Atall: due +1d");
  await field.fill("Evening: due +1d; 00240037: attempts +1");
  await field.press("Enter");
  await expect(field).toHaveValue("");
  await expect(why(page)).toContainText("Castellano, Jarlath: attempts 4");
  await check(page);
  const person = why(page).getByRole("combobox", { name: "Why, for" });
  await person.fill("00240037");
  await person.press("Enter");
  await expect(why(page)).toContainText("for Castellano, Jarlath");
  await why(page).getByRole("button", { name: "As for all others: Castellano, Jarlath" }).click();
  await expect(why(page)).not.toContainText("attempts 4");
});

test("a section that holds two classes is divided; whoever is of another section is left out and told", async ({
  page,
}) => {
  await openWorkbench(page, code, "intake");
  await page.getByRole("tab", { name: "Sections" }).click();
  await page.getByRole("button", { name: "Divide section EV" }).click();
  const dialog = dialogOf(page);
  const classes = dialog.getByRole("textbox", { name: /^The classes/ });
  await classes.fill("Early: 00240037");
  await expect(dialog.getByRole("button", { name: /^Draft/ })).toBeDisabled();
  await expect(dialog).toContainText(/2\d students of EV are in none of them\./);
  await expect(dialog).toContainText("Not in EV, and left out: Castellano, Jarlath");
  await classes.fill("Early (Tue 18:00-19:00): 00240037\nLate\nVery late");
  await expect(dialog).toContainText(/2\d students of EV are in none of them\./);
  await classes.fill("Early (Tue 18:00-19:00): 00240037\nLate");
  await expect(dialog.getByRole("list", { name: "Classes" })).toContainText(/Late 2\d students/);
  await check(page);
  await dialog.getByRole("button", { name: "Draft 2 classes" }).click();
  await expect(drafted(page)).toContainText(/EV divided: 2 groups, 2\d placed/);
});

test("codes of a timetable are typed a group a line; a line without one is told", async ({ page }) => {
  await openWorkbench(page, code, "placement");
  await page.getByRole("button", { name: "Let students place themselves" }).click();
  const dialog = dialogOf(page);
  const codes = dialog.getByLabel(/^Codes that there are already/);
  await codes.fill("Day 1: KITE-1\nDay 9: KITE-9");
  await expect(dialog).toContainText("No group and code: Day 9: KITE-9");
  await expect(dialog.getByRole("radio", { name: "by typing a code" })).toBeChecked();
  // What students will be told stands there, and is not only drafted.
  const told = dialog.getByRole("textbox", { name: "What students are told" });
  await expect(told).toContainText("Type the code that stands on your timetable.");
  await dialog.getByRole("button", { name: "Draft it" }).click();
  await expect(dialog).toBeVisible();
  await codes.fill("Day 1: KITE-1");
  await dialog.getByRole("button", { name: "Draft it" }).click();
  await expect(dialog).toContainText("Some groups have no code yet.");
  await codes.fill("Day 1: KITE-1\nDay 2: KITE-2\nEvening: OWL-3\nDistance: TERN-4");
  await check(page);
  await dialog.getByRole("button", { name: "Draft it" }).click();
  await expect(why(page)).toContainText("Students place themselves by typing a code: open.");
});

test("what is written stands among the crossings before it is drafted, stays over another station, and goes when left", async ({
  page,
}) => {
  await openWorkbench(page, code, "reach");
  await page.getByRole("button", { name: "New item" }).click();
  const card = page.getByRole("dialog", { name: "New item" });
  await card.getByLabel("In one line, or in the fields below").fill("quiz Contours for Day 1, attempts 2");
  const open = page.getByRole("button", { name: "Contours, Day 1: open to all 34" });
  await expect(open).toBeVisible();
  await card.getByRole("textbox", { name: "Opens" }).fill("2026-12-20 09:00");
  await expect(open).toHaveCount(0);
  await card.getByRole("textbox", { name: "Opens" }).fill("");
  await expect(open).toBeVisible();
  await expect(page.getByText("Nothing is drafted.")).toBeVisible();
  // Another row is not taken while something would be lost.
  await page.getByRole("button", { name: /^Contours, Day 2:/ }).click();
  await expect(page.getByRole("alert")).toContainText("Draft what stands in the card, or leave it");
  await page.keyboard.press("Alt+2");
  await expect(station(page, "Placement")).toBeVisible();
  await page.keyboard.press("Alt+3");
  await expect(card.getByLabel("Title")).toHaveValue("Contours");
  await expect(card.getByLabel("Attempts")).toHaveValue("2");
  await expect(open).toBeVisible();
  // What is not the same for all groups is said in the card; Escape puts it away and drops nothing.
  await card.getByRole("combobox", { name: "Groups, sections and persons" }).fill("Evening");
  await page.keyboard.press("Enter");
  await card.getByRole("textbox", { name: "Due" }).fill("m6 start");
  await expect(card.getByRole("region", { name: "What each group gets" })).toContainText(/Due.*Day 1: \w.*Evening: \w/);
  await page.keyboard.press("Escape");
  await expect(card).toHaveCount(0);
  await page.getByRole("button", { name: "New item" }).click();
  await expect(card.getByLabel("Title")).toHaveValue("Contours");
  await card.getByRole("button", { name: "Leave", exact: true }).click();
  await expect(open).toHaveCount(0);
  await page.getByRole("button", { name: "New item" }).click();
  await expect(card.getByLabel("Title")).toHaveValue("");
});

test("a line goes on with names of the course, and shows what it would do and to whom before Enter drafts it", async ({
  page,
}) => {
  await openWorkbench(page, code, "reach");
  const field = page.getByRole("combobox", { name: "Find any student, group, item or action" });
  // While the list is open a reader of the screen is told of nothing else, so this goes by the text.
  const kit = (whom: string) => page.locator("[role=row]").filter({ hasText: "Kit list" }).filter({ hasText: whom });
  await field.fill("Kit list for eve");
  await page.getByRole("option", { name: /^Evening group$/ }).click();
  await expect(field).toHaveValue("Kit list for Evening");
  await field.press("End");
  await page.keyboard.type(" ");
  await expect(page.getByRole("option", { name: /Kit list for Evening.*touches 82 students/ })).toBeVisible();
  await expect(kit("Evening, 22 of 104")).toHaveCount(1);
  await expect(page.getByText("Nothing is drafted.")).toBeVisible();
  // What is emptied again was never drafted.
  await field.fill("");
  await expect(kit("everyone")).toHaveCount(1);
  await field.fill("Kit list for Evening");
  await field.press("Enter");
  await expect(drafted(page)).toContainText("Kit list for Evening");
  await expect(page.getByTestId("touched")).toHaveText("touches 82 students");
});
