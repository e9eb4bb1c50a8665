/** What others do is seen as it happens: who is there, what they mark and publish; and whoever is withdrawn is out. */
import mysql from "mysql2/promise";
import {
  application,
  cell,
  courseId,
  expect,
  filterText,
  openWorkbench,
  pageOf,
  send,
  signIn,
  test,
} from "./helpers.ts";

const code = "WSH 240";

test("who else is there and where; a mark that somebody else gives is in the grid without a reload", async ({
  page,
  browser,
}) => {
  await signIn(page, "coordinator");
  const course = await openWorkbench(page, code, "gradebook");
  const instructor = await pageOf(browser, "instructor.d1");
  await openWorkbench(instructor, code, "gradebook");
  await page.getByRole("button", { name: /is here$/ }).click();
  await expect(page.getByRole("dialog")).toContainText("at Gradebook");
  await page.keyboard.press("Escape");
  const { plan } = await (await instructor.request.get(`/api/courses/${course}/plan`)).json();
  const item = Object.values<{ id: string; title: string }>(plan.items).find(
    ({ title }) => title === "Lab 1: Float gauging",
  );
  // The first row of the filter, which is in sight.
  await filterText(page).fill("section:D1");
  const first = (await cell(page, ", Lab 1: Float gauging: ").first().getAttribute("aria-label")) ?? "";
  const name = first.split(", Lab 1")[0];
  const student = Object.values<{ id: string; familyName: string; givenName: string }>(plan.people).find(
    (one) => `${one.familyName}, ${one.givenName}` === name,
  );
  const { marks } = await (await instructor.request.get(`/api/courses/${course}/progress`)).json();
  const mine = (one: { itemId: string; personId: string }) => one.itemId === item?.id && one.personId === student?.id;
  const was = marks.find(mine);
  const seen = was ? { points: was.points, excused: was.excused } : null;
  const origin = application().url;
  const give = (points: number | null, known: object | null, excused = false) =>
    send(instructor.request, "POST", `/api/courses/${course}/marks`, origin, {
      marks: [{ itemId: item?.id, personId: student?.id, points, excused, seen: known }],
    });
  expect((await give(7.125, seen)).status()).toBe(200);
  await expect(page.getByRole("button", { name: /, Lab 1: Float gauging: 7\.125 of 20/ })).toHaveCount(1);
  await give(seen?.points ?? null, { points: 7.125, excused: false }, seen?.excused ?? false);
  await expect(page.getByRole("button", { name: /, Lab 1: Float gauging: 7\.125 of 20/ })).toHaveCount(0);
  await instructor.context().close();
  await expect(page.getByRole("button", { name: /is here$/ })).toBeHidden();
});

test("what is published beneath an open workbench is taken in, with the draft carried over it", async ({
  page,
  browser,
}) => {
  await signIn(page, "coordinator");
  const course = await openWorkbench(page, code, "reach");
  const other = await (await browser.newContext({ storageState: await page.context().storageState() })).newPage();
  await other.goto(`/workbench/${course}/reach`);
  await expect(other.getByRole("button", { name: "Kit list", exact: true })).toBeVisible();
  const { plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const kit = Object.values<{ id: string; title: string }>(plan.items).find(({ title }) => title === "Kit list");
  const origin = application().url;
  const publish = async (title: string) => {
    const commands = [{ id: crypto.randomUUID(), kind: "item.change", itemId: kit?.id, fields: { title } }];
    const draft = await (await send(page.request, "POST", `/api/courses/${course}/draft`, origin, { commands })).json();
    const { revision } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
    const publication = { publicationId: crypto.randomUUID(), revision, version: draft.version };
    await send(page.request, "POST", `/api/courses/${course}/publish`, origin, publication);
  };
  await publish("Kit and rope");
  await expect(other.getByRole("button", { name: "Kit and rope", exact: true })).toBeVisible();
  await expect(other.getByText(/changed the course: Rename Kit list to Kit and rope\./)).toBeVisible();
  await publish("Kit list");
  await expect(other.getByRole("button", { name: "Kit list", exact: true })).toBeVisible();
  await other.context().close();
});

test("where nobody has handed in, what is published leaves the work as it was read", async ({ page }) => {
  await signIn(page, "coordinator");
  const course = await openWorkbench(page, "WSH 241", "reach");
  const asked: string[] = [];
  page.on("request", (request) => asked.push(request.url().split("/").at(-1) ?? ""));
  const origin = application().url;
  const { plan, revision } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const commands = [
    { id: crypto.randomUUID(), kind: "course.indexes", indexes: { ...plan.course.indexes, files: false } },
  ];
  const draft = await (await send(page.request, "POST", `/api/courses/${course}/draft`, origin, { commands })).json();
  const publication = { publicationId: crypto.randomUUID(), revision, version: draft.version };
  await send(page.request, "POST", `/api/courses/${course}/publish`, origin, publication);
  await expect(page.getByText(/changed the course: /)).toBeVisible();
  expect(asked).toContain(`plan?after=${revision}`);
  expect(asked).not.toContain("columns");
});

test("an answer that breaks off is told, and nothing of it is taken for the course", async ({ page }) => {
  await signIn(page, "coordinator");
  const course = await courseId(page, code);
  await page.route("**/progress/columns", (route) => route.fulfill({ status: 200, body: '{"pieces":[' }));
  await page.goto(`/workbench/${course}/reach`);
  await expect(page.getByRole("alert")).toContainText("The server's answer broke off.");
  await page.unroute("**/progress/columns");
  await page.getByRole("button", { name: "Try again" }).click();
  await expect(page.getByRole("navigation", { name: "Stations" })).toBeVisible();
});

test("whoever is withdrawn is out at once, open page included", async ({ browser }) => {
  const instructor = await pageOf(browser, "instructor.d1");
  const course = await courseId(instructor, code);
  await openWorkbench(instructor, code, "gradebook");
  const database = await mysql.createConnection(application().databaseUrl);
  const set = async (until: number | null) => {
    await database.execute(
      `UPDATE enrolments e JOIN people p ON p.id = e.person_id SET e.until = ?
       WHERE p.username = 'instructor.d1' AND e.course_id = ?`,
      [until, course],
    );
    await database.execute("UPDATE courses SET revision = revision + 1 WHERE id = ?", [course]);
  };
  await set(Date.parse("2026-11-25T09:00:00Z"));
  await expect(instructor.getByRole("heading", { name: "Your courses" })).toBeVisible({ timeout: 15_000 });
  expect((await instructor.request.get(`/api/courses/${course}/plan`)).status()).toBe(404);
  await set(null);
  await database.end();
  await instructor.context().close();
});
