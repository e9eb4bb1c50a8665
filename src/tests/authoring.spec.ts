/** Authoring the outline: by mouse, by key, many at once, files and archives in and out. In the demo course. */
import type { Page } from "@playwright/test";
import { zipSync } from "fflate";
import { readCartridge } from "../core/reach/outline/cartridge/read.ts";
import { allOf } from "../core/reach/outline/cartridge/taking.ts";
import {
  beginWithoutDraft,
  choose,
  choosePerson,
  drafted,
  expect,
  findItem,
  openWorkbench,
  settled,
  test,
  why,
} from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();
const row = (page: Page, title: string) => page.getByRole("button", { name: title, exact: true });
const check = (page: Page, title: string) => page.getByRole("checkbox", { name: `Select ${title}`, exact: true });
/** Titles from the top, as far as they are on the screen. */
const order = (page: Page) =>
  page
    .getByRole("grid")
    .getByRole("rowheader")
    .evaluateAll((cells) => cells.map((cell) => cell.textContent ?? ""));

test("items are moved by keys among and into folders, and dragged where a line shows", async ({ page }) => {
  await openWorkbench(page, code, "reach");
  await row(page, "Kit list").click();
  await page.keyboard.press("Alt+ArrowUp");
  await expect(drafted(page)).toContainText("Move Kit list to Start here");
  expect((await order(page)).slice(0, 3)).toEqual(["Start here", "Kit list", "How this course runs"]);
  await page.keyboard.press("Alt+ArrowLeft");
  await expect(drafted(page)).toContainText("to the top of the outline");
  await expect(row(page, "Kit list")).toBeFocused();
  await page.keyboard.press("Alt+ArrowRight");
  await expect(drafted(page)).toContainText("Move Kit list to Start here");
  await row(page, "Working near water").dragTo(row(page, "Readings"), { targetPosition: { x: 60, y: 20 } });
  await expect(drafted(page)).toContainText("Move Working near water to Readings");
});

test("several items get an audience, a condition, a folder and copies in one go each", async ({ page }) => {
  await openWorkbench(page, code, "reach");
  await check(page, "Kit list").click();
  await check(page, "Working near water").click({ modifiers: ["Shift"] });
  await expect(page.getByRole("toolbar", { name: "Selected items" })).toContainText("2 items selected");
  await page.getByRole("button", { name: "For whom", exact: true }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("radio", { name: "Only some" }).click();
  await dialog.getByLabel("Groups, sections and persons").fill("Evening");
  await page
    .getByRole("option", { name: /Evening/ })
    .first()
    .click();
  await expect(dialog).toContainText("22 students of 104");
  await dialog.getByRole("button", { name: "Draft for 2 items" }).click();
  await expect(page.getByRole("row", { name: /^Select Kit list/ })).toContainText("Evening, 22 of 104");
  // What was chosen lately is one press away.
  await page.getByRole("button", { name: "For whom", exact: true }).click();
  await dialog.getByRole("radio", { name: "Everyone" }).click();
  await dialog.getByRole("button", { name: "Evening", exact: true }).click();
  await expect(dialog).toContainText("22 students of 104");
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Move or copy" }).click();
  await dialog.getByRole("button", { name: /To$/ }).click();
  await page.getByRole("option", { name: "Readings" }).click();
  await page.getByRole("button", { name: "Copy there" }).click();
  await expect(row(page, "Kit list, copy")).toBeVisible();
  await page.getByRole("button", { name: "On group pages" }).click();
  await choose(page, "All groups of", "Sections");
  await page.getByRole("button", { name: "Share on 4 pages" }).click();
  await expect(drafted(page)).toContainText("2 items shared on the pages of Sections");
  await findItem(page, "Kit list");
  await expect(why(page).getByRole("list").last()).toContainText("Evening");
});

test("a condition is built as a sentence with parts, told for each group, and tried on a student", async ({ page }) => {
  await openWorkbench(page, code, "reach");
  await row(page, "Kit list").dblclick();
  const dialog = page.getByRole("dialog");
  await dialog.getByText("Release condition", { exact: true }).click();
  await choose(page, "Condition: add", "all of these");
  await choose(page, "Condition: add a part", "they handed in");
  await choose(page, "Condition, part 1: item", "Lab 1: Float gauging");
  await choose(page, "Condition: add a part", "they are in");
  await dialog.getByLabel("Condition, part 2: groups or sections").fill("Evening");
  await page
    .getByRole("option", { name: /Evening/ })
    .first()
    .click();
  await choose(page, "Condition: add a part", "it is on or after");
  await choose(page, "Condition, part 3: moment, given as", "a class meeting");
  await dialog.getByLabel("Condition, part 3: moment: meeting").fill("3");
  const groups = dialog.getByRole("list", { name: "When each group gets it" });
  await expect(groups.getByText(/^Evening|Evening/).first()).toBeVisible();
  await expect(groups).toContainText("Day 1 never");
  await expect(groups).toContainText("once what is asked is done");
  await choosePerson(page, "Try it on", "student.day");
  await expect(dialog.getByText("in Evening")).toBeVisible();
  await dialog.getByRole("button", { name: "Draft the change" }).click();
  await expect(why(page)).toContainText(
    "Opens to those who fulfil: handed in Lab 1: Float gauging and in Evening and from start of meeting 3.",
  );
  await page.getByRole("button", { name: /^Kit list, Day 1:/ }).click();
  await expect(why(page).getByText("in Evening").first()).toBeVisible();
});

test("opening to others: now or from a moment, and an entrance that would leak asks which is wanted", async ({
  page,
}) => {
  await openWorkbench(page, code, "reach");
  await findItem(page, "South bank notes");
  await page.getByRole("button", { name: "Open to others" }).click();
  await page.getByText("Not before a moment").click();
  await page.getByRole("button", { name: "Draft the opening" }).click();
  await expect(drafted(page)).toContainText("Open South bank notes to everyone from Wed 25 Nov, 09:00");
  await expect(drafted(page)).not.toContainText("new leak");
  await findItem(page, "North bank notes");
  await page.getByRole("button", { name: "Show in another folder too" }).click();
  await page.getByRole("dialog").getByRole("button", { name: /In$/ }).click();
  await page.getByRole("option", { name: "Readings" }).click();
  await page.getByRole("button", { name: "Only link it" }).click();
  await expect(why(page).getByRole("list").last()).toContainText("Readings");
  await page.getByRole("button", { name: "Remove the entrance in Readings" }).click();
  await expect(why(page).getByRole("list").last()).not.toContainText("Readings");
  // With the index off, a link at the top is the only way past the doorway.
  await why(page).getByRole("button", { name: "The course as a whole" }).click();
  await page.getByText("All discussions").click();
  await findItem(page, "North bank notes");
  await page.getByRole("button", { name: "Show in another folder too" }).click();
  await expect(page.getByRole("dialog")).toContainText("that would be a leak");
  await page.getByRole("button", { name: "Open it to them" }).click();
  await page.getByRole("button", { name: "Draft the opening" }).click();
  await expect(drafted(page)).not.toContainText("new leak");
  await expect(page.getByRole("button", { name: /^North bank notes, Evening: open to all/ })).toBeVisible();
});

test("how items are split is decided once for the course, and locked", async ({ page }) => {
  await openWorkbench(page, code, "reach");
  await choose(page, "Split items have a thread for", "each group of Sections");
  await page.getByText("Locked: no item otherwise").click();
  await findItem(page, "Choosing a site");
  await expect(why(page)).toContainText("Split along Sections, sealed.");
  await page.getByRole("button", { name: "Change", exact: true }).click();
  await expect(page.getByRole("dialog")).toContainText("How items are split is locked for the course.");
});

test("a file is stored and held by an item; one that could run in a browser is refused", async ({ page }) => {
  const id = await openWorkbench(page, code, "reach");
  await page.getByRole("button", { name: "New item" }).click();
  const dialog = page.getByRole("dialog");
  await page.getByRole("radio", { name: "file", exact: true }).click();
  await page
    .getByTestId("file")
    .setInputFiles({ name: "x.html", mimeType: "text/html", buffer: Buffer.from("<script>1</script>") });
  await expect(dialog.getByRole("alert")).toContainText('ending in "html" are not taken');
  await page
    .getByTestId("file")
    .setInputFiles({ name: "Map of weirs.txt", mimeType: "text/html", buffer: Buffer.from("a map") });
  const link = dialog.getByRole("link", { name: "Map of weirs.txt" });
  await expect(link).toBeVisible();
  const served = await page.request.get((await link.getAttribute("href")) as string);
  expect(await served.text()).toBe("a map");
  expect(served.headers()).toMatchObject({
    "content-type": "text/plain; charset=utf-8",
    "content-security-policy": "default-src 'none'; sandbox",
    "x-content-type-options": "nosniff",
  });
  await expect(dialog.getByLabel("Title")).toHaveValue("Map of weirs.txt");
  await dialog.getByRole("button", { name: "Draft the file" }).click();
  await expect(drafted(page)).toContainText("New file Map of weirs.txt");
  // The server decides for itself, whatever the page let through.
  const origin = new URL(page.url()).origin;
  const sent = await page.request.post(`/api/courses/${id}/files`, {
    headers: { origin },
    multipart: { file: { name: "run.svg", mimeType: "image/png", buffer: Buffer.from("<svg/>") } },
  });
  expect([sent.status(), (await sent.json()).detail]).toEqual([400, expect.stringContaining("Nothing was stored.")]);
});

test("an outline comes in from an archive, looked at first, and goes out as one", async ({ page }) => {
  await openWorkbench(page, code, "reach");
  await page.getByRole("button", { name: "Outline in and out" }).click();
  const take = (name: string, bytes: Uint8Array) =>
    page.getByTestId("cartridge").setInputFiles({ name, mimeType: "application/zip", buffer: Buffer.from(bytes) });
  await take("broken.imscc", new TextEncoder().encode("no archive"));
  await expect(page.getByRole("alert")).toContainText("no archive that can be opened");
  const text = (value: string) => new TextEncoder().encode(value);
  await take(
    "weirs.imscc",
    zipSync({
      "imsmanifest.xml": text(
        '<manifest><organizations><organization><item><item identifier="f"><title>Weirs</title><item identifierref="a"><title>Crest</title></item><item identifierref="q"><title>Test</title></item></item></item></organization></organizations><resources><resource identifier="a" type="webcontent" href="a.html"/><resource identifier="q" type="imsqti_xmlv1p2" href="q.xml"/></resources></manifest>',
      ),
      "a.html": text("<p>The crest is where it is measured.</p>"),
      "q.xml": text("<q/>"),
    }),
  );
  const dialog = page.getByRole("dialog");
  await expect(dialog).toContainText("Test: a test in QTI 1 is not taken");
  await dialog.getByRole("button", { name: "Draft 2 items" }).click();
  await findItem(page, "Weirs");
  await expect(page.getByRole("row", { name: /^Select Crest/ })).toContainText("unpublished");
  await page.getByRole("button", { name: "Outline in and out" }).click();
  const saving = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save this outline as an archive" }).click();
  const saved = await saving;
  expect(saved.suggestedFilename()).toBe("WSH 240 outline.imscc");
  const chunks: Buffer[] = [];
  for await (const chunk of await saved.createReadStream()) chunks.push(chunk as Buffer);
  const read = readCartridge(Buffer.concat(chunks));
  if ("trouble" in read) throw new Error(read.trouble);
  expect(read.items.map(({ title }) => title)).toEqual(expect.arrayContaining(["Start here", "Readings", "Weirs"]));
  // Quizzes with questions go out with them.
  const quizzes = allOf(read.items).filter(({ quiz }) => quiz !== null);
  expect(quizzes.map(({ title }) => title)).toEqual(expect.arrayContaining(["Safety check"]));
  await page.keyboard.press("Escape");
  await settled(page);
});

test("a changed title leaves dates and limits as they are, and a date is changed where the item is", async ({
  page,
}) => {
  await openWorkbench(page, code, "reach");
  await page.keyboard.press("Control+k");
  const line = page.getByRole("combobox", { name: "Find any student, group, item or action" });
  await line.fill("Lab 1: Float gauging: attempts 2");
  await page.keyboard.press("Enter");
  await expect(drafted(page)).toContainText("attempts 2");
  await findItem(page, "Lab 1: Float gauging");
  await row(page, "Lab 1: Float gauging").dblclick();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Title").fill("Lab 1: Floats");
  await dialog.getByRole("button", { name: "Draft the change" }).click();
  await expect(drafted(page)).toContainText("Rename Lab 1: Float gauging to Lab 1: Floats");
  await expect(page.getByText("2 changes drafted")).toBeVisible();
  await row(page, "Lab 1: Floats").dblclick();
  await dialog.getByRole("textbox", { name: "Due" }).fill("someday");
  await expect(dialog).toContainText('"someday" is not understood');
  await expect(dialog.getByRole("button", { name: "Draft the change" })).toBeDisabled();
  await dialog.getByRole("textbox", { name: "Due" }).fill("2026-12-11 17:00");
  await dialog.getByRole("button", { name: "Draft the change" }).click();
  await expect(drafted(page)).toContainText("Lab 1: Floats: due Fri 11 Dec, 17:00");
});
