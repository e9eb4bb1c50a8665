/** An instructor at the gradebook: their own students, and nothing of anybody else by any way. In the demo course. */
import type { APIRequestContext } from "@playwright/test";
import { planReader, progressReader } from "../core/plan/columns.ts";
import { check } from "./accessible.ts";
import {
  application,
  choose,
  courseId,
  expect,
  openWorkbench,
  pageOf,
  publish,
  send,
  signIn,
  test,
  why,
} from "./helpers.ts";

const code = "WSH 240";

/** The course as a workbench reads it. */
async function inColumns(request: APIRequestContext, course: string) {
  const ask = async (name: string) => (await request.get(`/api/courses/${course}/${name}/columns`)).json();
  const [planSent, progressSent] = [await ask("plan"), await ask("progress")];
  const [ofPlan, ofProgress] = [planReader(planSent.course), progressReader()];
  planSent.pieces.forEach(ofPlan.add);
  progressSent.pieces.forEach(ofProgress.add);
  return { plan: ofPlan.made(), progress: ofProgress.made() };
}

test("an instructor reads and marks the students of their section, and no others", async ({ page, browser }) => {
  await signIn(page, "coordinator");
  const id = await courseId(page, code);
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const people = Object.values<{ id: string; familyName: string; givenName: string }>(plan.people);
  const d1 = Object.values<{ id: string; code: string }>(plan.sections).find((one) => one.code === "D1")?.id;
  const enrolments = Object.values<{ personId: string; sectionId: string; role: string; until: number | null }>(
    plan.enrolments,
  ).filter(({ role, until }) => role === "student" && until === null);
  const mine = new Set(enrolments.filter(({ sectionId }) => sectionId === d1).map(({ personId }) => personId));
  const other = enrolments.find(({ personId }) => !mine.has(personId))?.personId ?? "";
  const item = Object.values<{ id: string; title: string }>(plan.items).find(
    ({ title }) => title === "Lab 4: Rating the weir",
  );

  const own = await pageOf(browser, "instructor.d1");
  await own.getByRole("link", { name: /WSH 240/ }).click();
  await expect(own.getByText(`${mine.size} of ${mine.size} students`)).toBeVisible();
  await expect(own.getByRole("button", { name: "Totals" })).toHaveCount(0);
  // Nobody else's name in what the page was given, nor in what it finds.
  const given = await (await own.request.get(`/api/courses/${id}/plan`)).text();
  // Asked for what changed, they get all that is within their scope, and nothing of what changed beyond it.
  for (const after of [0, 1, -1]) {
    const since = await (await own.request.get(`/api/courses/${id}/plan?after=${after}`)).json();
    expect(since.plan).toEqual(JSON.parse(given).plan);
  }
  const done = await (await own.request.get(`/api/courses/${id}/progress`)).text();
  // What a workbench begins with, a column at a time, is the same: all of it for the coordinator, and no more than theirs.
  expect(await inColumns(own.request, id)).toEqual({ plan: JSON.parse(given).plan, progress: JSON.parse(done) });
  expect((await inColumns(page.request, id)).plan).toEqual(plan);
  for (const person of people) {
    if (mine.has(person.id) || given.includes(`"username":"instructor.d1","id":"${person.id}"`)) continue;
    expect(done).not.toContain(person.id);
  }
  expect(given).not.toContain(other);
  const filter = own.getByRole("combobox", { name: "Filter", exact: true });
  await filter.fill("group:Evening");
  await expect(own.getByText('no group is called "Evening"')).toBeVisible();
  await filter.fill("");
  // A mark of their own is stored; somebody else's answers like one that does not exist.
  await own.getByRole("radio", { name: "Marking" }).click();
  await own.getByRole("region", { name: "Queue" }).getByRole("button").first().click();
  await own.getByLabel("Mark, of 20").fill("16.75");
  await own.keyboard.press("Control+Enter");
  await own.getByRole("button", { name: "Undo marks" }).click();
  await expect(own.getByText("1 mark as before.")).toBeVisible();
  // Taken back after a reload, too: what was given once more stands in this tab until then.
  await own.getByRole("region", { name: "Queue" }).getByRole("button").first().click();
  await own.getByLabel("Mark, of 20").fill("16.75");
  await own.keyboard.press("Control+Enter");
  await expect(own.getByRole("button", { name: "Undo marks" })).toBeEnabled();
  await own.reload();
  await own.getByRole("button", { name: "Undo marks" }).click();
  await expect(own.getByText("1 mark as before.")).toBeVisible();
  await expect(own.getByRole("button", { name: "Undo marks" })).toHaveCount(0);
  // Arrow keys choose among views; each says what it is for.
  await own.getByRole("radio", { name: "Marking" }).focus();
  await own.keyboard.press("ArrowRight");
  await expect(own.getByRole("radio", { name: "Attempts" })).toBeChecked();
  await own.keyboard.press("ArrowRight");
  await expect(own.getByRole("radio", { name: "Comparison" })).toBeChecked();
  await expect(why(own)).toContainText("Groups of a layer stand beside each other");
  await own.keyboard.press("ArrowLeft");
  await own.keyboard.press("ArrowLeft");
  await expect(own.getByRole("radio", { name: "Marking" })).toBeChecked();
  const origin = application().url;
  const mark = { itemId: item?.id, points: 1, excused: false, seen: null };
  const nowhere = "00000000-0000-4000-8000-000000000000";
  const tried = await send(own.request, "POST", `/api/courses/${id}/marks`, origin, {
    marks: [{ ...mark, personId: other }],
  });
  const never = await send(own.request, "POST", `/api/courses/${id}/marks`, origin, {
    marks: [{ ...mark, personId: nowhere }],
  });
  expect([tried.status(), await tried.text()]).toEqual([never.status(), await never.text()]);
  expect(tried.status()).toBe(404);
  for (const [person, status] of [
    [[...mine][0], 200],
    [other, 404],
    [nowhere, 404],
  ] as const)
    expect((await own.request.get(`/api/courses/${id}/work?item=${item?.id}&person=${person}`)).status()).toBe(status);
  // A shared mark would go to whoever is in the group outside the section, too: only a group that is whole is marked.
  const teams = Object.values<{ id: string; name: string }>(plan.layers).find(({ name }) => name === "River teams");
  const split = Object.values<{ id: string; split: { layerId: string } | null }>(plan.items).find(
    (one) => one.split?.layerId === teams?.id,
  );
  const team = (name: string) =>
    Object.values<{ id: string; name: string }>(plan.groups).find((one) => one.name === name)?.id;
  const foreign = await send(own.request, "POST", `/api/courses/${id}/marks`, origin, {
    marks: [{ ...mark, itemId: split?.id, groupId: team("Evening team 1") }],
  });
  expect(foreign.status()).toBe(404);
  const remark = { itemId: item?.id, holderId: other, comment: "x", note: "", seen: null };
  expect((await send(own.request, "POST", `/api/courses/${id}/work`, origin, remark)).status()).toBe(404);
  // Through the eyes of their own students, and of nobody else; and no more than is theirs to read.
  const [theirs] = [...mine];
  for (const [address, status] of [
    [`/look/${id}/${theirs}`, 200],
    [`/look/${id}/${theirs}/marks`, 200],
    [`/look/${id}/${theirs}?draft=1`, 200],
    [`/look/${id}/${theirs}/people`, 404],
    [`/look/${id}/${other}`, 404],
    [`/look/${id}/${other}/marks`, 404],
    [`/look/${id}/${other}?draft=1`, 404],
    [`/look/${id}/beside?a=${theirs}&b=${theirs}`, 404],
    [`/report/${id}`, 404],
  ] as const)
    expect([address, (await own.request.get(address)).status()]).toEqual([address, status]);
  const open = Object.values<{ id: string; title: string }>(plan.items).find(
    ({ title }) => title === "The café by the weir",
  );
  const thread = await (await own.request.get(`/look/${id}/${theirs}/item/${open?.id}`)).text();
  expect(thread).toContain("What is written here is not within your sections and groups.");
  await own.context().close();
});

test("all other students are told of as sums, where the coordinator allows it, and of nothing that is not theirs", async ({
  page,
  browser,
}) => {
  await signIn(page, "coordinator");
  const id = await courseId(page, code);
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const own = await pageOf(browser, "instructor.d1");
  const address = `/api/courses/${id}/other-students`;
  await own.goto(`/workbench/${id}/gradebook?view=compare`);
  const row = own.getByRole("row", { name: /^All other students/ });
  await expect(row).toContainText(/^All other students70/);
  await choose(own, "Held against", "held against all other students");
  await expect(own.getByRole("row", { name: /Day 1/ })).toContainText(/[+-]\d+\.\d/);
  await check(own);
  const named = (title: string) =>
    Object.values<{ id: string; title: string }>(plan.items).find((one) => one.title === title)?.id;
  const status = async (asked: string) => (await own.request.get(asked)).status();
  expect(await status(`${address}?item=${named("Lab 4: Rating the weir")}`)).toBe(200);
  // Not theirs to know of, not marked, or not there.
  const never = "00000000-0000-4000-8000-000000000000";
  for (const item of [named("South bank route"), named("Kit list"), never])
    expect([item, await status(`${address}?item=${item}`)]).toEqual([item, 404]);
  const nobody = await pageOf(browser, "support.access");
  for (const one of [page, nobody]) expect((await one.request.get(address)).status()).toBe(404);
  await nobody.context().close();
  const allow = async (withOthers: boolean) => {
    const commands = [{ id: crypto.randomUUID(), kind: "course.comparing", withOthers }];
    await send(page.request, "POST", `/api/courses/${id}/draft`, application().url, { commands });
    await openWorkbench(page, code, "placement");
    await publish(page);
  };
  await allow(false);
  expect(await status(address)).toBe(404);
  await expect(row).toHaveCount(0);
  await allow(true);
  await own.context().close();
});

test("an address from somebody who sees more leads an instructor to what they may see", async ({ page, browser }) => {
  await signIn(page, "coordinator");
  const id = await courseId(page, "WSH 240");
  const own = await pageOf(browser, "instructor.d1");
  await own.goto(new URL(`/workbench/${id}/intake?view=staff`, page.url()).href);
  await expect(own.getByRole("tab", { name: "Students" })).toHaveAttribute("aria-selected", "true");
  await expect(own.getByRole("tab", { name: "Staff" })).toHaveCount(0);
  await expect(own.getByRole("tabpanel")).toContainText("Castellano");
  await own.context().close();
});
