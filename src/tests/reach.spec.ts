/** Reach: crossings, the audit and its mends, who sees whom. In the demo course; what is drafted goes again. */
import type { Page } from "@playwright/test";
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

test.describe("reach", () => {
  const row = (page: Page, title: string) => page.getByRole("button", { name: title, exact: true });
  test("an item is changed in its dialog: title, folder and audience in one draft", async ({ page }) => {
    await openWorkbench(page, code, "reach");
    await row(page, "Kit list").dblclick();
    const dialog = page.getByRole("dialog");
    await dialog.getByLabel("Title").fill("Kit list and store hours");
    await dialog.getByRole("button", { name: /\bIn$/ }).click();
    await page.getByRole("option", { name: "Readings" }).click();
    await dialog.getByRole("button", { name: "Minus some of them" }).click();
    await dialog.getByLabel("Minus").fill("Distance");
    await page
      .getByRole("option", { name: /Distance/ })
      .first()
      .click();
    await expect(dialog).toContainText("87 students of 104");
    await dialog.getByRole("button", { name: "Draft the change" }).click();
    await expect(drafted(page)).toContainText("2 changes drafted");
    await expect(
      page.getByRole("button", { name: /^Kit list and store hours, Distance: hidden from all 17/ }),
    ).toBeVisible();
  });
  test("a new item in a folder says whom it really reaches, while it is made", async ({ page }) => {
    await openWorkbench(page, code, "reach");
    await findItem(page, "North bank", "folder");
    await page.getByRole("button", { name: "New item in it" }).click();
    const dialog = page.getByRole("dialog");
    await expect(dialog).toContainText("65 students of 104: North bank is not for the other 39");
    await dialog.getByText("Only some").click();
    await choosePerson(page, "Groups, sections and persons", "Evening");
    await expect(dialog).toContainText("0 students of 104: North bank is for none of them");
    await dialog.getByRole("button", { name: /\bIn$/ }).click();
    await page.getByRole("option", { name: "Top of the outline" }).click();
    await expect(dialog).toContainText("22 students of 104");
    await expect(dialog).not.toContainText("is for none of them");
    await dialog.getByRole("button", { name: "Leave", exact: true }).click();
  });
  test("removing a folder says how much lies beneath it, and undo brings all of it back", async ({ page }) => {
    await openWorkbench(page, code, "reach");
    await findItem(page, "Quizzes");
    await page.getByRole("button", { name: "Remove", exact: true }).click();
    await expect(drafted(page)).toContainText("Remove Quizzes and the 5 beneath it");
    await expect(row(page, "Quizzes")).toHaveCount(0);
    await page.getByRole("button", { name: "Undo" }).click();
    await expect(row(page, "Quizzes")).toHaveCount(1);
  });
  test("switching an index off ends the leak; the tray says whom it touches", async ({ page }) => {
    await openWorkbench(page, code, "reach");
    await page.getByText("All discussions").click();
    await page.getByRole("radio", { name: "Audit" }).click();
    await expect(page.getByRole("button", { name: /^Stranded/ }).first()).toBeVisible();
    await expect(page.getByRole("button", { name: /^Leak/ })).toHaveCount(0);
    // Thirty-nine lose what leaked, and everybody the list itself.
    await expect(page.getByText("39 students lose something")).toBeVisible();
    await expect(page.getByTestId("touched")).toHaveText("touches 104 students");
    await expect(drafted(page)).toContainText("Index all discussions off");
  });
  test("a group's removal is refused while items are for it, with their names", async ({ page }) => {
    const id = await openWorkbench(page, code, "reach");
    const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
    const day = Object.values<{ id: string; name: string }>(plan.groups).find(({ name }) => name === "Day 1");
    const command = { id: "0190a000-0000-7000-8000-0000000000aa", kind: "group.remove", groupId: day?.id };
    const answer = await page.request.post(`/api/courses/${id}/draft`, {
      headers: { origin: new URL(page.url()).origin },
      data: { commands: [command] },
    });
    expect(answer.status()).toBe(409);
    expect((await answer.json()).detail).toBe(
      "2 items are set for it: North bank, North bank route. Change whom they are for first.",
    );
  });
  test("another layer's groups are other columns, a private one's without colours", async ({ page }) => {
    await openWorkbench(page, code, "reach");
    await choose(page, "Columns", "Access plans");
    await expect(page.getByRole("columnheader", { name: /Extra time/ })).toBeVisible();
    await findItem(page, "Report clinic");
    await expect(page.getByRole("button", { name: /^Report clinic, Extra time:/ })).toBeVisible();
  });
  test("what is shown: what changes this week, problems, sections, students of one group, and folders folded", async ({
    page,
  }) => {
    await openWorkbench(page, code, "reach");
    await choose(page, "Show", "only what changes this week");
    await expect(row(page, "Final report")).toHaveCount(0);
    await expect(page.getByRole("row")).not.toHaveCount(1);
    await choose(page, "Show", "only problems");
    await expect(row(page, "North bank notes leak")).toBeVisible();
    await expect(row(page, "Kit list")).toHaveCount(0);
    await choose(page, "Show", "every item");
    await page.getByRole("button", { name: "Fold all" }).click();
    await expect(row(page, "Kit list")).toHaveCount(0);
    // A folded folder opens by its arrow key, and folds again.
    await row(page, "Start here 6 within").click();
    await page.keyboard.press("ArrowRight");
    await expect(row(page, "Kit list")).toBeVisible();
    await page.keyboard.press("ArrowLeft");
    await expect(row(page, "Kit list")).toHaveCount(0);
    await choose(page, "Columns", "Registrar's sections");
    await expect(page.getByRole("columnheader", { name: "D1", exact: true })).toBeVisible();
    await choose(page, "Columns", "Drone pilots");
    await page
      .getByRole("columnheader", { name: /Drone pilots/ })
      .getByRole("button")
      .click();
    await expect(page.getByRole("columnheader")).toHaveCount(15);
    await page.getByRole("button", { name: "All columns again" }).click();
    await expect(page.getByRole("columnheader", { name: /Drone pilots/ })).toBeVisible();
  });
  test("only what differs leaves out what is the same for all", async ({ page }) => {
    await openWorkbench(page, code, "reach");
    await choose(page, "Show", "only what differs");
    await expect(row(page, "North bank route")).toBeVisible();
    await expect(row(page, "Kit list")).toHaveCount(0);
  });
  test("look-through opens from the Why panel, as drafted, and says so", async ({ page, context }) => {
    await openWorkbench(page, code, "reach");
    await findItem(page, "Notes for next year");
    await page.getByRole("button", { name: "Make it published" }).click();
    await page.getByRole("button", { name: /^Notes for next year, Day 1: open to all 34/ }).click();
    await settled(page);
    const opening = context.waitForEvent("page");
    await why(page).getByTitle("Look through their eyes").first().click();
    const look = await opening;
    await expect(look.getByText(/^Through the eyes of/)).toBeVisible();
    await expect(look.getByRole("link", { name: "Notes for next year" })).toBeVisible();
    await look.getByRole("link", { name: "See it as published" }).click();
    await expect(look.getByText(/as published$/)).toBeVisible();
    await expect(look.getByRole("link", { name: "Notes for next year" })).toHaveCount(0);
    await look.close();
  });
});

test.describe("the audit", () => {
  const finding = (page: Page, name: RegExp) =>
    page.getByRole("region", { name: "Findings" }).getByRole("button", { name });
  async function audit(page: Page): Promise<void> {
    await openWorkbench(page, code, "reach");
    await page.getByRole("radio", { name: "Audit" }).click();
    await expect(finding(page, /North bank notes and are not/)).toBeVisible();
  }
  test("a leak names whom and why, each mend says its effect, and one press drafts it", async ({ page }) => {
    await audit(page);
    await finding(page, /North bank notes and are not/).click();
    await expect(why(page)).toContainText("39 students can open North bank notes and are not meant to.");
    await expect(why(page)).toContainText("another entrance leads past it");
    await expect(why(page).getByRole("link")).toHaveCount(8);
    for (const mend of ["Seal the folder North bank", "Narrow North bank notes to whom North bank is for"])
      await expect(why(page).getByRole("button", { name: mend })).toBeVisible();
    await expect(why(page).getByText("39 students cease to reach it; nobody it is meant for loses it.")).toHaveCount(3);
    await why(page).getByRole("button", { name: "Seal the folder North bank" }).click();
    await expect(finding(page, /North bank notes and are not/)).toHaveCount(0);
    await expect(drafted(page)).toContainText("North bank seals its contents");
    await expect(drafted(page)).toContainText("39 students lose something");
  });
  test("what the draft newly strands or leaks later stands in the tray before anyone is touched", async ({ page }) => {
    await openWorkbench(page, code, "reach");
    await findItem(page, "Report proposal");
    await page.getByRole("button", { name: "Unpublish" }).click();
    await expect(drafted(page)).toContainText(/strands 104 students/);
  });
  test("accepted with a reason it is quiet, until something in it changes", async ({ page }) => {
    await audit(page);
    await finding(page, /^Telling label/).click();
    await why(page).getByRole("button", { name: "Let it stand" }).click();
    await why(page).getByLabel("Why it may stand").fill("The students chose the title.");
    await why(page).getByRole("button", { name: "Let it stand" }).click();
    await expect(finding(page, /^Telling label/)).toHaveCount(0);
    await page.getByText("1 let stand").click();
    await finding(page, /^Telling label/).click();
    await expect(why(page)).toContainText("Let stand: The students chose the title.");
    await why(page).getByRole("button", { name: "Show it among the crossings" }).click();
    await page.getByRole("button", { name: "Change", exact: true }).click();
    await page.getByRole("dialog").getByLabel("Title").fill("Basic maths for hydrology");
    await page.getByRole("button", { name: "Draft the change" }).click();
    await page.getByRole("radio", { name: "Audit" }).click();
    await expect(finding(page, /^Telling label.*Basic maths/)).toBeVisible();
  });
  test("the offered mends keep the sections apart, down to the pilots' own surfaces, which are accepted", async ({
    page,
  }) => {
    await openWorkbench(page, code, "reach");
    await page.getByRole("radio", { name: "Who sees whom" }).click();
    const total = page.getByText(/pairs of students from different groups of Sections see each other/);
    await expect(total).toContainText("3,963 of 3,963");
    const surface = (name: string) => page.getByRole("table").last().getByRole("button", { name, exact: true });
    for (const [where, mend] of [
      ["the class list", "Show on the class list only those who share a group of Sections"],
      ["The café by the weir", "Split it along Sections, sealed"],
      ["North bank notes", "Split it along Sections, sealed"],
      ["Method critique", "Seal its threads"],
      ["South bank notes", "Split it along Sections, sealed"],
    ] as const) {
      // The counts of the change before may still be on their way, and move the rows.
      await expect(total).toHaveAttribute("aria-busy", "false");
      await surface(where).click();
      await why(page).getByRole("button", { name: mend, exact: true }).click();
      await page.getByRole("radio", { name: "Who sees whom" }).click();
      await expect(total).toBeVisible();
      await expect(surface(where)).toHaveCount(0);
    }
    // What is left is what the pilots share among themselves.
    await expect(total).toContainText("54 of 3,963");
    await expect(page.getByRole("table").last().getByRole("row")).toHaveCount(2);
    await surface("Pilots' log").click();
    await why(page).getByRole("button", { name: "Let it stand" }).click();
    await why(page).getByLabel("Why it may stand").fill("Pilots of all sections fly together.");
    await why(page).getByRole("button", { name: "Let it stand" }).click();
    await expect(page.getByRole("button", { name: /^Sightline/ })).toHaveCount(0);
    await page.getByRole("radio", { name: "Who sees whom" }).click();
    await expect(page.getByRole("row", { name: /Pilots' log/ })).toContainText("let stand");
  });
  test("the report says date, revision and totals, and comes as CSV and JSON", async ({ page }) => {
    const id = await openWorkbench(page, code, "reach");
    await page.goto(`/report/${id}`);
    await expect(page.getByText(/of the published plan, revision \d+\. 104 students/)).toBeVisible();
    await expect(page.getByText("39 students can open North bank notes and are not meant to.")).toBeVisible();
    // On paper: tagged, in outlines of fonts, with pages that fill.
    const pdf = (await page.pdf({ preferCSSPageSize: true, tagged: true })).toString("latin1");
    for (const part of ["/StructTreeRoot", "/Marked true", "/FontFile2"]) expect(pdf).toContain(part);
    expect(pdf).not.toContain("/Type3");
    const csv = await (await page.request.get(`/api/courses/${id}/audit?format=csv`)).text();
    expect(csv).toMatch(/^\uFEFF?Finding,What,Says/);
    expect(csv).toContain("North bank notes");
    const report = await (await page.request.get(`/api/courses/${id}/audit`)).json();
    expect(report.sightlines).toMatchObject({ layer: "Sections", pairs: 3963, possible: 3963 });
    expect(report.findings.find(({ kind }: { kind: string }) => kind === "leak").students).toHaveLength(39);
  });
});
