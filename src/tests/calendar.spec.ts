/** Meetings, and dates out and in: files, calendars and their addresses; what is drafted goes again. In the demo course. */
import { readFileSync, writeFileSync } from "node:fs";
import type { Page } from "@playwright/test";
import {
  beginWithoutDraft,
  choose,
  chooseDates,
  courseId,
  drafted,
  expect,
  openWorkbench,
  pageOf,
  test,
  timingView,
  why,
} from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();

const cell = (page: Page, name: RegExp) => page.getByRole("button", { name });

test.describe("meetings", () => {
  test("a meeting falls out: anchored dates move with those that follow, the rest is offered with a reason", async ({
    page,
  }) => {
    await openWorkbench(page, code, "timing");
    await chooseDates(page, "Report draft");
    await cell(page, /^due for everyone/).click();
    await page.keyboard.type("m28 end");
    await page.keyboard.press("Enter");
    await timingView(page, "Meetings");
    await page.getByRole("button", { name: "Meeting 7 of D1 falls out or moves" }).click();
    const dialog = page.getByRole("dialog");
    await expect(dialog).toContainText("1 date given as class meetings moves with them");
    await expect(dialog.getByRole("row", { name: /Report draft/ }).first()).toContainText(
      /Fri 4 Dec|Wed 2 Dec|Mon 7 Dec/,
    );
    await expect(dialog.getByRole("checkbox", { name: "Move due of Lab 1: Float gauging" })).toBeChecked();
    await expect(dialog.getByRole("checkbox", { name: "Move due of Field day one" })).not.toBeChecked();
    await expect(dialog.getByRole("row", { name: /Field day one/ })).toContainText(
      "an event takes place when it takes place",
    );
    await dialog.getByRole("button", { name: "Draft it" }).click();
    await expect(drafted(page)).toContainText(/\d changes drafted/);
    await expect(why(page)).toContainText("No class on Mon 12 Oct");
    await timingView(page, "Overrides");
    await page.getByLabel("Item, group, section or student").fill("Lab 1 D1");
    await expect(page.getByRole("row", { name: /Lab 1: Float gauging/ }).first()).toContainText(
      "due Mon 19 Oct, 17:00",
    );
  });
  test("a meeting moves, another is added, and a calendar file is looked at before it is drafted", async ({ page }) => {
    await openWorkbench(page, code, "timing");
    await timingView(page, "Meetings");
    await page.getByRole("button", { name: "Meeting 3 of D1 falls out or moves" }).click();
    await choose(page, "What happens to it", "takes place at another time");
    await page.getByRole("button", { name: "From its own time" }).click();
    await page.getByRole("spinbutton", { name: /hour/ }).first().fill("14");
    await page.getByRole("button", { name: "Draft it" }).click();
    await expect(page.getByRole("row", { name: /moved from Fri 2 Oct/ })).toContainText("Fri 2 Oct, 14:00");
    const lines = [
      "BEGIN:VCALENDAR",
      "VERSION:2.0",
      "BEGIN:VEVENT",
      "UID:1",
      "DTSTART;VALUE=DATE:20261116",
      "SUMMARY:Founders day",
      "END:VEVENT",
      "BEGIN:VEVENT",
      "UID:2",
      "DTSTART:20261121T100000",
      "DTEND:20261121T120000",
      "SUMMARY:Extra class",
      "END:VEVENT",
      "END:VCALENDAR",
    ];
    await page.getByRole("button", { name: "Read a calendar file" }).click();
    const dialog = page.getByRole("dialog");
    const file = (text: string) => ({ name: "year.ics", mimeType: "text/calendar", buffer: Buffer.from(text) });
    await page.getByTestId("calendar").setInputFiles(file("no calendar"));
    await expect(dialog.getByRole("alert")).toContainText("year.ics: This is no calendar file.");
    await page.getByTestId("calendar").setInputFiles(file(lines.join("\r\n")));
    await expect(dialog.getByRole("checkbox", { name: "Take Mon 16 Nov, Founders day" })).toBeChecked();
    // Meetings that the file lacks are not days without class unless somebody says so.
    const lacking = dialog.getByRole("checkbox", { name: /^Take Meeting/ });
    await expect(lacking.first()).not.toBeChecked();
    await dialog.getByRole("button", { name: "Take them all as days without class" }).click();
    await expect(lacking.first()).toBeChecked();
    await expect(dialog.getByRole("button", { name: "Draft 42 lines" })).toBeVisible();
    for (let at = 1; at <= 4; at++) await dialog.getByRole("checkbox", { name: `Take Meeting ${at},` }).uncheck();
    await expect(dialog.getByRole("button", { name: "Draft 38 lines" })).toBeVisible();
    await page.getByTestId("calendar").setInputFiles(file(lines.join("\r\n")));
    await dialog.getByRole("button", { name: "Draft 2 lines" }).click();
    await expect(page.getByRole("row", { name: /Sat 21 Nov, 10:00/ })).toContainText("added");
    await expect(page.getByRole("complementary", { name: "Why" })).toContainText("Mon 16 Nov");
  });
});

test.describe("out and in", () => {
  test("the table of dates is saved, edited, and read back with a look at what changed", async ({ page }, info) => {
    await openWorkbench(page, code, "timing");
    await page.getByRole("button", { name: "Table in and out" }).click();
    const dialog = page.getByRole("dialog");
    const [download] = await Promise.all([
      page.waitForEvent("download"),
      dialog.getByRole("button", { name: "Save as CSV" }).click(),
    ]);
    const csv = readFileSync(await download.path(), "utf8");
    const path = info.outputPath("dates.csv");
    writeFileSync(path, csv);
    await page.getByTestId("dates").setInputFiles(path);
    await expect(dialog).toContainText("0 rows changed");
    await expect(dialog.getByRole("button", { name: "Draft 0 rows" })).toBeDisabled();
    writeFileSync(path, csv.replace("2026-10-09 17:00", "m5 start").replace("2026-10-23 17:00", "someday"));
    await page.getByTestId("dates").setInputFiles(path);
    await expect(dialog).toContainText("1 row changed");
    await expect(dialog).toContainText('"someday" is not understood');
    await dialog.getByRole("button", { name: "Draft 1 row" }).click();
    await expect(drafted(page)).toContainText("due start of meeting 5");
  });
  test("a private address gives the published calendar until it is withdrawn", async ({ page, request }) => {
    await openWorkbench(page, code, "timing");
    await page.getByRole("button", { name: "Calendars" }).click();
    const dialog = page.getByRole("dialog");
    await choose(page, "Whose", /Evening/);
    await dialog.getByRole("button", { name: "Make a private address" }).click();
    const address = await dialog.locator("code").textContent();
    const answer = await request.get(address ?? "");
    expect(answer.headers()["content-type"]).toContain("text/calendar");
    expect(await answer.text()).toContain("Lab 4: Rating the weir due");
    await dialog.getByRole("button", { name: "Withdraw the address for Evening" }).click();
    await expect(dialog.getByRole("button", { name: "Withdraw the address for Evening" })).toHaveCount(0);
    expect((await request.get(address ?? "")).status()).toBe(404);
  });
  test("a student sees their own dates by week, makes an address, and withdraws it", async ({ browser, request }) => {
    const student = await pageOf(browser, "student.evening");
    await student.goto(`/course/${await courseId(student, code)}`);
    await student.getByRole("link", { name: "Calendar", exact: true }).click();
    const due = student.getByRole("listitem").filter({ hasText: "Lab 4: Rating the weir due" });
    await expect(due).toContainText("Wed 2 Dec, 18:00");
    await expect(student.getByText("Orthophoto")).toHaveCount(0);
    await student.getByRole("button", { name: "Make a private address" }).click();
    const address = await student.locator("code").textContent();
    const file = await (await request.get(address ?? "")).text();
    expect(file).toContain("SUMMARY:Lab 4: Rating the weir due");
    expect(file).not.toContain("Orthophoto");
    await student.getByRole("button", { name: /^Withdraw the address/ }).click();
    await expect(student.locator("code")).toHaveCount(0);
    expect((await request.get(address ?? "")).status()).toBe(404);
    await student.context().close();
  });
});
