/** The whole job, in an empty course: from a merged roster to a separated course. */
import type { Page } from "@playwright/test";
import {
  choose,
  courseId,
  expect,
  filterText,
  openWorkbench,
  pageOf,
  publish,
  settled,
  signIn,
  station,
  test,
} from "./helpers.ts";

test.describe.configure({ mode: "serial" });
const code = "WSH 241";
let pageAddress = "";
const go = (page: Page, station: string) =>
  page.getByRole("navigation", { name: "Stations" }).getByRole("link", { name: station }).click();

test("intake: one CSV gives four sections and a group for each, in drop, look, apply", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "intake");
  await expect(page.getByText("This course is empty.")).toBeVisible();
  const first = page.getByRole("region", { name: "First steps" });
  await expect(first).toContainText("Take the registrar's rosters in");
  await page.locator("input[type=file]").setInputFiles("demo/rosters/week-1-merged.csv");
  await expect(page.getByText("103 rows read, nothing changed yet")).toBeVisible();
  await expect(page.getByRole("radio", { name: "new 103" })).toBeVisible();
  await expect(page.getByText("4 sections")).toBeVisible();
  await expect(page.getByText("A group for each section")).toBeVisible();
  await page.getByRole("button", { name: "Apply" }).click();
  await expect(page.getByText("Applied. The layers that follow sections have followed.")).toBeVisible();
  await expect(first).toContainText("Done; Reach comes next.");
  await first.getByRole("link", { name: /Reach/ }).click();
  await expect(page.getByRole("heading", { name: "The outline is empty" })).toBeVisible();
});

test("placement: everyone is placed, the flow shows it, and counts add up", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "placement");
  await expect(page.getByText("103 placed")).toBeVisible();
  await expect(page.getByText("0 unplaced", { exact: true })).toBeVisible();
  const threads = page.getByRole("region", { name: /^Flow: / }).getByRole("button");
  const names = await threads.evaluateAll((all) => all.map((one) => one.getAttribute("aria-label") ?? ""));
  const counts = names.map((name) => Number(/(\d+) student/.exec(name)?.[1]));
  expect(counts.reduce((sum, count) => sum + count, 0)).toBe(103);
  expect(names).toContain("D1 to Day 1: 34 students");
  await threads.first().click();
  await expect(page.getByRole("button", { name: /D1 to Day 1, 34/ })).toBeVisible();
});

test("placement by hand is a draft: undo and redo, held, and published at once", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "placement");
  await page.getByLabel("Find people").fill("Castellano, Jarlath");
  await page.getByText("Select people to move them").click();
  await page.getByText("1 selected").waitFor();
  await choose(page, "Move to", /Evening/);
  await expect(page.getByText("1 change drafted")).toBeVisible();
  await expect(page.getByTestId("touched")).toHaveText("touches 1 student");
  await expect(page.getByText("1 held", { exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText(/^\d+ held$/)).toHaveCount(0);
  await page.getByRole("button", { name: "Redo" }).click();
  await expect(page.getByText("1 held", { exact: true })).toBeVisible();
  await settled(page);
  await page.reload();
  await expect(page.getByText("1 held", { exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Review" }).click();
  await expect(page.getByText("joins Evening")).toBeVisible();
  await expect(page.getByText("leaves Day 1")).toBeVisible();
  await page.getByRole("button", { name: "Publish to 1 student" }).click();
  await expect(page.getByText("Published.")).toBeVisible();
  await expect(page.getByText("Nothing is drafted.")).toBeVisible();
});

test("reach: a folder for one group, with a page and a discussion in it; the crossings show who can open what", async ({
  page,
}) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "reach");
  const add = async (kind: string, title: string, group?: string) => {
    await page.getByRole("button", { name: "New item" }).first().click();
    const dialog = page.getByRole("dialog");
    if (kind !== "folder") {
      await dialog.getByRole("radio", { name: kind, exact: true }).click();
    }
    await dialog.getByLabel("Title").fill(title);
    if (group) {
      await dialog.getByRole("radio", { name: "Only some" }).click();
      await dialog.getByLabel("Groups, sections and persons").fill(group);
      await page
        .getByRole("option", { name: new RegExp(group) })
        .first()
        .click();
      await expect(dialog.getByText(group).first()).toBeVisible();
    }
    if (kind === "assignment") await dialog.getByLabel("Points").fill("20");
    await dialog.getByRole("button", { name: `Draft the ${kind}` }).click();
    await expect(dialog).toBeHidden();
  };
  await add("folder", "Evening only", "Evening");
  await add("page", "Where we park");
  await add("discussion", "Car sharing");
  await expect(page.getByRole("button", { name: "Where we park, Evening: open to all 21" })).toBeVisible();
  await expect(page.getByRole("button", { name: "Where we park, Day 1: hidden from all 33" })).toBeVisible();
  await page.getByRole("button", { name: "Where we park, Day 1: hidden from all 33" }).click();
  await expect(
    page.getByText("The folder Evening only seals it, and is closed to them (it is for Evening)."),
  ).toBeVisible();
  await page.getByRole("button", { name: "Evening only", exact: true }).click();
  await expect(page.getByTestId("touched")).toHaveText("touches 21 students");
  await publish(page);
});

test("look-through and signing in show the same; the hidden page's address answers like one that never existed", async ({
  page,
  browser,
}) => {
  await signIn(page, "coordinator");
  const id = await courseId(page, code);
  const plan = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const personId = (username: string) =>
    Object.values<{ id: string; username: string }>(plan.plan.people).find((one) => one.username === username)?.id ??
    "";
  const itemId =
    Object.values<{ id: string; title: string }>(plan.plan.items).find(({ title }) => title === "Where we park")?.id ??
    "";
  pageAddress = `/course/${id}/item/${itemId}`;

  const seen = async (on: Page, address: string) => {
    await on.goto(address);
    return on
      .locator("[data-student-page]")
      .evaluate((main) => main.innerHTML.replaceAll(/\/(course|look)\/[^"]*?(?=\/item|\/index|")/g, ""));
  };
  for (const [username, sees] of [
    ["student.evening", true],
    ["student.day", false],
  ] as const) {
    const through = await seen(page, `/look/${id}/${personId(username)}`);
    const student = await pageOf(browser, username);
    const own = await seen(student, `/course/${id}`);
    expect(own).toBe(through);
    expect(own.includes("Where we park")).toBe(sees);
    const answer = await student.request.get(pageAddress);
    expect(answer.status()).toBe(sees ? 200 : 404);
    if (!sees) {
      const never = await student.request.get(`${pageAddress.slice(0, -4)}ffff`);
      expect(await answer.text()).toBe(await never.text());
      expect(answer.status()).toBe(never.status());
    }
    await student.context().close();
  }
});

test("timing: an assignment's due date, a later one for a group; each student sees their own and where it came from", async ({
  page,
  browser,
}) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "reach");
  await page.getByRole("button", { name: "New item" }).first().click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("radio", { name: "assignment", exact: true }).click();
  await dialog.getByLabel("Title").fill("Field notes");
  await dialog.getByLabel("Points").fill("20");
  await dialog.getByRole("button", { name: "Draft the assignment" }).click();
  await go(page, "Timing");
  await page.getByRole("button", { name: "Field notes" }).click();
  const type = async (cell: RegExp, text: string) => {
    await page.getByRole("button", { name: cell }).click();
    await page.keyboard.type(text);
    await page.keyboard.press("Enter");
  };
  await type(/^due for everyone/, "4 dec 17:00");
  await type(/^due for Evening/, "wed 9 dec 6pm");
  await expect(page.getByRole("button", { name: /due for Evening: Wed 9 Dec, 18:00/ })).toBeVisible();
  await expect(page.getByRole("button", { name: /due for Day 1: Fri 4 Dec, 17:00, as it falls/ })).toBeVisible();
  await publish(page);

  for (const [username, due] of [
    ["student.evening", "Wed 9 Dec, 18:00 for Evening"],
    ["student.day", "Fri 4 Dec, 17:00"],
  ] as const) {
    const student = await pageOf(browser, username);
    await student.goto(`/course/${await courseId(student, code)}`);
    await student.getByRole("link", { name: "Field notes" }).first().click();
    await expect(student.locator("[data-field=due] dd")).toHaveText(due);
    await student.context().close();
  }
});

test("gradebook: filter by group, type a mark, save the filter, pin it", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "gradebook");
  await choose(page, "Filter by group", /Evening/);
  await expect(page.getByText("21 of 103 students")).toBeVisible();
  await page.getByRole("gridcell").first().getByRole("button").click();
  await page.keyboard.type("17.5");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("button", { name: /Field notes: 17.5 of 20/ })).toBeVisible();
  await page.getByRole("button", { name: "Save filter" }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("button", { name: /^1 Evening 21$/ })).toBeVisible();
  await page.reload();
  await expect(page.getByRole("button", { name: /Field notes: 17.5 of 20/ })).toBeVisible();
  // The filter stands in the address: it stays.
  await expect(page.getByText("21 of 103 students")).toBeVisible();
  await filterText(page).fill("");
  await expect(page.getByText("103 of 103 students")).toBeVisible();
  await expect(page.getByRole("button", { name: /^1 Evening 21$/ })).toBeVisible();
  await station(page, "Gradebook").click();
  await page.locator("body").press("1");
  await expect(page.getByText("21 of 103 students")).toBeVisible();
});

test("taking in the same file again writes nothing; the registrar's next list moves, adds and ends", async ({
  page,
}) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "intake");
  await page.locator("input[type=file]").setInputFiles("demo/rosters/week-1-merged.csv");
  await expect(page.getByRole("radio", { name: "same 103" })).toBeVisible();
  await page.getByRole("button", { name: "Apply" }).click();
  await expect(page.getByText("Nothing was different, so nothing was written.")).toBeVisible();

  await page.locator("input[type=file]").setInputFiles("demo/rosters/week-3-merged.csv");
  for (const verdict of ["unreadable 2", "duplicate 1", "moved 1", "new 2", "missing from roster 3"])
    await expect(page.getByRole("radio", { name: verdict })).toBeVisible();
  await page.getByRole("radio", { name: "unreadable 2" }).click();
  await expect(page.getByText('E-mail: "kovalenko at tarnbeck" is not an e-mail address')).toBeVisible();
  const download = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save the 2 rows not used" }).click();
  expect((await download).suggestedFilename()).toBe("rows-to-mend.csv");
  await page.getByRole("button", { name: "Apply" }).click();
  await expect(page.getByText("2 new, 1 moved, 0 changed, 3 left")).toBeVisible();
  await go(page, "Placement");
  await expect(page.getByText("102 placed")).toBeVisible();
  // Whoever was moved by hand stays where they were put.
  await expect(page.getByText("1 held", { exact: true })).toBeVisible();
});

test("a file a section does the same as the merged list: each file says its section in its name", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "intake");
  await page
    .locator("input[type=file]")
    .setInputFiles(["D1", "D2", "EV", "DL"].map((section) => `demo/rosters/week-1-${section}.csv`));
  await expect(page.getByText("103 rows read, nothing changed yet")).toBeVisible();
  await expect(page.getByRole("radio", { name: "unreadable 0" })).toBeVisible();
  await expect(page.getByText("4 sections")).toBeVisible();
  await page.getByRole("button", { name: "Put away" }).click();
  await expect(page.getByText("Drop the registrar's rosters here")).toBeVisible();
});

test("a draft is carried over an intake that goes live beneath it", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "placement");
  await page.getByRole("button", { name: "New layer" }).click();
  await page.getByRole("dialog").getByLabel("Name").fill("Boats");
  await page.getByRole("button", { name: "Draft the layer" }).click();
  await settled(page);
  await page.keyboard.press("Alt+1");
  const buffer = Buffer.from("Student No,Surname,First name,Section\n00777001,Aalto,Ines,EV\n");
  await page.locator("input[type=file]").setInputFiles({ name: "late.csv", mimeType: "text/csv", buffer });
  await page.getByText("Part of a roster: nobody is missing").click();
  await expect(page.getByRole("radio", { name: "new 1" })).toBeVisible();
  await page.getByRole("button", { name: "Apply" }).click();
  await expect(page.getByText("Applied.")).toBeVisible();
  await expect(page.getByText("1 change drafted")).toBeVisible();
  await page.keyboard.press("Alt+2");
  await expect(page.getByRole("tab", { name: /Boats/ })).toBeVisible();
  await page.getByRole("tab", { name: "Sections" }).click();
  await page.getByLabel("Find people").fill("Aalto");
  await expect(page.getByRole("region", { name: "People of the course" })).toContainText("Evening");
  await page.getByRole("button", { name: "Undo" }).click();
  await settled(page);
});

test("conflicting rows are used when one is chosen; an unknown section when it is taken as new", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "intake");
  const rows = ["00777001,Aalto,Ines,EV", "00777001,Aalto,Inez,EV", "00777002,Bello,Ana,X9"];
  const buffer = Buffer.from(["Student No,Surname,First name,Section", ...rows].join("\n"));
  await page.locator("input[type=file]").setInputFiles({ name: "odd.csv", mimeType: "text/csv", buffer });
  await page.getByText("Part of a roster: nobody is missing").click();
  await expect(page.getByRole("radio", { name: "duplicate 2" })).toBeVisible();
  await expect(
    page.getByText("lines 2, 3 disagree about this person; choose the one that is right").first(),
  ).toBeVisible();
  await page.getByRole("button", { name: "Use this row" }).nth(1).click();
  await expect(page.getByRole("radio", { name: "duplicate 1" })).toBeVisible();
  await expect(page.getByText("givenName: Ines to Inez")).toBeVisible();
  await page.getByRole("button", { name: "Take X9 as a new section" }).click();
  await expect(page.getByRole("radio", { name: "new 1" })).toBeVisible();
  await expect(page.getByRole("radio", { name: "unreadable 0" })).toBeVisible();
  await page.getByRole("button", { name: "Put away" }).click();
  await expect(page.getByRole("heading", { name: "Drop the registrar's rosters here" })).toBeVisible();
});

test("rows pasted from a spreadsheet are a roster too", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "intake");
  await page.evaluate(() => {
    const data = new DataTransfer();
    data.setData("text/plain", "Student No\tSurname\tFirst name\tSection\n00888001\tDiallo\tMei\tD2\n");
    document.body.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true }));
  });
  await expect(page.getByRole("heading", { name: "pasted rows" })).toBeVisible();
  await expect(page.getByRole("radio", { name: "new 1" })).toBeVisible();
});
