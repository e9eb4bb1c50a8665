/** The first page: what waits in each course, as the workbench itself says it; all that is due in one list and at one address. */
import { check } from "./accessible.ts";
import { application, expect, openWorkbench, pageOf, signIn, station, test } from "./helpers.ts";

test("a coordinator finds what waits in each course, as its stations say it, and where they were last", async ({
  page,
}) => {
  await signIn(page, "coordinator");
  const course = await openWorkbench(page, "WSH 240", "timing");
  const stations = page.getByRole("navigation", { name: "Stations" });
  // The audit is asked in a worker: nothing is found until it answers.
  await expect(stations.getByRole("link", { name: /Reach.*\b[1-9]\d* findings/ })).toBeVisible();
  const said = async (name: string) =>
    Number.parseInt(
      (await stations
        .getByRole("link", { name })
        .getByText(/^\d+ (findings|hand-ins)/)
        .textContent()) ?? "",
      10,
    );
  const [findings, unmarked] = [await said("Reach"), await said("Gradebook")];
  const row = page.getByRole("listitem").filter({ hasText: "WSH 240" });
  // The audit asks within seconds of a change.
  await expect(async () => {
    await page.goto("/");
    const text = (await row.textContent()) ?? "";
    expect(text).toContain(`${unmarked} to mark`);
    const found = [...text.matchAll(/(\d+) (?:leaks?|stranded|other findings?)/g)].map(([, count]) => Number(count));
    expect(found.reduce((sum, count) => sum + count, 0)).toBe(findings);
  }).toPass({ timeout: 90_000 });
  await check(page);
  await page.getByRole("link", { name: "Timing", exact: true }).click();
  await expect(page).toHaveURL(new RegExp(`/workbench/${course}/timing`));
  await page.goto("/");
  await row.getByRole("link", { name: `${unmarked} to mark` }).click();
  await expect(station(page, "Gradebook")).toBeVisible();
});

test("a student finds all that is due in one list, and one address for their calendar, which can be withdrawn", async ({
  browser,
}) => {
  const student = await pageOf(browser, "student.evening");
  await student.getByRole("link", { name: "All that is due" }).click();
  await expect(student.getByRole("heading", { name: "All that is due" })).toBeVisible();
  await check(student);
  const titles = await student
    .getByRole("region", { name: /^Week of/ })
    .getByRole("link")
    .allTextContents();
  expect(titles.length).toBeGreaterThan(1);
  await student.getByLabel("Reminder").selectOption("A day before");
  await student.getByRole("button", { name: "Make a private address" }).click();
  const address = (await student.locator("#made").textContent()) ?? "";
  expect(address).toMatch(/\/calendar\/[\w-]+\.ics\?alarm=1440$/);
  const stranger = await browser.newContext({ baseURL: application().url });
  const file = (await (await stranger.request.get(address)).text()).replaceAll(/\r?\n /g, "");
  for (const title of titles) expect(file).toContain(title.replaceAll(",", "\\,"));
  expect(file).toContain("BEGIN:VALARM");
  // Somebody else cannot withdraw it, and what is no id is nothing.
  const [id] = await student
    .locator("button[name=withdraw]")
    .evaluateAll((all) => all.map((one) => one.getAttribute("value")));
  const other = await pageOf(browser, "student.day");
  for (const withdraw of [id ?? "", "1"])
    expect(
      (await other.request.post("/dues", { headers: { origin: application().url }, form: { withdraw } })).status(),
    ).toBe(404);
  await student.goto("/dues");
  await expect(student.getByText(/last fetched/)).toBeVisible();
  await student.getByRole("button", { name: /^Withdraw/ }).click();
  await expect(student.getByText(/last fetched/)).toHaveCount(0);
  expect((await stranger.request.get(address)).status()).toBe(404);
  for (const one of [student, other]) await one.context().close();
  await stranger.close();
});
