/** Small and large windows, an empty course, and a course of five thousand students. */
import { execFile } from "node:child_process";
import { join } from "node:path";
import { promisify } from "node:util";
import type { Page } from "@playwright/test";
import { application, choose, courseId, expect, openWorkbench, settled, signIn, test } from "./helpers.ts";

const stations = ["intake", "placement", "reach", "timing", "gradebook", "review"];

/** Nothing may make the whole page scroll sideways, or lie outside the window. */
async function fits(page: Page): Promise<void> {
  const { wide, tall, outside } = await page.evaluate(() => {
    const { scrollWidth, clientWidth, scrollHeight, clientHeight } = document.documentElement;
    const buttons = [
      ...document.querySelectorAll<HTMLElement>("header button, nav a, section[aria-label=Draft] button"),
    ];
    const outside = buttons.filter((one) => {
      const { left, right, top, bottom } = one.getBoundingClientRect();
      return left < 0 || top < 0 || right > innerWidth + 1 || bottom > innerHeight + 1;
    });
    return {
      wide: scrollWidth > clientWidth,
      tall: scrollHeight > clientHeight,
      outside: outside.map((one) => one.textContent),
    };
  });
  expect({ wide, tall, outside }).toEqual({ wide: false, tall: false, outside: [] });
}

for (const [width, height] of [
  [1024, 700],
  [1920, 1080],
  [2560, 1300],
] as const) {
  test(`at ${width} wide every station fits its window`, async ({ page }) => {
    await page.setViewportSize({ width, height });
    await signIn(page, "coordinator");
    for (const station of stations) {
      await openWorkbench(page, "WSH 240", station);
      await settled(page);
      await fits(page);
    }
  });
}

test("instructors begin at the gradebook, support at their students; who was given nobody finds no empty station", async ({
  page,
}) => {
  for (const [username, begins, stations] of [
    ["instructor.d1", "Gradebook", 6],
    ["support.writing", "Students", 6],
    ["support.access", "You were given nobody yet", 0],
  ] as const) {
    await signIn(page, username);
    await page.getByRole("link", { name: /WSH 240/ }).click();
    await expect(page.getByRole("heading", { name: begins })).toBeVisible();
    await expect(page.getByRole("navigation", { name: "Stations" }).getByRole("link")).toHaveCount(stations);
    await expect(page.getByRole("region", { name: "Draft", exact: true })).toHaveCount(stations > 0 ? 1 : 0);
    await page.getByRole("button", { name: "Sign out" }).click();
  }
});

test.describe("five thousand students", () => {
  test.describe.configure({ mode: "serial", timeout: 600_000 });
  // So many are waited for longer; how long they take is the bench's to say.
  test.use({ actionTimeout: 60_000 });
  const patient = expect.configure({ timeout: 180_000 });
  const code = "WSH 5000";
  test.beforeAll(async () => {
    const root = join(import.meta.dirname, "../..");
    await promisify(execFile)(
      process.execPath,
      ["--import", "tsx", join(root, "demo/load-large.ts"), "--students", "5000"],
      {
        cwd: root,
        env: {
          ...process.env,
          AMBER_DATABASE_URL: application().databaseUrl,
          AMBER_NOW: "2026-11-25T10:00:00Z",
        },
      },
    );
  });
  test("counts add up on every station", async ({ page }) => {
    await signIn(page, "coordinator");
    await openWorkbench(page, code, "placement");
    await patient(page.getByText("5,000 placed", { exact: true })).toBeVisible();
    await patient(page.getByText("5,000 students", { exact: true })).toBeVisible();
    // Every name of the flow stands in its picture, however many are in it.
    const picture = page.getByRole("region", { name: /^Flow/ }).locator("svg").first();
    const outside = await picture.evaluate((svg) => {
      const { left, right } = svg.getBoundingClientRect();
      const words = [...svg.querySelectorAll("text")];
      return words.filter((word) => {
        const box = word.getBoundingClientRect();
        return box.left < left || box.right > right;
      }).length;
    });
    expect(outside).toBe(0);
    await page.keyboard.press("Alt+3");
    await patient(page.getByText("400 items", { exact: true })).toBeVisible();
    await page.keyboard.press("Alt+4");
    await patient(page.getByText(/\d+ of \d+ items have dates/)).toBeVisible();
    await page.keyboard.press("Alt+5");
    await patient(page.getByText("5,000 of 5,000 students")).toBeVisible();
    await page.keyboard.press("Alt+1");
    await page.getByRole("tab", { name: "People" }).click();
    await patient(page.getByText("5,000 people", { exact: true })).toBeVisible();
    await page.getByRole("tab", { name: "Sections" }).click();
    const rows = page.getByRole("region", { name: "Sections" }).getByRole("row");
    await patient(rows).toHaveCount(41);
  });
  test("lists hold only the rows that are seen, and the last can be reached by key", async ({ page }) => {
    await signIn(page, "coordinator");
    await openWorkbench(page, code, "gradebook");
    const cells = page.getByRole("grid", { name: "Marks" }).getByRole("gridcell");
    expect(await cells.count()).toBeLessThan(1000);
    await cells.first().getByRole("button").click();
    await page.keyboard.press("End");
    const last = page.locator("[data-at]");
    await patient(last).toBeFocused();
    await patient(last).toHaveAttribute("aria-label", /: (not theirs|waiting|not yet open|missing|[\d.]+ of 20)/);
    await page.keyboard.press("PageDown");
    await page.keyboard.press("PageDown");
    await patient(last).toBeFocused();
  });
  test("the audit of five thousand names its findings, tries a mend, and counts who sees whom", async ({ page }) => {
    await signIn(page, "coordinator");
    await openWorkbench(page, "WSH 5000", "reach");
    await expect(page.getByRole("columnheader")).toHaveCount(43, { timeout: 180_000 });
    await page.getByRole("radio", { name: "Audit" }).click();
    const findings = page.getByRole("region", { name: "Findings" }).getByRole("button");
    await findings.first().click({ timeout: 180_000 });
    await expect(page.getByRole("button", { name: /^Seal the folder/ }).first()).toBeVisible({ timeout: 180_000 });
    await page.getByRole("radio", { name: "Who sees whom" }).click();
    await expect(page.getByText(/of 12,\d{3},\d{3}/)).toBeVisible();
    await expect(page.getByRole("table").first().getByRole("button")).toHaveCount(40 * 39);
  });
  test("one is moved, an item is hidden from everyone, and both are published at once", async ({ page }) => {
    await signIn(page, "coordinator");
    const id = await openWorkbench(page, code, "placement");
    await page.getByRole("tab", { name: "Layer 1", exact: true }).click();
    await page.getByLabel("Find people").fill("0900012");
    await page.getByText("Select people to move them").click();
    await choose(page, "Move to", /Layer 1 group 2\b/);
    await page.keyboard.press("Alt+3");
    await page.getByRole("button", { name: "folder 1", exact: true }).click();
    await page.getByRole("button", { name: "Unpublish", exact: true }).click();
    await patient(page.getByTestId("touched")).toHaveText("touches 5,000 students");
    await settled(page);
    await page.getByRole("button", { name: "Review" }).click();
    await patient(page.getByText("Effects on people")).toBeVisible();
    await page.getByRole("button", { name: "Publish to 5,000 students" }).click();
    // The tray says so for as long as it is so; the notice goes by itself.
    await expect(page.getByText("Nothing is drafted. Changes you make wait here")).toBeVisible({ timeout: 180_000 });
    const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
    const folder = Object.values<{ title: string; published: boolean }>(plan.items).find(
      ({ title }) => title === "folder 1",
    );
    expect(folder?.published).toBe(false);
  });
  test("teams of four are formed of everyone, and kept", async ({ page }) => {
    await signIn(page, "coordinator");
    const id = await openWorkbench(page, code, "placement");
    await page.getByRole("button", { name: "Form groups" }).click();
    await choose(page, "From", "everyone together");
    await choose(page, "Add a wish", /^New partners, not those of Layer 1$/);
    await page.getByRole("button", { name: "Form the groups" }).click();
    await patient(page.getByRole("button", { name: "Draft 1,250 groups" })).toBeVisible();
    await page.getByRole("button", { name: "Draft 1,250 groups" }).click();
    await patient(page.getByText("5,000 placed", { exact: true })).toBeVisible();
    await patient(page.getByText("1,250 groups", { exact: true })).toBeVisible();
    await settled(page);
    const { commands } = await (await page.request.get(`/api/courses/${id}/draft`)).json();
    expect(commands.map(({ kind }: { kind: string }) => kind)).toEqual(["layer.form"]);
    await page.getByRole("button", { name: "Undo" }).click();
    await patient(page.getByRole("tab", { name: "Teams" })).toHaveCount(0);
    await settled(page);
  });
  test("the board, the layers side by side and the wall take five thousand", async ({ page }) => {
    await signIn(page, "coordinator");
    await openWorkbench(page, code, "placement");
    await page.getByRole("button", { name: "Board" }).click();
    const columns = page.getByRole("listbox");
    await patient(columns.nth(1)).toBeVisible();
    const [first, second] = [
      await columns.nth(1).getAttribute("aria-label"),
      await columns.nth(2).getAttribute("aria-label"),
    ];
    const sizeOf = (label: string | null) => Number(label?.split(", ")[1]);
    await columns.nth(1).focus();
    await page.keyboard.press("End");
    await page.keyboard.press("Space");
    await page.keyboard.press("ArrowRight");
    await patient(columns.nth(2)).toBeFocused();
    await page.keyboard.press("Enter");
    await patient(page.getByText("1 change drafted")).toBeVisible();
    await patient(columns.nth(1)).toHaveAccessibleName(`${first?.split(", ")[0]}, ${sizeOf(first) - 1}`);
    await patient(columns.nth(2)).toHaveAccessibleName(`${second?.split(", ")[0]}, ${sizeOf(second) + 1}`);
    await page.getByRole("button", { name: "Undo" }).click();
    await settled(page);
    await page.getByRole("button", { name: "Side by side" }).click();
    await patient(page.getByRole("region", { name: "Students" })).toBeVisible();
    const shown = page.getByRole("region", { name: "Students" }).getByRole("button");
    expect(await shown.count()).toBeLessThan(60);
    await page.getByRole("textbox", { name: "Find people" }).fill("zzzz");
    await patient(page.getByText("0 students")).toBeVisible();
    const address = await page.getByRole("link", { name: /^Wall sheet/ }).getAttribute("href");
    await page.goto(address ?? "");
    await patient(page.getByText("1 of 40")).toBeVisible();
  });
  test("a roster of five thousand is read, judged and found the same", async ({ page }) => {
    await signIn(page, "coordinator");
    const id = await openWorkbench(page, code, "intake");
    const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
    interface Person {
      id: string;
      sourcedId: string;
      givenName: string;
      familyName: string;
      username: string;
    }
    const lines = Object.values<{ personId: string; sectionId: string | null }>(plan.enrolments)
      .filter(({ sectionId }) => sectionId)
      .map(({ personId, sectionId }) => {
        const { sourcedId, givenName, familyName, username } = plan.people[personId] as Person;
        return [sourcedId, givenName, familyName, username, plan.sections[sectionId as string].code].join(";");
      });
    const buffer = Buffer.from(["Student No;First name;Surname;Login;Section", ...lines].join("\r\n"));
    await page.locator("input[type=file]").setInputFiles({ name: "all.csv", mimeType: "text/csv", buffer });
    await patient(page.getByText("5,000 rows read, nothing changed yet")).toBeVisible();
    await patient(page.getByRole("radio", { name: "same 5000" })).toBeVisible();
    await page.getByRole("button", { name: "Apply" }).click();
    await patient(page.getByText("Nothing was different, so nothing was written.")).toBeVisible();
  });
  test("what a workbench begins with stays within its weight", async ({ page }) => {
    await signIn(page, "coordinator");
    await openWorkbench(page, code, "placement");
    const bytes = await page.evaluate(() =>
      (performance.getEntriesByType("resource") as PerformanceResourceTiming[])
        .filter(({ name }) => name.endsWith("/columns"))
        .map(({ encodedBodySize }) => encodedBodySize),
    );
    const all = bytes.reduce((sum, one) => sum + one, 0);
    expect([bytes.length, all > 1_000_000, all < 2_300_000, bytes]).toEqual([2, true, true, bytes]);
  });
  test("a student's own page does not wait for the other 4,999", async ({ page }) => {
    await signIn(page, "coordinator");
    const id = await courseId(page, code);
    const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
    const person = Object.values<{ id: string; username: string }>(plan.people).find(
      ({ username }) => username === "large.7",
    );
    await page.goto(`/look/${id}/${person?.id}`);
    await patient(page.getByText(/^Through the eyes of/)).toBeVisible();
    await patient(page.getByRole("heading", { name: "Outline", exact: true })).toBeVisible();
  });
});
