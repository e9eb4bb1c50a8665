/** Every route of the one list, asked as everyone: what is not theirs answers like what does not exist. */
import type { APIRequestContext, Browser } from "@playwright/test";
import { v7 } from "uuid";
import type { RequiredRole } from "../api/endpoint.ts";
import { routes } from "../server/http/routes.ts";
import { courseId, expect, pageOf, send, test } from "./helpers.ts";

const nowhere = "00000000-0000-7000-8000-000000000000";
/** Who plays each part, and the routes that are theirs in WSH 240. */
const parts: { username: string | null; may: RequiredRole[] }[] = [
  { username: null, may: ["anyone"] },
  { username: "administrator", may: ["anyone", "account", "administrator"] },
  { username: "coordinator", may: ["anyone", "account", "coordinator", "staff", "member"] },
  { username: "instructor.d1", may: ["anyone", "account", "staff", "member"] },
  { username: "support.access", may: ["anyone", "account", "staff", "member"] },
  { username: "student.day", may: ["anyone", "account", "student", "reader", "member"] },
];

interface Ids {
  course: string;
  person: string;
  item: string;
  intake: string;
  /** A line of the journal. */
  line: string;
  message: string;
  pull: string;
  layer: string;
  /** A group of the student, with a page. */
  group: string;
  file: string;
  /** The item that holds the file. */
  fileItem: string;
  /** A calendar that can be fetched, and an address of one that may be withdrawn. */
  token: string;
  address: string;
}
async function idsOf(browser: Browser): Promise<Ids & { origin: string; wrongItem: string }> {
  const page = await pageOf(browser, "coordinator");
  const course = await courseId(page, "WSH 240");
  const { plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const person =
    Object.values<{ id: string; username: string }>(plan.people).find(({ username }) => username === "student.day")
      ?.id ?? "";
  const named = (title: string) =>
    Object.values<{ id: string; title: string }>(plan.items).find((item) => item.title === title)?.id ?? "";
  const origin = new URL(page.url()).origin;
  // An intake that only notes one more thing of a student, and a roster that waits since it was pulled.
  const intake = v7();
  const row = {
    file: "f",
    line: 2,
    username: "",
    email: "",
    givenName: "",
    familyName: "",
    sectionTitle: "",
    meets: "",
  };
  const rows = [
    {
      ...row,
      sourcedId: plan.people[person].sourcedId,
      sectionCode: "D1",
      role: "student",
      attributes: { Locker: intake },
      problem: null,
    },
  ];
  const options = { partial: true, acceptedSections: [], chosen: [], samePeople: {} };
  const sent = { intakeId: intake, rows, options, sectionLayer: null, pullId: null, files: ["f"], remember: [] };
  const { revision } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const applied = await send(page.request, "POST", `/api/courses/${course}/intake`, origin, { ...sent, revision });
  expect(applied.status()).toBe(200);
  const feed = { classes: ["wsh240-ev"], nightlyAt: null, appliesItself: false, leavingPercent: 5 };
  await send(page.request, "POST", `/api/courses/${course}/feed`, origin, feed);
  const pulled = await (await send(page.request, "POST", `/api/courses/${course}/pulls`, origin, {})).json();
  // There is room for five of one's own.
  for (const { id } of await (await page.request.get(`/api/courses/${course}/calendars`)).json())
    await send(page.request, "DELETE", `/api/courses/${course}/calendars/${id}`, origin);
  const calendar = () => send(page.request, "POST", `/api/courses/${course}/calendars`, origin, { kind: "staff" });
  const token = (await (await calendar()).json()).address.split("/").at(-1);
  await calendar();
  const [newest] = await (await page.request.get(`/api/courses/${course}/calendars`)).json();
  const message = v7();
  const letter = { id: message, subject: "s", body: "b", unplacedIn: [], withStaff: false };
  const to = [{ kind: "person", id: person }];
  await send(page.request, "POST", `/api/courses/${course}/messages`, origin, { ...letter, to });
  const journal = await (await page.request.get(`/api/courses/${course}/journal`)).json();
  await page.context().close();
  return {
    token,
    address: newest.id,
    course,
    person,
    item: named("Kit list"),
    wrongItem: named("South bank route"),
    intake,
    line: journal.lines[0].id,
    message,
    pull: pulled.id,
    fileItem: named("Field card"),
    file:
      Object.values<{ kind: string; file: { id: string } | null }>(plan.items).find(({ file }) => file)?.file?.id ?? "",
    layer: Object.values<{ id: string; name: string }>(plan.layers).find(({ name }) => name === "Sections")?.id ?? "",
    group:
      Object.values<{ groupId: string; personId: string; until: number | null }>(plan.placements).find(
        ({ groupId, personId, until }) => personId === person && until === null && plan.groups[groupId].page,
      )?.groupId ?? "",
    origin,
  };
}

const fill = (
  pattern: string,
  { course, person, item, intake, line, message, pull, layer, group, file, fileItem, token, address }: Ids,
  index = "discussions",
) =>
  pattern
    .replace("[provider]", "college")
    .replace("[intake]", intake)
    .replace("[line]", line)
    .replace("[message]", message)
    .replace("[pull]", pull)
    .replace("[file]", file)
    .replace("[token]", token)
    .replace("[address]", address)
    .replace("/file/[item]", `/file/${fileItem}`)
    .replace("/beside", `/beside?a=${person}&b=${person}`)
    .replace(/\/staff-notes$/, `/staff-notes?kind=item&id=${item}`)
    .replace(/\/work$/, `/work?item=${item}&person=${person}`)
    .replace("[course]", course)
    .replace("[person]", person)
    .replace("[item]", item)
    .replace("[layer]", layer)
    .replace("[group]", group)
    .replace("[index]", index)
    .replace("[...station]", "gradebook");

/** The body without what echoes the request: nothing of it may differ. */
async function answer(request: APIRequestContext, method: string, address: string, origin: string) {
  const response = await send(request, method, address, origin, method === "GET" ? undefined : {});
  return {
    status: response.status(),
    body: await response.text(),
    type: response.headers()["content-type"] ?? "",
    to: response.headers().location ?? "",
  };
}

test("each route, as each of them", async ({ browser }) => {
  const ids = await idsOf(browser);
  for (const { username, may } of parts) {
    const page = username ? await pageOf(browser, username) : await (await browser.newContext()).newPage();
    for (const { method, pattern, who } of routes) {
      if (pattern === "/sign-out") continue;
      const address = fill(pattern, ids);
      const label = `${username ?? "nobody"} ${method} ${pattern}`;
      // It goes on as long as the page is open: live.spec.ts listens.
      if (method === "GET" && pattern.endsWith("/live") && may.includes(who)) continue;
      const given = await answer(page.request, method, address, ids.origin);
      if (may.includes(who)) {
        // Whose it is decides here: scope.spec.ts asks about one's own and others'.
        if (/^\/look\/|\/work$|\/\[message\]$|staff-notes$/.test(pattern) && username !== "coordinator") continue;
        // Only what was attached is fetched, and only threads read: threads.spec.ts asks.
        if (pattern.endsWith("/[proposal]")) continue;
        // Whose group it is decides: groups.spec.ts asks.
        if (pattern.startsWith("/group/") && username === "support.access") continue;
        // Whoever sees all has no others, and whoever sees nobody is told of nobody: scope.spec.ts asks.
        if (pattern.endsWith("/other-students") && username !== "instructor.d1") continue;
        // Their addresses are one-time or name an account, and their forms ask for something: institution.spec.ts and identity.spec.ts ask.
        if (
          /^\/(set-up|password|sign-in\/back|administration\/(people|erase))\/\[/.test(pattern) ||
          (method === "POST" && who === "administrator")
        )
          continue;
        // Figures are for whoever shows a token, signed in or not: metrics.test.ts asks.
        if (pattern === "/metrics") {
          expect([label, given.status]).toEqual([label, 404]);
          continue;
        }
        // Who works on a quiz has its attempt: attempts.spec.ts asks.
        if (/\[item\]\/attempt|^\/try\//.test(pattern)) continue;
        // Only who began an upload has it: uploads.test.ts asks.
        if (/^\/threads|^\/uploads\/|attachments|\[item\]\/file|\[group\]\/file/.test(pattern)) continue;
        expect([label, given.status === 404 || given.status === 401]).toEqual([label, false]);
        continue;
      }
      // The same kind of address, of a course and an item that never existed.
      const never = await answer(
        page.request,
        method,
        fill(
          pattern,
          {
            course: nowhere,
            person: nowhere,
            item: nowhere,
            intake: nowhere,
            line: nowhere,
            message: nowhere,
            pull: nowhere,
            layer: nowhere,
            group: nowhere,
            file: nowhere,
            fileItem: nowhere,
            token: nowhere,
            address: nowhere,
          },
          "nothing",
        ),
        ids.origin,
      );
      const path = (text: string) => text.replaceAll(/[0-9a-f-]{36}|discussions|nothing/g, "");
      expect([label, given.status, given.type, given.body, path(given.to)]).toEqual([
        label,
        never.status,
        never.type,
        never.body,
        path(never.to),
      ]);
      expect([label, [401, 303, 404].includes(given.status)]).toEqual([label, true]);
    }
    await page.context().close();
  }
});

test("an item that is not for a student answers like one that never existed, on every way to it", async ({
  browser,
}) => {
  const ids = await idsOf(browser);
  const student = await pageOf(browser, "student.day");
  for (const method of ["GET", "POST"]) {
    const hidden = await answer(student.request, method, `/course/${ids.course}/item/${ids.wrongItem}`, ids.origin);
    const never = await answer(student.request, method, `/course/${ids.course}/item/${nowhere}`, ids.origin);
    expect(hidden).toEqual(never);
    expect(hidden.status).toBe(404);
  }
  await student.context().close();
});

test("what is not in the list does not exist, and a method that is not listed neither", async ({ browser }) => {
  const ids = await idsOf(browser);
  const page = await pageOf(browser, "coordinator");
  const unknown = await answer(page.request, "GET", "/api/nothing", ids.origin);
  expect(unknown).toMatchObject({ status: 404, type: expect.stringContaining("problem+json") });
  expect((await answer(page.request, "DELETE", `/api/courses/${ids.course}/plan`, ids.origin)).status).toBe(404);
  await page.context().close();
});

test("a change that does not come from our own pages is refused, whatever the session", async ({ browser }) => {
  const ids = await idsOf(browser);
  const page = await pageOf(browser, "coordinator");
  const address = `/api/courses/${ids.course}/draft`;
  for (const headers of [{ origin: "https://elsewhere.example" }, { origin: "null" }] as Record<string, string>[]) {
    const response = await page.request.post(address, { headers, data: { step: "undo all" } });
    expect(response.status()).toBe(403);
  }
  await page.context().close();
});

test("headers: a policy without inline script, no framing, no sniffing; the cookie is out of reach of scripts", async ({
  page,
  context,
}) => {
  const response = await page.goto("/sign-in");
  const headers = response?.headers() ?? {};
  const scripts = /script-src ([^;]*)/.exec(headers["content-security-policy"] ?? "")?.[1] ?? "";
  expect(scripts).toContain("'self'");
  expect(scripts).not.toContain("unsafe-inline");
  expect(headers["content-security-policy"]).toContain("frame-ancestors 'none'");
  expect(headers["x-content-type-options"]).toBe("nosniff");
  await page.getByLabel("Username").fill("student.day");
  await page.getByLabel("Password").fill("tarnbeck");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("heading", { name: "Your courses" })).toBeVisible();
  const [cookie] = await context.cookies();
  expect(cookie).toMatchObject({ name: "amber_session", httpOnly: true, sameSite: "Lax" });
});

test("a quiet connection outlives the minute that proxies keep theirs, so that no request meets a closing one", async ({
  request,
}) => {
  const kept = /timeout=(\d+)/.exec((await request.get("/sign-in")).headers()["keep-alive"] ?? "")?.[1];
  expect(Number(kept)).toBeGreaterThan(60);
});
