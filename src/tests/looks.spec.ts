/** Every main view: axe finds nothing, in light and in dark; keys reach everything; failing is designed. */
import AxeBuilder from "@axe-core/playwright";
import type { Page } from "@playwright/test";
import { application, choose, courseId, expect, openBench, signIn, test } from "./helpers.ts";

const everything = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"];

/** In dark only colours are other than in light, so only contrast is asked about again. */
async function check(page: Page, scheme: "light" | "dark" = "light"): Promise<void> {
  await page.waitForLoadState("networkidle");
  const axe = new AxeBuilder({ page });
  const { violations } = await (scheme === "dark"
    ? axe.withRules(["color-contrast"])
    : axe.withTags(everything)
  ).analyze();
  expect(
    violations.map(
      ({ id, nodes }) =>
        `${id}: ${nodes
          .slice(0, 3)
          .map(({ html }) => html.slice(0, 160))
          .join(" | ")}`,
    ),
  ).toEqual([]);
}

for (const scheme of ["light", "dark"] as const) {
  test.describe(scheme, () => {
    test.use({ colorScheme: scheme });
    test("sign-in and the list of courses", async ({ page }) => {
      await page.goto("/sign-in");
      await check(page, scheme);
      await signIn(page, "coordinator");
      await check(page, scheme);
    });
    for (const station of ["intake", "placement", "reach", "timing", "gradebook", "review"]) {
      test(`the bench: ${station}`, async ({ page }) => {
        await signIn(page, "coordinator");
        await openBench(page, "WSH 240", station);
        // A few rows hold every kind of cell, and are looked at in a fraction of the time.
        if (station === "gradebook")
          await page.getByRole("combobox", { name: "Filter", exact: true }).fill("group:Evening esra");
        if (station === "reach" && scheme === "dark") await choose(page, "Show", "only what differs");
        await check(page, scheme);
      });
    }
    test("forming groups, with tries beside each other", async ({ page }) => {
      await signIn(page, "coordinator");
      await openBench(page, "WSH 240", "placement");
      await page.getByRole("tab", { name: /River teams/ }).click();
      await page.getByRole("button", { name: "Form groups" }).click();
      await page.getByRole("button", { name: "Form the groups" }).click();
      await page.getByRole("button", { name: "Another try" }).click();
      await expect(page.getByRole("button", { name: "Try 2" })).toBeVisible();
      await check(page, scheme);
    });
    for (const view of ["Board", "Groups", "Side by side"]) {
      test(`placement: ${view}`, async ({ page }) => {
        await signIn(page, "coordinator");
        await openBench(page, "WSH 240", "placement");
        await page.getByRole("button", { name: view, exact: true }).click();
        if (view === "Groups") await page.getByRole("button", { name: "Evening", exact: true }).click();
        if (view === "Board")
          await page
            .getByRole("option", { name: /Adeyemi/ })
            .first()
            .click();
        // A few rows are as good as all.
        if (view === "Side by side") await page.getByRole("textbox", { name: "Find people" }).fill("walczak");
        await check(page, scheme);
      });
    }
    test("the student's pages", async ({ page }) => {
      await signIn(page, "student.evening");
      const id = await courseId(page, "WSH 240");
      await page.goto(`/course/${id}`);
      await check(page, scheme);
      for (const name of ["Lab 4: Rating the weir", "Choosing a site"]) {
        await page.goto(`/course/${id}`);
        await page.getByRole("link", { name }).first().click();
        await check(page, scheme);
      }
    });
  });
}

for (const scheme of ["light", "dark"] as const)
  test(`reach: the audit, a finding, who sees whom, the report and two looks side by side, ${scheme}`, async ({
    browser,
  }) => {
    const context = await browser.newContext({ colorScheme: scheme, baseURL: application().url });
    const page = await context.newPage();
    await signIn(page, "coordinator");
    const id = await openBench(page, "WSH 240", "reach");
    await page.getByRole("radio", { name: "Audit" }).click();
    await page.getByRole("button", { name: /North bank notes and are not/ }).click();
    await expect(page.getByRole("button", { name: "Seal the folder North bank" })).toBeVisible();
    await check(page, scheme);
    await page.getByRole("radio", { name: "Who sees whom" }).click();
    await expect(page.getByText(/pairs of students from different groups/)).toBeVisible();
    await check(page, scheme);
    await page.goto(`/report/${id}`);
    await check(page, scheme);
    const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
    const named = (username: string) =>
      Object.values<{ id: string; username: string }>(plan.people).find((one) => one.username === username)?.id;
    await page.goto(`/look/${id}/beside?a=${named("student.day")}&b=${named("student.evening")}`);
    await check(page, scheme);
    await page.goto(`/look/${id}/${named("student.day")}/people`);
    await check(page, scheme);
    await context.close();
  });

test("dialogs of reach: an item with a condition, several at once, looking through, in and out", async ({ page }) => {
  await signIn(page, "coordinator");
  await openBench(page, "WSH 240", "reach");
  const look = async (name: string | RegExp, inside?: () => Promise<void>) => {
    await page.getByRole("button", { name, exact: true }).click();
    await expect(page.getByRole("dialog")).toBeVisible();
    await inside?.();
    await check(page);
    await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog")).toHaveCount(0);
  };
  await look("New item", async () => {
    await choose(page, "Kind", "quiz");
    await page.getByRole("button", { name: "Another condition for some groups" }).click();
    await choose(page, "Condition: add", "all of these");
    await choose(page, "Condition: add a part", "they have at least");
  });
  await look("Look through", () => page.getByText("Beside another student or moment").click());
  await look("Outline in and out");
  await page.getByRole("checkbox", { name: "Select Kit list" }).click();
  for (const tool of ["For whom", "Condition", "Move or copy", "On group pages"]) await look(tool);
});

test("timing: each view and dialog", async ({ page }) => {
  await signIn(page, "coordinator");
  await openBench(page, "WSH 240", "timing");
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
  await openBench(page, "WSH 240", "placement");
  await page.getByRole("button", { name: "Groups", exact: true }).click();
  const look = async (open: () => Promise<void>) => {
    await open();
    await expect(page.getByRole("dialog")).toBeVisible();
    await check(page);
    await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog")).toHaveCount(0);
  };
  const press = (name: string) => () => page.getByRole("button", { name, exact: true }).click();
  await look(press("Paste a list"));
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

test("gradebook: marking, comparison, its dialogs, and the pages of the student", async ({ page }) => {
  await signIn(page, "coordinator");
  const id = await openBench(page, "WSH 240", "gradebook");
  await page.getByRole("combobox", { name: "Filter", exact: true }).fill("group:Evening");
  await check(page);
  await page.getByRole("radio", { name: "Marking" }).click();
  await page.getByRole("region", { name: "Queue" }).getByRole("button").first().click();
  await expect(page.getByRole("region", { name: "What was handed in" })).toContainText("Handed in");
  await check(page);
  await page.getByRole("radio", { name: "Comparison" }).click();
  await check(page);
  for (const dialog of ["In and out", "How totals are made", "Save filter"]) {
    await page.getByRole("button", { name: dialog }).click();
    await check(page);
    await page.keyboard.press("Escape");
  }
  await page.getByRole("radio", { name: "Grid" }).click();
  await page.getByRole("button", { name: "Columns", exact: true }).click();
  await check(page);
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
  await openBench(page, "WSH 240", "reach");
  await page.getByRole("button", { name: "New item" }).click();
  await check(page);
  await page.keyboard.press("Escape");
  await page.keyboard.press("Alt+2");
  await page.getByRole("button", { name: "New layer" }).click();
  await check(page);
  await page.keyboard.press("Escape");
  await page.getByRole("heading", { name: "Placement" }).click();
  await page.keyboard.press("?");
  await expect(page.getByRole("dialog", { name: "Shortcuts" })).toBeVisible();
  await check(page);
});

test("the parts of the intake, its dialogs, a roster looked at and one compared", async ({ page }) => {
  test.setTimeout(120_000);
  await signIn(page, "coordinator");
  await openBench(page, "WSH 240", "intake");
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

test("crossings and marks are walked with arrow keys", async ({ page }) => {
  await signIn(page, "coordinator");
  await openBench(page, "WSH 240", "reach");
  await page.getByRole("button", { name: "Start here", exact: true }).focus();
  await page.keyboard.press("ArrowRight");
  await expect(page.getByRole("button", { name: /^Start here, Day 1:/ })).toBeFocused();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("ArrowRight");
  await expect(page.getByRole("button", { name: /^How this course runs, Day 2:/ })).toBeFocused();
  await page.keyboard.press("Alt+5");
  const first = page.getByRole("gridcell").first().getByRole("button");
  await first.focus();
  await first.click();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("End");
  await expect(page.getByRole("gridcell").getByRole("button").and(page.locator("[data-at]"))).toBeFocused();
});

test("the time rail moves every screen to another moment, and Now brings it back", async ({ page }) => {
  await signIn(page, "coordinator");
  await openBench(page, "WSH 240", "reach");
  await expect(page.getByText("Wed 25 Nov, 10:00, week 9")).toBeVisible();
  await page.getByRole("slider", { name: "Moment shown on every screen" }).focus();
  await page.keyboard.press("Home");
  await expect(page.getByText("Mon 28 Sept, 00:00, week 1")).toBeVisible();
  await expect(page.getByRole("button", { name: /^Start here, Day 1: nobody is in this group/ })).toBeVisible();
  await page.getByRole("button", { name: "Now" }).click();
  await expect(page.getByRole("button", { name: /^Start here, Day 1: open to all 34/ })).toBeVisible();
});

test("when the server does not answer, it is said, and trying again goes on", async ({ page, context }) => {
  await signIn(page, "coordinator");
  const id = await courseId(page, "WSH 240");
  await page.route("**/plan", (route) =>
    route.fulfill({ status: 500, body: JSON.stringify({ detail: "Something failed here" }) }),
  );
  // Our own fault is logged by the browser as an error: expected here, and only here.
  const errors: string[] = [];
  page.removeAllListeners("console");
  page.on("pageerror", (error) => errors.push(error.message));
  await page.goto(`/bench/${id}/reach`);
  await expect(page.getByRole("alert")).toHaveText("Something failed here");
  await page.unroute("**/plan");
  await page.getByRole("button", { name: "Try again" }).click();
  await expect(page.getByRole("heading", { name: "Reach" })).toBeVisible();
  await context.setOffline(true);
  await page.keyboard.press("Alt+1");
  await page.getByRole("button", { name: "Home is D1" }).click();
  await expect(page.getByText(/The server does not answer/)).toBeVisible();
  await context.setOffline(false);
  expect(errors).toEqual([]);
});
