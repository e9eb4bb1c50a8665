/** Marking by hand, groups compared, marks out and in. In the demo course. */
import { readFile, writeFile } from "node:fs/promises";
import type { Page } from "@playwright/test";
import {
  beginWithoutDraft,
  cell,
  choice,
  choose,
  expect,
  filterText,
  openWorkbench,
  pageOf,
  test,
  undoMarks,
  why,
} from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();

test.describe("marking", () => {
  const queue = (page: Page) => page.getByRole("region", { name: "Queue" }).getByRole("button");
  test("a queue is gone through by key; mark, comment and note are kept, and the comment alone is read by the student", async ({
    page,
    browser,
  }) => {
    const id = await openWorkbench(page, code, "gradebook");
    const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
    await filterText(page).fill('section:EV status@"Lab 4: Rating the weir":"handed in"');
    await page.getByRole("radio", { name: "Marking" }).click();
    await choice(page, "Column").click();
    await page.getByRole("option", { name: /Lab 4/ }).click();
    await expect(page.getByText(/^\d+ to be marked$/)).toBeVisible();
    const waiting = await queue(page).count();
    await queue(page).first().click();
    const name = (await page.getByRole("heading", { level: 3, name: /, Lab 4: Rating the weir$/ }).textContent()) ?? "";
    await expect(page.getByRole("region", { name: "What was handed in" })).toContainText("Q = 1.84");
    await page.getByLabel("Mark, of 20").fill("twelve");
    await page.getByRole("button", { name: "Store and go on" }).click();
    await expect(page.getByText('"twelve" is not a mark.')).toBeVisible();
    await page.getByLabel("Mark, of 20").fill("12.5");
    await page.getByLabel("Comment, for the student").fill("Say how you chose the verticals.");
    await page.getByLabel("Note, for staff alone").fill("Spoke with them on Monday.");
    await page.keyboard.press("Control+Enter");
    await expect(page.getByRole("heading", { level: 3, name: /, Lab 4: Rating the weir$/ })).not.toHaveText(name);
    await expect(queue(page)).toHaveCount(waiting - 1);
    // The student reads the mark and the comment, and nothing of the note.
    const [family, given] = (name.split(", Lab 4")[0] ?? "").split(", ");
    const person = Object.values<{ id: string; familyName: string; givenName: string }>(plan.people).find(
      (one) => one.familyName === family && one.givenName === given,
    );
    const look = await browser.newContext({ storageState: await page.context().storageState() });
    const other = await look.newPage();
    const origin = new URL(page.url()).origin;
    await other.goto(`${origin}/look/${id}/${person?.id}/marks`);
    await expect(other.getByRole("row", { name: /Lab 4/ })).toContainText("12.5 of 20");
    await expect(other.getByRole("row", { name: /Lab 4/ })).toContainText("Say how you chose the verticals.");
    expect(await other.content()).not.toContain("Spoke with them");
    await look.close();
    await undoMarks(page);
    await expect(queue(page)).toHaveCount(waiting);
  });
  test("what is handed in meanwhile stands in the queue and beside the mark, and what was typed stays", async ({
    page,
    browser,
  }) => {
    const id = await openWorkbench(page, code, "gradebook");
    const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
    const item = Object.values<{ id: string; title: string }>(plan.items).find(({ title }) => title === "Report draft");
    const student = await pageOf(browser, "student.evening");
    const own = Object.values<{ username: string; familyName: string; givenName: string }>(plan.people).find(
      ({ username }) => username === "student.evening",
    );
    await filterText(page).fill("section:EV");
    await page.getByRole("radio", { name: "Marking" }).click();
    await choice(page, "Column").click();
    await page.getByRole("option", { name: /^Report draft/ }).click();
    await choose(page, "Which", "everyone it is for");
    await queue(page)
      .filter({ hasText: `${own?.familyName}, ${own?.givenName}` })
      .click();
    await expect(page.getByText("Nothing has been handed in.")).toBeVisible();
    await page.getByLabel("Comment, for the student").fill("So far");
    const answer = await student.request.post(`/course/${id}/item/${item?.id}`, {
      headers: { origin: new URL(page.url()).origin },
      form: { text: "Handed in while somebody marks." },
      maxRedirects: 0,
    });
    expect(answer.status()).toBe(303);
    await expect(page.getByRole("region", { name: "What was handed in" })).toContainText("while somebody marks.");
    await expect(page.getByLabel("Comment, for the student")).toHaveValue("So far");
    await choose(page, "Which", "to be marked");
    await expect(queue(page).filter({ hasText: `${own?.familyName}, ${own?.givenName}` })).toHaveCount(1);
    await student.context().close();
  });
  test("marks typed ahead are whose they were typed for, however long the server takes", async ({ page }) => {
    const id = await openWorkbench(page, code, "gradebook");
    const lab = "Lab 4: Rating the weir";
    await filterText(page).fill(`status@"${lab}":"handed in"`);
    await page.getByRole("radio", { name: "Marking" }).click();
    await choice(page, "Column").click();
    await page.getByRole("option", { name: /Lab 4/ }).click();
    await expect(page.getByText(/^\d+ to be marked$/)).toBeVisible();
    // Each answer takes its own time, none of them the same.
    let asked = 0;
    await page.route(/\/marks$/, async (route) => {
      await new Promise((resolve) => setTimeout(resolve, (asked++ * 397) % 900));
      await route.continue();
    });
    const names = (await queue(page).locator("span:first-child").allTextContents()).slice(0, 7);
    await queue(page).first().click();
    await expect(page.getByLabel("Mark, of 20")).toBeFocused();
    const marks = names.map((_, at) => String(11 + at + 0.25));
    for (const mark of marks) {
      await page.keyboard.type(mark);
      await page.keyboard.press("Control+Enter");
    }
    const given = async () => {
      const [{ plan }, progress] = await Promise.all(
        ["plan", "progress"].map(async (what) => (await page.request.get(`/api/courses/${id}/${what}`)).json()),
      );
      const item = Object.values<{ id: string; title: string }>(plan.items).find(({ title }) => title === lab);
      return names.map((name) => {
        const person = Object.values<{ id: string; familyName: string; givenName: string }>(plan.people).find(
          (one) => `${one.familyName}, ${one.givenName}` === name,
        );
        const mark = progress.marks.find(
          (one: { personId: string; itemId: string }) => one.personId === person?.id && one.itemId === item?.id,
        );
        return String(mark?.points);
      });
    };
    await expect.poll(given).toEqual(marks);
    await page.unroute(/\/marks$/);
    for (const _ of names) await undoMarks(page);
  });
  test("more points than there are ask first, in the work and in the grid", async ({ page }) => {
    await openWorkbench(page, code, "gradebook");
    await filterText(page).fill('section:EV status@"Lab 4: Rating the weir":"handed in"');
    await page.getByRole("radio", { name: "Marking" }).click();
    await choice(page, "Column").click();
    await page.getByRole("option", { name: /Lab 4/ }).click();
    await queue(page).first().click();
    await page.getByLabel("Mark, of 20").fill("25");
    await page.keyboard.press("Control+Enter");
    await expect(page.getByText("25 is more than the 20 points that there are.")).toBeVisible();
    await page.getByLabel("Mark, of 20").fill("");
    await page.getByRole("radio", { name: "Grid" }).click();
    await cell(page, ", Lab 4: Rating the weir: handed in").first().click();
    await page.keyboard.type("25");
    await page.keyboard.press("Enter");
    const dialog = page.getByRole("dialog");
    await expect(dialog).toContainText("25 is more than the 20 points that there are");
    await expect(dialog.getByRole("button", { name: "Store 0 marks" })).toBeDisabled();
    await dialog.getByRole("button", { name: "Leave" }).click();
  });
  test("one mark for all of a team as of the hand-in; an own mark beats it", async ({ page }) => {
    await openWorkbench(page, code, "gradebook");
    await page.getByRole("radio", { name: "Marking" }).click();
    await choice(page, "Column").click();
    await page.getByRole("option", { name: /Method critique/ }).click();
    await expect(page.getByRole("region", { name: "Handed in, by group" })).toBeVisible();
    await queue(page).first().click();
    await expect(page.getByText(/^Goes to \d+ members as of the hand-in/)).toBeVisible();
    await page.getByLabel("Mark, of 5").fill("4.25");
    await page.keyboard.press("Control+Enter");
    await page.getByRole("radio", { name: "Grid" }).click();
    await filterText(page).fill('mark@"Method critique"=85');
    await expect(cell(page, "Method critique: 4.25 of 5, a shared mark")).not.toHaveCount(0);
    const shared = await cell(page, "Method critique: 4.25 of 5, a shared mark").count();
    await cell(page, "Method critique: 4.25 of 5, a shared mark").first().click();
    await expect(why(page)).toContainText("shared by its members as of the hand-in");
    await page.keyboard.type("3");
    await page.keyboard.press("Enter");
    await expect(cell(page, "Method critique: 4.25 of 5, a shared mark")).toHaveCount(shared - 1);
    await undoMarks(page);
    await expect(cell(page, "Method critique: 4.25 of 5, a shared mark")).toHaveCount(shared);
    await undoMarks(page);
    await expect(cell(page, "Method critique: 4.25 of 5")).toHaveCount(0);
  });
});

test("groups beside each other: figures, dots, the difference with its interval", async ({ page }) => {
  await openWorkbench(page, code, "gradebook");
  await page.getByRole("radio", { name: "Comparison" }).click();
  const row = (name: string) => page.getByRole("row", { name: new RegExp(name) });
  await expect(row("Evening").getByRole("img")).toHaveAttribute("aria-label", /^Evening: 22 marks, median \d+ %/);
  await expect(row("Evening")).toContainText(/[+-]?\d+\.\d to [+-]?\d+\.\d/);
  await choose(page, "What", "Lab 4: Rating the weir");
  await expect(row("Day 1").getByRole("cell").nth(1)).toHaveText("13");
  await page.getByText("Groups as of the hand-in").click();
  await page.getByRole("button", { name: "Next column" }).click();
  await expect(page.getByRole("button", { name: /Choosing a site What$/ })).toBeVisible();
  await choose(page, "Held against", "held against Day 2");
  await expect(row("Day 2").getByRole("cell").last()).toHaveText("–");
});

test.describe("marks in and out", () => {
  const save = async (page: Page, as: string): Promise<string> => {
    await page.getByRole("button", { name: "In and out" }).click();
    const coming = page.waitForEvent("download");
    await page.getByRole("button", { name: `Save as ${as}` }).click();
    const path = test.info().outputPath(`marks.${as === "OneRoster" ? "zip" : as.toLowerCase()}`);
    await (await coming).saveAs(path);
    return path;
  };
  test("every kind of file comes back without a difference", async ({ page }) => {
    await openWorkbench(page, code, "gradebook");
    await filterText(page).fill("section:EV");
    for (const kind of ["CSV", "XLSX", "ODS", "OneRoster"]) {
      const path = await save(page, kind);
      await page.getByTestId("marks").setInputFiles(path);
      const dialog = page.getByRole("dialog");
      await expect(dialog.getByRole("button", { name: "Store 0 marks" })).toBeDisabled();
      await expect(dialog.getByRole("button", { name: /^same [\d,]+$/ })).toBeVisible();
      await expect(dialog.getByRole("button", { name: /^(changed|not|unknown|outside|twice)/ })).toHaveCount(0);
      await dialog.getByRole("button", { name: "Leave" }).click();
    }
  });
  test("changes, strangers and those outside the filter are told before anything is stored", async ({ page }) => {
    await openWorkbench(page, code, "gradebook");
    await filterText(page).fill("section:EV");
    const path = await save(page, "CSV");
    const [header = "", first = "", ...others] = (await readFile(path, "utf8")).split("\r\n");
    const at = header.split(",").indexOf("Quiz 1: Units and precision");
    const cells = (first.match(/("[^"]*"|[^,]*)(,|$)/g) ?? []).map((one) => one.replace(/,$/, ""));
    const was = cells[at];
    cells[at] = was === "2.5" ? "3.5" : "2.5";
    await writeFile(path, [header, cells.join(","), `99999${first.slice(first.indexOf(","))}`, ...others].join("\r\n"));
    await page.getByTestId("marks").setInputFiles(path);
    const dialog = page.getByRole("dialog");
    await expect(dialog).toContainText("Not marks, so not read: name, section, Total.");
    await expect(dialog.getByRole("button", { name: /^changed 1$/ })).toBeVisible();
    await dialog.getByRole("button", { name: /^unknown student/ }).click();
    await expect(dialog).toContainText('no student here has the id "99999"');
    await expect(dialog).toContainText("line 3");
    await dialog.getByRole("button", { name: "Store 1 mark" }).click();
    await expect(page.getByText("1 mark stored.")).toBeVisible();
    await undoMarks(page);
  });
  test("a file that holds no marks says what is wanted", async ({ page }) => {
    await openWorkbench(page, code, "gradebook");
    await page.getByRole("button", { name: "In and out" }).click();
    await page.getByTestId("marks").setInputFiles({
      name: "letter.csv",
      mimeType: "text/csv",
      buffer: Buffer.from("Dear,all\nhello,there\n"),
    });
    await expect(page.getByRole("alert")).toContainText("letter.csv has no column that names students");
  });
});
