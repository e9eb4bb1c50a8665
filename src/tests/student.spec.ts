/** The student's own side, in the demo course. */
import type { Page } from "@playwright/test";
import { courseId, expect, pageOf, signIn, test } from "./helpers.ts";

async function openCourse(page: Page, username: string): Promise<string> {
  await signIn(page, username);
  const id = await courseId(page, "WSH 240");
  await page.goto(`/course/${id}`);
  return id;
}

test("the outline shows what is theirs, with their own dates and what announced items need", async ({ page }) => {
  await openCourse(page, "student.evening");
  const outline = page.getByRole("region", { name: "Outline" });
  await expect(outline.getByRole("link", { name: "South bank route" })).toBeVisible();
  await expect(outline.getByText("North bank route")).toHaveCount(0);
  await expect(outline.getByText("due Wed 2 Dec, 18:00 (for Evening)").first()).toBeVisible();
  const final = outline.locator("li", { hasText: "Final report" });
  await expect(final).toContainText("needs: opens Mon 7 Dec, 08:00");
  await expect(final.getByRole("link")).toHaveCount(0);
});

test("an event starts and ends: nowhere does its student read that it is due", async ({ page }) => {
  const id = await openCourse(page, "student.evening");
  const events = page.locator("li[data-kind=event]");
  await expect(events.first()).toContainText("starts Sat 7 Nov, 09:00");
  const each = async () => {
    for (const text of await events.allTextContents()) expect(text).not.toMatch(/\bdue\b/);
  };
  await each();
  const first = await events.first().getByRole("link").textContent();
  // A calendar there is once: the list of what has a date leads to it.
  await page.goto(`/course/${id}/index/calendar`);
  await expect(page).toHaveURL(`/course/${id}/calendar`);
  const entry = page.locator("li").filter({ hasText: first ?? "" });
  await expect(entry.first()).toBeAttached();
  for (const text of await entry.allTextContents()) expect(text).not.toMatch(/\bdue\b/);
  await page.goto(`/course/${id}`);
  await events.first().getByRole("link").click();
  await expect(page.locator("[data-field=due] dt")).toHaveText("Starts");
});

test("a text is handed in, and an attempt too many is refused with its text kept", async ({ page }) => {
  const id = await openCourse(page, "student.day");
  await page.getByRole("region", { name: "Outline" }).getByRole("link", { name: "Report draft" }).click();
  await expect(page.locator("[data-field=attempts] dd")).toHaveText("1");
  const earlier = await page.getByText(/^Handed in /).count();
  if (earlier === 0) {
    await page.getByLabel("Your text").fill("Discharge at N3, first draft.");
    await page.getByRole("button", { name: "Hand in" }).click();
    await expect(page.getByText("Handed in Wed 25 Nov, 10:00")).toBeVisible();
    await expect(page.getByText("Discharge at N3, first draft.")).toBeVisible();
  }
  await expect(page.getByText("You have used 1 of 1 attempts.")).toBeVisible();
  const again = await page.request.post(page.url(), {
    headers: { origin: new URL(page.url()).origin },
    form: { text: "One more" },
  });
  expect(again.status()).toBe(400);
  await page.goto(`/course/${id}`);
  await expect(page.locator("li", { hasText: "Report draft" }).first()).toContainText("handed in");
});

test("in a sealed split discussion a student reads their own team's thread and no other", async ({ page }) => {
  await openCourse(page, "student.evening");
  const team = await page.locator("aside li", { hasText: "River teams" }).textContent();
  await page.getByRole("region", { name: "Outline" }).getByRole("link", { name: "Choosing a site" }).click();
  const threads = page.getByRole("region", { name: "Thread" }).getByRole("heading", { level: 3 });
  await expect(threads).toHaveCount(1);
  expect(team).toContain(await threads.textContent());
});

test("a student writes in their own team's thread, and in no other's", async ({ page, browser }) => {
  const id = await openCourse(page, "student.evening");
  await page.getByRole("region", { name: "Outline" }).getByRole("link", { name: "Method critique" }).click();
  const threads = page.getByRole("region", { name: "Threads" });
  // Readable: the others' can be read, not answered.
  // One's own thread stands open, those of others are folded with how much is in them.
  const others = threads.locator("details");
  await expect(others.first().locator("summary")).toContainText(/\d+ posts?$/);
  await others.first().locator("summary").click();
  await expect(threads.getByText("It can be read here, not answered.").first()).toBeVisible();
  await expect(threads.getByRole("button", { name: "Post" })).toHaveCount(1);
  const said = `The float method ignores the banks. ${Date.now()}`;
  await threads.getByRole("textbox").fill(said);
  await threads.getByRole("button", { name: "Post" }).click();
  await expect(page.getByText(said)).toBeVisible();
  const origin = new URL(page.url()).origin;
  const staff = await pageOf(browser, "coordinator");
  const { plan } = await (await staff.request.get(`/api/courses/${id}/plan`)).json();
  const other = Object.values<{ id: string; name: string }>(plan.groups).find(
    ({ name }) => name === "Day 1 team 1",
  )?.id;
  const answer = await page.request.post(page.url(), {
    headers: { origin },
    form: { post: "Not mine", thread: other ?? "" },
  });
  expect(answer.status()).toBe(404);
  const empty = await page.request.post(page.url(), {
    headers: { origin },
    form: { post: "  ", thread: await threads.locator("form[data-keep] input[name=thread]").inputValue() },
  });
  expect([empty.status(), await empty.text()]).toEqual([400, expect.stringContaining("There is nothing to post.")]);
  await staff.context().close();
});

test("a page is marked as read once, a file is fetched, and search finds words of what is open", async ({ page }) => {
  await openCourse(page, "student.evening");
  await page.getByRole("link", { name: "Kit list" }).click();
  await page.getByRole("button", { name: "Mark as read" }).click();
  await expect(page.getByText("You marked this as read.")).toBeVisible();
  await page.getByLabel("Search this course").fill("waders notebook");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("link", { name: "Kit list" })).toBeVisible();
  await page.getByLabel("Search this course").fill("route upstream");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Nothing that is here for you holds these words.")).toBeVisible();
  await page.getByLabel("Search this course").fill("field card");
  await page.keyboard.press("Enter");
  await page.getByRole("link", { name: "Field card" }).click();
  const file = await page.request.get(
    (await page.getByRole("link", { name: "Field card.csv" }).getAttribute("href")) ?? "",
  );
  expect(await file.text()).toContain("Station,Distance from bank");
});

test("the class list shows whom the course lets be seen", async ({ page }) => {
  await openCourse(page, "student.evening");
  await page.getByRole("link", { name: "Class list" }).click();
  await expect(page.getByText("104 names.")).toBeVisible();
});

test("an index lists everything of its kind that the student sees, the leak through the doorway included", async ({
  page,
}) => {
  await openCourse(page, "student.evening");
  await page.getByRole("link", { name: "All discussions" }).click();
  await expect(page.getByRole("link", { name: "North bank notes" })).toBeVisible();
  await expect(page.getByText("Pilots' log")).toHaveCount(0);
});

test("nothing that a student can fetch names a private layer, its groups or a note of staff", async ({
  browser,
  page,
}) => {
  await signIn(page, "coordinator");
  const id = await courseId(page, "WSH 240");
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const privateLayers = Object.values<{ id: string; name: string; private: boolean }>(plan.layers).filter(
    (layer) => layer.private,
  );
  const groups = Object.values<{ id: string; layerId: string; name: string }>(plan.groups).filter(({ layerId }) =>
    privateLayers.some((layer) => layer.id === layerId),
  );
  const secrets = [...privateLayers, ...groups].flatMap((row) => [row.id, row.name]);
  expect(secrets.length).toBeGreaterThan(6);
  const enrolled = new Set(
    Object.values<{ personId: string; role: string; until: number | null }>(plan.enrolments)
      .filter(({ role, until }) => role === "student" && until === null)
      .map(({ personId }) => personId),
  );
  // Somebody with extra time and writing support: what is theirs must not say why. Whoever has left, by another test of
  // the same application, has no pages here.
  const placed = Object.values<{ groupId: string; personId: string }>(plan.placements).filter(
    ({ groupId, personId }) => enrolled.has(personId) && groups.some((group) => group.id === groupId),
  );
  const usernames = placed
    .map(({ personId }) => plan.people[personId].username as string)
    .filter((name, index, all) => all.indexOf(name) === index)
    .slice(0, 4);
  expect(usernames.length).toBeGreaterThan(1);
  for (const username of [...usernames, "student.day"]) {
    const student = await pageOf(browser, username);
    const seen = new Set<string>();
    const waiting = ["/", "/join", `/course/${id}`, `/course/${id}/groups`];
    for (let address = waiting.pop(); address; address = waiting.pop()) {
      if (seen.has(address)) continue;
      seen.add(address);
      const response = await student.request.get(address);
      expect([address, response.status()]).toEqual([address, 200]);
      const html = await response.text();
      for (const secret of secrets)
        expect([username, address, html.includes(secret)]).toEqual([username, address, false]);
      for (const [, found] of html.matchAll(/href="(\/course\/[^"]+)"/g)) if (found) waiting.push(found);
    }
    expect(seen.size).toBeGreaterThan(20);
    await student.context().close();
  }
});

/** What is pressed and is less than 24 pixels wide or high; words in a sentence are as high as their line. */
const smallTargets = (page: Page): Promise<string[]> =>
  page.locator("a[href], button, input, select, textarea, summary").evaluateAll((all) =>
    all
      .filter((one) => getComputedStyle(one).display !== "inline" && getComputedStyle(one).visibility === "visible")
      .map((one) => ({ one, box: (one.closest("label") ?? one).getBoundingClientRect() }))
      // What is only for the screen reader has one pixel.
      .filter(({ box: { width, height } }) => Math.min(width, height) > 1 && Math.min(width, height) < 24)
      .map(({ one, box }) => `${one.textContent?.trim()} ${box.width} x ${box.height}`),
  );

test("the page works on a phone, without a sideways scroll", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 800 });
  const id = await openCourse(page, "student.day");
  const wider = await page.evaluate(() => document.documentElement.scrollWidth > document.documentElement.clientWidth);
  expect(wider).toBe(false);
  expect(await smallTargets(page)).toEqual([]);
  for (const address of ["/groups", "/marks", "/calendar", "/notices"]) {
    await page.goto(`/course/${id}${address}`);
    expect([address, ...(await smallTargets(page))]).toEqual([address]);
  }
  await page.goto(`/course/${id}`);
  await page.getByRole("link", { name: "Lab 4: Rating the weir" }).first().click();
  await expect(page.getByRole("heading", { name: "Lab 4: Rating the weir" })).toBeVisible();
  expect(await smallTargets(page)).toEqual([]);
});

test("own marks and the total with its steps stand on a page of their own, and nobody else's", async ({ browser }) => {
  const student = await pageOf(browser, "student.evening");
  await student.goto(`/course/${await courseId(student, "WSH 240")}`);
  await student.getByRole("link", { name: "Marks", exact: true }).click();
  await expect(student.getByRole("row", { name: /Lab 1: Float gauging/ })).toContainText(/of 20|missing|excused/);
  await expect(student.getByText(/^Total: \d/)).toBeVisible();
  // Each mark stands once, in the part of the total that it counts in.
  const titles = await student.locator("tbody tr td:first-child").allTextContents();
  expect(titles.length).toBeGreaterThan(3);
  expect(new Set(titles).size).toBe(titles.length);
  await expect(student.getByText("Orthophoto")).toHaveCount(0);
  await student.context().close();
});

test("what is due soon stands on the first page, as it is for that student, and leads there", async ({ browser }) => {
  const student = await pageOf(browser, "student.evening");
  const soon = student.getByRole("region", { name: "Due in the next two weeks" });
  const first = soon.getByRole("listitem").first();
  await expect(first).toContainText(/(due|starts) \w{3} \d+ \w{3}/);
  const [title, says] = [await first.getByRole("link").textContent(), await first.locator("span").textContent()];
  await first.getByRole("link").click();
  await expect(student.getByRole("heading", { name: title ?? "", level: 1 })).toBeVisible();
  const due = (await student.locator("[data-field=due] dd").textContent()) ?? "";
  expect(due).toContain(/\w{3} \d+ \w{3}, [\d:]+/.exec(says ?? "")?.[0]);
  // The first Tab leads past what stands on every page.
  await student.keyboard.press("Tab");
  await expect(student.getByRole("link", { name: "To the content" })).toBeFocused();
  await student.context().close();
});
