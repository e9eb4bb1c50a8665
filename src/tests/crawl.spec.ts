/**
 * The application as ten students see it, at five moments: every link, file and answer is compared with what the rules
 * as they are written give. The same for the students' own pages, signed in, now. Source: semantics.md section 4.
 */
import type { APIRequestContext } from "@playwright/test";
import type { Progress } from "../core/plan/progress.ts";
import type { Item, Plan } from "../core/plan/types.ts";
import { isStudent, type World } from "../core/tests/condition-oracle.ts";
import { meant, sees } from "../core/tests/oracle.ts";
import { courseId, expect, pageOf, test } from "./helpers.ts";

const indexes = ["discussions", "files", "calendar", "work"] as const;
/** The moment of every end-to-end test. */
const testMoment = Date.parse("2026-11-25T10:00:00Z");
const nowhere = "00000000-0000-7000-8000-000000000000";

/** Item ids of the links of a page, by whether they lead to a page or a file. */
const linked = (html: string): Set<string> =>
  new Set([...html.matchAll(/href="[^"]*\/item\/([0-9a-f-]{36})/g)].map(([, id]) => id as string));
const main = (html: string): string => html.slice(html.indexOf("data-student-page"));

/** Everything that can be reached from a start page by following its links. */
async function crawl(request: APIRequestContext, base: string, query: string) {
  const found = { items: new Set<string>(), files: new Set<string>(), text: "" };
  const get = async (path: string) => {
    const answer = await request.get(`${base}${path}${query}`);
    return answer.status() === 200 ? main(await answer.text()) : "";
  };
  const pages = [await get("")];
  for (const index of indexes) pages.push(await get(`/index/${index}`));
  pages.push(await get("/calendar"));
  pages.push(await get("/marks"));
  const groups = new Set([...(pages[0] ?? "").matchAll(/\/group\/([0-9a-f-]{36})/g)].map(([, id]) => id as string));
  for (const id of groups) pages.push(await get(`/group/${id}`));
  for (const page of pages) for (const id of linked(page)) found.items.add(id);
  for (const id of found.items) {
    const page = await get(`/item/${id}`);
    pages.push(page);
    for (const [, fileItem] of page.matchAll(/\/file\/([0-9a-f-]{36})/g)) found.files.add(fileItem as string);
  }
  found.text = pages.join("\n");
  return found;
}

interface Course {
  plan: Plan;
  progress: Progress;
}

/** What the rules give: items that are open, as they are written, one student and one item at a time. */
const openTo = ({ plan, progress }: Course, personId: string, t: number): Item[] => {
  const world: World = { plan, progress, t };
  return Object.values(plan.items).filter((item) => sees(world, personId, item));
};

test("ten students at five moments: every link, file and answer is what the rules give", async ({ browser }) => {
  test.setTimeout(900_000);
  const page = await pageOf(browser, "coordinator");
  const id = await courseId(page, "WSH 240");
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const progress = await (await page.request.get(`/api/courses/${id}/progress`)).json();
  const course: Course = { plan, progress };
  const day = 24 * 3600_000;
  const moments = [-55 * day, -40 * day, -16 * day, 0, 20 * day].map((away) => testMoment + away);
  // Some of each section, one who moved, one who came late, pilots, and those with a plan of their own.
  const world = (t: number): World => ({ plan, progress, t });
  const everyone = Object.values(course.plan.people).filter(({ id: one }) => isStudent(world(testMoment), one));
  const privately = new Set(
    Object.values(course.plan.placements)
      .filter(({ groupId }) => course.plan.layers[course.plan.groups[groupId]?.layerId ?? ""]?.private)
      .map(({ personId }) => personId),
  );
  const chosen = [
    ...everyone.filter(({ id: one }) => privately.has(one)).slice(0, 3),
    ...everyone.filter((_, at) => at % 15 === 0),
  ].slice(0, 10);
  expect(chosen).toHaveLength(10);
  const hidden = Object.values(course.plan.layers)
    .filter((layer) => layer.private)
    .flatMap((layer) => [
      layer.id,
      layer.name,
      ...Object.values(course.plan.groups)
        .filter(({ layerId }) => layerId === layer.id)
        .flatMap(({ id: one, name }) => [one, name]),
    ]);
  for (const person of chosen)
    for (const t of moments) {
      const base = `/look/${id}/${person.id}`;
      const query = `?at=${t}`;
      const label = `${person.sourcedId} at ${new Date(t).toISOString()}`;
      if (!isStudent(world(t), person.id)) {
        expect([label, (await page.request.get(`${base}${query}`)).status()]).toEqual([label, 404]);
        continue;
      }
      const open = openTo(course, person.id, t);
      const found = await crawl(page.request, base, query);
      expect([label, [...found.items].sort()]).toEqual([label, open.map((item) => item.id).sort()]);
      expect([label, [...found.files].sort()]).toEqual([
        label,
        open
          .filter(({ kind }) => kind === "file")
          .map((item) => item.id)
          .sort(),
      ]);
      for (const name of hidden) expect([label, name, found.text.includes(name)]).toEqual([label, name, false]);
      // A few of what is not open: each answers like what does not exist.
      const shut = Object.values(course.plan.items).filter((item) => !open.includes(item));
      for (const item of shut.filter((_, at) => at % 5 === 0)) {
        const statuses = await Promise.all(
          ["item", "file"].map(async (way) => (await page.request.get(`${base}/${way}/${item.id}${query}`)).status()),
        );
        expect([label, item.title, statuses]).toEqual([label, item.title, [404, 404]]);
      }
    }
  await page.context().close();
});

test("signed in, now: own pages, files, search, threads and the class list are what the rules give", async ({
  browser,
}) => {
  const staff = await pageOf(browser, "coordinator");
  const id = await courseId(staff, "WSH 240");
  const { plan } = (await (await staff.request.get(`/api/courses/${id}/plan`)).json()) as { plan: Plan };
  const progress = (await (await staff.request.get(`/api/courses/${id}/progress`)).json()) as Progress;
  const world: World = { plan, progress, t: testMoment };
  for (const username of ["student.day", "student.evening"]) {
    const student = await pageOf(browser, username);
    const origin = new URL(student.url()).origin;
    const personId = Object.values(plan.people).find((one) => one.username === username)?.id ?? "";
    const open = openTo({ plan, progress }, personId, testMoment);
    const found = await crawl(student.request, `/course/${id}`, "");
    expect([username, [...found.items].sort()]).toEqual([username, open.map((item) => item.id).sort()]);
    for (const item of Object.values(plan.items)) {
      const mine = open.includes(item);
      const address = `/course/${id}/item/${item.id}`;
      const status = (await student.request.get(address)).status();
      expect([username, item.title, status]).toEqual([username, item.title, mine ? 200 : 404]);
      // Search finds an item by its title where it is open or announced, and never what is neither.
      if (!mine && !meant(world, personId, item)) {
        const words = encodeURIComponent(item.title);
        const answer = await (await student.request.get(`/course/${id}/search?q=${words}`)).text();
        expect([item.title, main(answer).includes(item.id)]).toEqual([item.title, false]);
      }
      if (mine) continue;
      // Posting, handing in and marking as read ask the same.
      const never = await student.request.post(`/course/${id}/item/${nowhere}`, {
        headers: { origin },
        form: { post: "x" },
      });
      for (const form of [{ post: "x", thread: "" }, { text: "x" }, { read: "1" }] as Record<string, string>[]) {
        const answer = await student.request.post(address, { headers: { origin }, form });
        expect([item.title, answer.status(), await answer.text()]).toEqual([
          item.title,
          never.status(),
          await never.text(),
        ]);
      }
    }
    const own = await student.request.get(`/course/${id}/people`);
    expect(own.status()).toBe(200);
    await student.context().close();
  }
  await staff.context().close();
});
