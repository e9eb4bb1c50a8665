/** Students place themselves, and come by code; visitors read what is for everyone. */
import type { APIRequestContext, Page } from "@playwright/test";
import { v7 } from "uuid";
import { createAccount } from "../server/accounts/accounts.ts";
import { hashPassword } from "../server/accounts/passwords.ts";
import { closeDatabase } from "../server/store/database.ts";
import {
  application,
  choose,
  courseId,
  expect,
  openWorkbench,
  pageOf,
  password,
  publish,
  send,
  settled,
  signIn,
  test,
} from "./helpers.ts";

interface Plan {
  course: { id: string; visitorCode: string | null };
  layers: Record<string, { id: string; name: string }>;
  groups: Record<string, { id: string; name: string; code: string | null }>;
  people: Record<string, { id: string; sourcedId: string; username: string }>;
  enrolments: Record<string, { id: string; personId: string; role: string; until: number | null }>;
}
const planOf = async (page: Page, id: string): Promise<Plan> =>
  (await (await page.request.get(`/api/courses/${id}/plan`)).json()).plan;
const post = (request: APIRequestContext, path: string, form: Record<string, string>) =>
  request.post(path, { headers: { origin: application().url }, form, maxRedirects: 0 });

/** A layer of its own, so that the course is left as it was found. */
test("a layer is opened with words of the coordinator's, students choose, are refused a full group, and give back", async ({
  browser,
  page,
}) => {
  await signIn(page, "coordinator");
  const id = await openWorkbench(page, "WSH 240", "placement");
  await page.getByRole("button", { name: "New layer" }).click();
  await page.getByLabel("Name", { exact: true }).fill("Boat seats");
  await choose(page, "Each student is in", "at most one group");
  await page.getByLabel("Groups, a line each").fill("Heron\nOtter");
  await page.getByRole("button", { name: "Draft the layer" }).click();
  await page.getByRole("button", { name: "Groups", exact: true }).click();
  await page.getByRole("button", { name: "Heron", exact: true }).click();
  await page.getByRole("button", { name: "Change the group" }).click();
  await page.getByLabel("At most").fill("1");
  await page.getByRole("button", { name: "Draft the change" }).click();
  await page.getByRole("tab", { name: /^River teams/ }).click();
  await page.getByRole("tab", { name: /^Boat seats/ }).click();
  await page.getByRole("button", { name: "Let students place themselves" }).click();
  await page.getByRole("button", { name: "Bold" }).click();
  await page.keyboard.type("Life jackets");
  await page.getByRole("textbox", { name: "What students are told" }).press("Control+b");
  await page.keyboard.type(" are on board.");
  await page.getByRole("button", { name: "Draft it" }).click();
  await expect(page.getByText("Students place themselves by choosing a group: open.")).toBeVisible();
  await settled(page);

  // What a student will see can be looked at before it is published, and only looked at.
  const { plan: drafted } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const someone = Object.values<{ id: string; username: string }>(drafted.people).find(
    ({ username }) => username === "student.day",
  );
  const preview = await page.context().newPage();
  await preview.goto(`/look/${id}/${someone?.id}?draft=1`);
  await preview.getByRole("link", { name: "Boat seats" }).click();
  await expect(preview.getByText("1 of 1 left")).toBeVisible();
  await expect(preview.getByRole("main").locator("button:enabled")).toHaveCount(0);
  await preview.close();
  await publish(page);

  const [day, evening] = [await pageOf(browser, "student.day"), await pageOf(browser, "student.evening")];
  await day.goto(`/course/${id}`);
  await day.getByRole("link", { name: "Boat seats" }).click();
  await expect(day.getByText("Life jackets", { exact: true })).toHaveCSS("font-weight", "700");
  await evening.goto(`/course/${id}/groups`);
  await day.getByRole("button", { name: "Choose Heron" }).click();
  await expect(day.getByText("0 of 1 left")).toBeVisible();
  // Seen with room a moment ago, full by now: told so, and nothing lost.
  await evening.getByRole("button", { name: "Choose Heron" }).click();
  await expect(evening.getByRole("alert")).toHaveText("Heron is full: 1 of 1. Choose another one.");
  await expect(evening.getByRole("button", { name: "Full Heron" })).toBeDisabled();
  await evening.getByRole("button", { name: "Choose Otter" }).click();
  await day.getByRole("button", { name: "Give it back" }).click();
  await expect(day.getByRole("button", { name: "Give it back" })).toHaveCount(0);
  await evening.reload();
  await evening.getByRole("button", { name: "Choose Heron" }).click();
  await expect(evening.getByText("0 of 1 left")).toBeVisible();
  await day.reload();
  await expect(day.getByRole("button", { name: "Full Heron" })).toBeDisabled();
  const kits = Object.values((await planOf(page, id)).groups).find(({ name }) => name === "Day 1");
  expect((await post(day.request, `/course/${id}/groups`, { choose: kits?.id ?? "" })).status()).toBe(400);

  await page.goto(`/workbench/${id}/placement`);
  await page.getByRole("tab", { name: /^Boat seats/ }).click();
  await expect(page.getByText("1 placed")).toBeVisible();
  await page.getByRole("button", { name: "Delete the layer" }).click();
  await publish(page);
  await day.reload();
  await expect(day.getByText("There is nothing to choose at the moment.", { exact: false })).toBeVisible();
});

test("a code brings somebody in, a visitor reads what is for everyone, and a wrong code changes nothing", async ({
  browser,
  page,
}) => {
  process.env.AMBER_DATABASE_URL = application().databaseUrl;
  const hash = await hashPassword(password);
  for (const name of ["late.comer", "guest"])
    await createAccount({
      username: name,
      sourcedId: `self-${name}`,
      displayName: `Quist, ${name}`,
      passwordHash: hash,
    });
  await closeDatabase();
  await signIn(page, "coordinator");
  const id = await courseId(page, "WSH 240");
  const origin = application().url;
  const draft = async (commands: object[]) => {
    const named = commands.map((command) => ({ id: v7(), ...command }));
    expect((await send(page.request, "POST", `/api/courses/${id}/draft`, origin, { commands: named })).status()).toBe(
      200,
    );
    await page.goto(`/workbench/${id}/placement`);
    await publish(page);
  };
  const before = await planOf(page, id);
  const evening = Object.values(before.groups).find(({ name }) => name === "Evening");
  const layer = Object.values(before.layers).find(({ name }) => name === "Sections");
  const selfPlacement = { opens: null, closes: null, by: "code", help: "", showNames: false };
  await draft([
    { kind: "layer.selfPlacement", layerId: layer?.id, selfPlacement },
    { kind: "group.codes", layerId: layer?.id, codes: [{ groupId: evening?.id, code: "EVE-7XK" }] },
    { kind: "course.visitorCode", code: "OPEN-DAY" },
  ]);

  const late = await pageOf(browser, "late.comer");
  await expect(late.getByText("You are in no course at the moment.", { exact: false })).toBeVisible();
  expect((await late.request.get(`/course/${id}`)).status()).toBe(404);
  await late.getByRole("link", { name: "Type a code" }).click();
  await late.getByLabel("Your code").fill("EVE-7XX");
  await late.getByRole("button", { name: "Take the place" }).click();
  await expect(late.getByRole("alert")).toContainText("No group has this code.");
  await late.getByLabel("Your code").fill(" eve 7xk ");
  await late.getByLabel("Your code").press("Enter");
  await expect(late.getByRole("heading", { name: "Outline" })).toBeVisible();
  await expect(late.getByText("Evening Sections")).toBeVisible();
  const codes = await (await late.request.get(`/course/${id}/groups`)).text();
  expect(codes).not.toContain("EVE-7XK");

  const guest = await pageOf(browser, "guest");
  await guest.goto("/join");
  await guest.getByLabel("Your code").fill("open-day");
  await guest.getByLabel("Your code").press("Enter");
  await expect(guest.getByRole("heading", { name: "Outline" })).toBeVisible();
  await guest.goto("/");
  await guest.getByRole("link", { name: /WSH 240/ }).click();
  await expect(guest.getByRole("link", { name: "Kit list" })).toBeVisible();
  await expect(guest.getByText("North bank", { exact: true })).toHaveCount(0);
  for (const address of [`/course/${id}/groups`, `/workbench/${id}/intake`, `/api/courses/${id}/plan`])
    expect((await guest.request.get(address)).status()).toBe(404);
  const items = Object.values<{ id: string; title: string }>(
    ((await planOf(page, id)) as never as { items: object }).items as never,
  );
  const lab = items.find(({ title }) => title.startsWith("Lab 4"));
  const opened = await guest.request.get(`/course/${id}/item/${lab?.id}`);
  expect(await opened.text()).not.toContain("<textarea");
  expect((await post(guest.request, `/course/${id}/item/${lab?.id}`, { text: "mine" })).status()).toBe(404);

  // The course is left as it was found.
  const after = await planOf(page, id);
  const came = Object.values(after.people).filter(({ sourcedId }) => sourcedId.startsWith("self-"));
  expect(came).toHaveLength(2);
  const enrolments = Object.values(after.enrolments).filter((row) => came.some((person) => person.id === row.personId));
  expect(enrolments.map(({ role }) => role).sort()).toEqual(["student", "visitor"]);
  await draft([
    { kind: "layer.selfPlacement", layerId: layer?.id, selfPlacement: null },
    { kind: "group.codes", layerId: layer?.id, codes: [{ groupId: evening?.id, code: null }] },
    { kind: "course.visitorCode", code: null },
    ...enrolments.map((row) => ({ kind: "enrolment.end", enrolmentIds: [row.id] })),
  ]);
  expect((await late.request.get(`/course/${id}`)).status()).toBe(404);
});
