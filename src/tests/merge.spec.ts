/** Courses out of the registrar's classes: two presses, whole or not at all, and only what the registrar says is one's own. */
import type { Page } from "@playwright/test";
import { v7 } from "uuid";
import { check } from "./accessible.ts";
import { application, expect, pageOf, send, station, test } from "./helpers.ts";

test.describe.configure({ mode: "serial" });

const mood = (wanted: string) =>
  fetch(`${application().registrarUrl}/mood`, {
    method: "POST",
    body: new URLSearchParams({ mood: wanted }),
    redirect: "manual",
  });
/** What the form of one's own would send, with some of it otherwise. */
async function forge(page: Page, changed: Record<string, string>): Promise<{ status: number; says: string }> {
  const [first] = await page.locator("main form").all();
  const fields = await first?.evaluate((form) =>
    Object.fromEntries([...new FormData(form as HTMLFormElement)].map(([name, value]) => [name, String(value)])),
  );
  const answer = await page.request.post("/merge", {
    headers: { origin: application().url },
    form: { ...fields, merge: "0", ...changed },
    maxRedirects: 0,
  });
  const alert = /role="alert"[^>]*>([^<]*)/.exec(await answer.text());
  return { status: answer.status(), says: alert?.[1] ?? "" };
}
const codes = async (page: Page) => {
  await page.goto("/");
  return page.getByRole("main").getByRole("listitem").filter({ hasText: "coordinator" }).allTextContents();
};

test("a service that fails makes nothing, and says so; so does one that gives half an answer", async ({ browser }) => {
  const page = await pageOf(browser, "coordinator");
  await page.goto("/merge");
  try {
    await mood("down");
    const answer = await forge(page, {});
    expect(answer).toEqual({
      status: 400,
      says: expect.stringContaining("HYD 310: The registrar&#39;s service refused (503)"),
    });
    await mood("half an answer");
    expect((await forge(page, {})).says).toContain(
      "sent 3 of 4 entries and stopped. No course was made; try again later.",
    );
    await page.goto("/merge");
    await expect(page.getByRole("status")).toContainText("ask an administrator for a course");
  } finally {
    await mood("well");
  }
  expect((await codes(page)).join()).not.toContain("HYD");
  await page.context().close();
});

test("somebody else's classes, and one that is not there, are refused; whoever teaches nothing is told", async ({
  browser,
}) => {
  const coordinator = await pageOf(browser, "coordinator");
  await coordinator.goto("/merge");
  for (const id of ["wsh240-d1", "no such class"])
    expect(await forge(coordinator, { "class-0": id })).toEqual({
      status: 400,
      says: "HYD 310: A class that you ticked is not yours at the registrar any more. Look at the list again.",
    });
  expect((await forge(coordinator, { "title-0": " " })).says).toBe("Give the course a code and a title.");
  expect((await forge(coordinator, { term: v7() })).says).toContain("That term is not there any more.");
  await coordinator.context().close();
  const instructor = await pageOf(browser, "instructor.d1");
  await instructor.getByRole("link", { name: "Merge classes" }).click();
  await expect(instructor.getByText("The registrar lists no class that you teach.")).toBeVisible();
  await instructor.context().close();
  const student = await pageOf(browser, "student.day");
  await expect(student.getByRole("link", { name: "Merge classes" })).toHaveCount(0);
  await student.context().close();
});

test("without the registrar's service a coordinator makes a course and drops the files; nobody else makes one", async ({
  browser,
}) => {
  const page = await pageOf(browser, "coordinator");
  await page.goto("/merge");
  await page.getByText("Rosters that come as files").click();
  const form = page.getByRole("form", { name: "Rosters that come as files" });
  await form.getByLabel("Code").fill("RIV 101");
  await form.getByLabel("Title").fill("Rivers by file");
  await check(page);
  const sent = await form.evaluate((one) => {
    const fields = [...new FormData(one as HTMLFormElement)].map(([name, value]) => [name, String(value)]);
    return Object.fromEntries([...fields, ["make", one.querySelector("button")?.value ?? ""]]);
  });
  const post = (who: Page, fields: Record<string, string>) =>
    who.request.post("/merge", {
      headers: { origin: application().url },
      form: { ...sent, ...fields },
      maxRedirects: 0,
    });
  expect((await post(page, { title: " " })).status()).toBe(400);
  expect((await post(page, { make: "1" })).status()).toBe(404);
  const instructor = await pageOf(browser, "instructor.d2");
  await instructor.goto("/merge");
  await expect(instructor.locator("summary", { hasText: "Rosters that come as files" })).toHaveCount(0);
  expect((await post(instructor, {})).status()).toBe(404);
  await form.getByRole("button", { name: /^Make the course/ }).click();
  await expect(station(page, "Intake")).toBeVisible();
  await expect(page).toHaveURL(new RegExp(`/workbench/${sent.make}/intake`));
  // Pressed twice it is made once.
  expect((await post(page, {})).status()).toBe(303);
  for (const one of [page, instructor]) await one.context().close();
});

test("two presses from the first page make a course with its sections, rosters and groups", async ({ browser }) => {
  const page = await pageOf(browser, "coordinator");
  await page.getByRole("link", { name: "Merge classes" }).click();
  await check(page);
  await page.getByText("Call it otherwise").click();
  await check(page, "dark");
  await page.getByRole("button", { name: /^Merge into one course/ }).click();
  await expect(station(page, "Placement")).toBeVisible();
  await expect(page.getByText("60 placed")).toBeVisible();
  await expect(page.getByText("4 groups")).toBeVisible();
  const id = page.url().split("/")[4] ?? "";
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const sections = Object.values<{ code: string; title: string; pattern: { weekday: number; start: string }[] }>(
    plan.sections,
  );
  expect(
    sections
      .map(({ code, title, pattern }) => [code, title, pattern.map(({ weekday, start }) => `${weekday} ${start}`)])
      .sort(),
  ).toEqual([
    ["A", "Morning A", ["1 09:00", "3 09:00"]],
    ["B", "Morning B", ["2 09:00", "4 09:00"]],
    ["C", "Afternoon", ["1 14:00", "3 14:00"]],
    ["E", "Evening", ["4 18:00"]],
  ]);
  expect(plan.course).toMatchObject({ code: "HYD 310", title: "Field Hydraulics", timeZone: "Europe/Dublin" });
  const { lines } = await (await page.request.get(`/api/courses/${id}/journal`)).json();
  expect(lines.map(({ says }: { says: string }) => says)).toEqual([
    "Intake of Registrar, A, B, C, E",
    "Merged out of the registrar's classes A, B, C, E",
  ]);
  // The next pull goes by the same classes.
  const pulled = await send(page.request, "POST", `/api/courses/${id}/pulls`, application().url, {});
  expect(await pulled.json()).toMatchObject({ state: "applied", says: "nothing was different" });

  // What is merged is told with a way to it; asked for again by force it is refused.
  await page.goto("/merge");
  await expect(page.getByRole("link", { name: "in HYD 310" })).toHaveCount(4);
  await expect(page.getByRole("button", { name: /^Merge into/ })).toHaveCount(0);
  const again = { "id-0": v7(), "code-0": "HYD 311", "title-0": "Again", "class-0": "hyd310-a" };
  expect((await forge(page, again)).says).toBe(
    "HYD 311: A class that you ticked is in HYD 310 already. Take its tick away, or go there.",
  );
  // The same shell asked for again is the one there is.
  expect((await forge(page, { ...again, "id-0": id })).status).toBe(303);
  expect((await codes(page)).filter((text) => text.includes("HYD"))).toHaveLength(1);
  await page.context().close();
});

test("whoever is on the roster signs in by letter at once, and sees the course", async ({ browser }) => {
  const registrar = await (
    await fetch(`${application().registrarUrl}/ims/oneroster/rostering/v1p2/classes/hyd310-a/students`, {
      headers: { authorization: "Bearer stand-in" },
    })
  ).json();
  const { email, familyName, givenName } = registrar.users[0];
  const page = await (await browser.newContext({ baseURL: application().url })).newPage();
  await page.goto("/password");
  await page.getByLabel("Username or e-mail").fill(email);
  await page.getByRole("button", { name: "Send me a letter" }).click();
  await expect(page.getByRole("status")).toContainText("a letter is on its way");
  const own = async () => {
    const all: { to: string; text: string }[] = await (await fetch(`${application().postUrl}/letters.json`)).json();
    return all.find(({ to, text }) => to === email && text.includes("/password/"))?.text ?? "";
  };
  await expect.poll(own).toContain("/password/");
  await page.goto(/http\S+\/password\/\S+/.exec(await own())?.[0] ?? "");
  await expect(page.getByText(`For ${givenName} ${familyName}`)).toBeVisible();
  await page.getByLabel("New password").fill("seven herons under glass");
  await page.getByRole("button", { name: "Keep it and sign in" }).click();
  await expect(page.getByRole("link", { name: "HYD 310 Field Hydraulics" })).toBeVisible();
  await page.context().close();
});

test("an administrator makes an empty course for somebody who brings rosters as files", async ({ browser }) => {
  const admin = await pageOf(browser, "administrator");
  await admin.goto("/administration/courses");
  const make = async (coordinator: string) => {
    await admin.getByText("Make a course", { exact: true }).click();
    const form = admin.getByRole("form", { name: "Make a course" });
    await form.getByLabel("Code").fill("GEO 110");
    await form.getByLabel("Title").fill("Maps");
    await form.getByLabel("Its coordinator").fill(coordinator);
    await form.getByRole("button", { name: "Make it" }).click();
  };
  await make("nobody.known");
  await expect(admin.getByRole("alert")).toContainText("is nobody's username, e-mail or registrar's id here");
  await admin.getByText("Make a course", { exact: true }).click();
  await make("instructor.d2");
  await expect(admin.getByRole("status")).toContainText("GEO 110 Maps is made.");
  await expect(admin.getByRole("row", { name: /GEO 110 Maps/ })).toContainText("nobody in it yet");
  await admin.context().close();
  const coordinator = await pageOf(browser, "instructor.d2");
  await coordinator.getByRole("link", { name: "GEO 110 Maps" }).click();
  await expect(station(coordinator, "Intake")).toBeVisible();
  await coordinator.context().close();
});
