/** What axe does not ask: pages of students on a narrow phone and by Tab alone, and the workbench by Tab alone. */
import type { Page } from "@playwright/test";
import { check } from "./accessible.ts";
import { courseId, drafted, expect, openWorkbench, signIn, test, why } from "./helpers.ts";

const code = "WSH 240";
/** Pages of a student, as their addresses. */
async function pagesOf(page: Page): Promise<string[]> {
  const id = await courseId(page, code);
  const base = `/course/${id}`;
  await page.goto(base);
  const items: string[] = [];
  for (const title of ["Lab 4: Rating the weir", "The café by the weir"])
    items.push((await page.locator("main a", { hasText: title }).first().getAttribute("href")) ?? "");
  return [
    "/",
    "/self",
    "/join",
    base,
    ...["marks", "calendar", "groups", "notices", "people", "write", "search?q=weir"].map((one) => `${base}/${one}`),
    ...items,
  ];
}

/** What is smaller than a finger needs and stands alone: links within a line of text are as high as the line. */
const tooSmall = (page: Page, least: number, within: string) =>
  page.evaluate(
    ({ height, selector }) => {
      const pressed = document.querySelectorAll<HTMLElement>(
        `:is(${selector}) :is(a, button, summary, input:not([type=range]), select, textarea)`,
      );
      return [...pressed].flatMap((one) => {
        const target = one.closest("label") ?? one;
        const box = target.getBoundingClientRect();
        const isShown = box.width > 1 && box.height > 1 && getComputedStyle(one).visibility === "visible";
        const around = one.parentElement?.textContent?.trim() ?? "";
        const isInText = getComputedStyle(one).display === "inline" && around !== one.textContent?.trim();
        return isShown && !isInText && box.height < height - 0.5
          ? [`${one.outerHTML.slice(0, 90)} ${Math.round(box.height)}`]
          : [];
      });
    },
    { height: least, selector: within },
  );

test("on a phone nothing runs over the side, at 320 pixels or twice as large, and what is pressed is as high as a finger", async ({
  page,
}) => {
  await signIn(page, "student.day");
  const pages = await pagesOf(page);
  for (const width of [320, 390]) {
    await page.setViewportSize({ width, height: 800 });
    for (const address of pages) {
      await page.goto(address);
      const beyond = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
      expect([width, address, beyond]).toEqual([width, address, 0]);
      if (width === 390) expect([address, await tooSmall(page, 44, "main, header")]).toEqual([address, []]);
    }
  }
});

test("instructors and support work on a phone, and at a desk at twice the size: one column, nothing beyond its side", async ({
  page,
}) => {
  for (const username of ["instructor.d1", "support.writing"]) {
    await page.setViewportSize({ width: 390, height: 800 });
    await signIn(page, username);
    for (const width of [390, 640])
      for (const station of ["intake", "placement", "reach", "timing", "gradebook", "review"]) {
        await page.setViewportSize({ width, height: 800 });
        await openWorkbench(page, code, station);
        await expect(page.getByRole("heading", { level: 2 }).first()).toBeVisible();
        const work = await page.locator("#work").evaluate((one) => [one.clientWidth, one.scrollWidth]);
        expect([username, station, ...work]).toEqual([username, station, width, width]);
        // Around the work everything is as high as a finger; rows within it as high as their letters need.
        const heights = await tooSmall(page, 44, "header, nav, [aria-label=Draft]");
        expect([username, station, heights]).toEqual([username, station, []]);
      }
    await page.getByRole("button", { name: "Sign out" }).click();
  }
  // What one chooses is explained beneath it.
  await page.setViewportSize({ width: 390, height: 800 });
  await signIn(page, "support.writing");
  await openWorkbench(page, code, "intake");
  await expect(why(page).getByRole("button", { name: "More time" })).toBeHidden();
  await page.getByRole("region", { name: "Your students" }).getByRole("button").first().click();
  await expect(why(page).getByRole("button", { name: "More time" })).toBeVisible();
  await check(page);
});

/** What Tab leads to, in turn, until it leaves the page: what it is called, and where it stands. */
async function walk(page: Page): Promise<{ name: string; column: string; top: number; isEmpty: boolean }[]> {
  const found: { name: string; column: string; top: number; isEmpty: boolean }[] = [];
  for (let step = 0; step < 400; step++) {
    await page.keyboard.press("Tab");
    const at = await page.evaluate(() => {
      const one = document.activeElement as HTMLElement | null;
      if (!one || one === document.body) return null;
      if (one.dataset.walked) return null;
      one.dataset.walked = "yes";
      const box = one.getBoundingClientRect();
      const named = one.getAttribute("aria-label") || one.getAttribute("aria-labelledby") || one.textContent?.trim();
      const label = (one as HTMLInputElement).labels?.[0]?.textContent?.trim() || one.getAttribute("placeholder");
      const region = one.closest("header, nav, main, aside, footer");
      return {
        name: (named || label || one.getAttribute("title") || "").slice(0, 60),
        column: region?.tagName ?? "",
        top: box.top + scrollY,
        isEmpty: !named && !label && !one.getAttribute("title"),
      };
    });
    if (at === null) break;
    found.push(at);
  }
  return found;
}

test("Tab leads to the content first, then down the page in the order in sight, and to nothing without a name", async ({
  page,
}) => {
  await signIn(page, "student.day");
  for (const address of await pagesOf(page)) {
    await page.goto(address);
    const stops = await walk(page);
    expect([address, stops[0]?.name]).toEqual([address, expect.stringMatching(/^To (the content|your courses)/)]);
    expect([address, stops.filter(({ isEmpty }) => isEmpty)]).toEqual([address, []]);
    const main = stops.filter(({ column }) => column === "MAIN");
    const back = main.flatMap(({ name, top }, at) => {
      const before = main[at - 1];
      // What stands in one line may be a little higher or lower.
      return before && before.top - top > 40 ? [`${before.name} | ${name}`] : [];
    });
    expect([address, back]).toEqual([address, []]);
  }
});

test("on the workbench Tab leads to the station first, and nowhere without a name, and changes nothing", async ({
  page,
}) => {
  await signIn(page, "coordinator");
  for (const station of ["intake", "placement", "reach", "timing", "gradebook", "review"]) {
    await openWorkbench(page, code, station);
    await expect(page.getByRole("heading", { level: 2 }).first()).toBeVisible();
    const stops = await walk(page);
    expect([station, stops[0]?.name]).toEqual([station, "To the station"]);
    expect([station, stops.filter(({ isEmpty }) => isEmpty)]).toEqual([station, []]);
    // Whoever only goes by has changed nothing, not even what is looked at.
    await expect(drafted(page)).toContainText("Nothing is drafted");
    expect(new URL(page.url()).search).toBe("");
  }
});

test("in the machine's own colours what is chosen has an edge, at every station", async ({ page }) => {
  await signIn(page, "coordinator");
  await page.emulateMedia({ forcedColors: "active" });
  const chosen =
    '[aria-current]:not([aria-current="false"]), [aria-pressed="true"], [data-selected], [data-chosen], [aria-selected="true"]';
  for (const station of ["intake", "placement", "reach", "timing", "gradebook", "review"]) {
    await openWorkbench(page, code, station);
    await expect(page.getByRole("heading", { level: 2 }).first()).toBeVisible();
    const edges = await page.locator(chosen).evaluateAll((all) => all.map((one) => getComputedStyle(one).outlineStyle));
    expect([station, edges.length > 0, edges.filter((style) => style !== "solid")]).toEqual([station, true, []]);
  }
});
