/** Every main view: axe finds nothing, in light and in dark; keys reach everything; failing is designed. */
import { check } from "./accessible.ts";
import { application, choose, courseId, expect, filterText, openWorkbench, signIn, station, test } from "./helpers.ts";

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
      test(`the workbench: ${station}`, async ({ page }) => {
        await signIn(page, "coordinator");
        await openWorkbench(page, "WSH 240", station);
        // A few rows hold every kind of cell, and are looked at in a fraction of the time.
        if (station === "gradebook") await filterText(page).fill("group:Evening esra");
        if (station === "reach" && scheme === "dark") await choose(page, "Show", "only what differs");
        await check(page, scheme);
      });
    }
    test("forming groups, with tries beside each other", async ({ page }) => {
      await signIn(page, "coordinator");
      await openWorkbench(page, "WSH 240", "placement");
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
        await openWorkbench(page, "WSH 240", "placement");
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
    const id = await openWorkbench(page, "WSH 240", "reach");
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

test("crossings and marks are walked with arrow keys", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, "WSH 240", "reach");
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
  await openWorkbench(page, "WSH 240", "reach");
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
  await page.route("**/plan/columns", (route) =>
    route.fulfill({ status: 500, body: JSON.stringify({ detail: "Something failed here" }) }),
  );
  // Our own fault is logged by the browser as an error: expected here, and only here.
  const errors: string[] = [];
  page.removeAllListeners("console");
  page.on("pageerror", (error) => errors.push(error.message));
  await page.goto(`/workbench/${id}/reach`);
  await expect(page.getByRole("alert")).toHaveText("Something failed here");
  await page.unroute("**/plan/columns");
  await page.getByRole("button", { name: "Try again" }).click();
  await expect(station(page, "Reach")).toBeVisible();
  // A station that was fetched is there without a connection.
  await page.keyboard.press("Alt+1");
  await expect(station(page, "Intake")).toBeVisible();
  await page.keyboard.press("Alt+3");
  await context.setOffline(true);
  await page.keyboard.press("Alt+1");
  await page.getByRole("button", { name: "Home is D1" }).click();
  await expect(page.getByText(/The server does not answer/)).toBeVisible();
  await context.setOffline(false);
  expect(errors).toEqual([]);
});
