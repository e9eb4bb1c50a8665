/** A private application, attacked: bodies, addresses, sign-in, every route with everything, every field with every text. */
import { readFileSync } from "node:fs";
import { expect, test } from "@playwright/test";
import fc from "fast-check";
import { startForTests } from "../../scripts/lib/tests.mjs";
import { type Endpoint, patternOf } from "../api/endpoint.ts";
import { endpoints } from "../api/index.ts";
import { bodyLimits } from "../server/http/counted-body.ts";
import { type Route, routes } from "../server/http/routes.ts";
import { cookieOf, rawly } from "./attacker.ts";
import { fromSchema } from "./from-schema.ts";
import { password } from "./helpers.ts";
import { naughty } from "./naughty.ts";

test.describe.configure({ mode: "serial" });
let here: Awaited<ReturnType<typeof startForTests>>;
const cookies: Record<string, string> = {};
let course = "";
/** Ids of rows of the course, some of each table. */
let ids: string[] = [];

test.beforeAll(async () => {
  test.setTimeout(240_000);
  here = await startForTests(`hostile-${process.env.TEST_PARALLEL_INDEX ?? 0}`, { firstPort: 5400 });
  for (const name of ["administrator", "coordinator", "instructor.d1", "support.writing", "student.day"])
    cookies[name] = (await cookieOf(here.url, name, password)) ?? "";
  const first = await (await fetch(here.url, { headers: { cookie: cookies.coordinator ?? "" } })).text();
  course =
    /\/workbench\/([0-9a-f-]{36})[^>]*>(?:<[^>]*>)*\s*WSH 240/.exec(first)?.[1] ??
    /\/workbench\/([0-9a-f-]{36})/.exec(first)?.[1] ??
    "";
  const answer = await fetch(`${here.url}/api/courses/${course}/plan`, {
    headers: { cookie: cookies.coordinator ?? "" },
  });
  const { plan } = await answer.json();
  const tables = ["people", "sections", "layers", "groups", "items", "placements", "enrolments"];
  ids = [course, ...tables.flatMap((table) => Object.keys(plan[table]).slice(0, 4))];
});
test.afterAll(() => here.stop());

const memory = () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${here.pid}/status`, "utf8"))?.[1] ?? 0) / 1024;
function* megabytes(count: number) {
  for (let at = 0; at < count; at++) yield Buffer.alloc(1024 * 1024, "a");
}
const asPlainForm = { "content-type": "application/x-www-form-urlencoded" };
/** The address of a route, with something for what stands in brackets. */
const pathOf = ({ pattern }: Pick<Route, "pattern">, fill: (name: string) => string) =>
  pattern.replace(/\[(?:\.\.\.)?(\w+)\]/g, (_, name: string) => encodeURIComponent(fill(name)));

test("200 MB to the sign-in, four at once: each is cut at once, and nobody else waits", async () => {
  await rawly(here.url, "/sign-in");
  const before = memory();
  const sent = [1, 2, 3, 4].map(() =>
    rawly(here.url, "/sign-in", { method: "POST", headers: asPlainForm, pieces: megabytes(200) }),
  );
  const others = await Promise.all([1, 2, 3].map(() => rawly(here.url, "/sign-in")));
  for (const { status, milliseconds } of others) expect([status, milliseconds < 2000]).toEqual([200, true]);
  for (const { status } of await Promise.all(sent)) expect([413, 0]).toContain(status);
  expect(memory() - before).toBeLessThan(200);
});

test("every route that takes something says at once that it is too much", async () => {
  for (const route of routes.filter(({ method }) => method === "POST" || method === "PATCH")) {
    const isStudent = route.who === "student" || route.who === "reader";
    const asker = isStudent ? "student.day" : route.who === "administrator" ? "administrator" : "coordinator";
    const headers = {
      cookie: cookies[asker] ?? "",
      "content-type": "application/json",
      "content-length": bodyLimits[route.takes] + 1,
    };
    const path = pathOf(route, (name) => (name === "course" ? course : (ids[1] as string)));
    const answer = await rawly(here.url, path, {
      method: route.method,
      headers,
      pieces: [Buffer.from("{")],
      isLeftOpen: true,
    });
    expect([route.method, route.pattern, answer.status]).toEqual([route.method, route.pattern, 413]);
    expect(answer.headers.connection).toBe("close");
  }
});

test("a body that does not come is given up, and told so", async () => {
  test.setTimeout(60_000);
  const pieces = [Buffer.from("username=a")];
  const answer = await rawly(here.url, "/sign-in", {
    method: "POST",
    headers: { ...asPlainForm, "content-length": 1000 },
    pieces,
    isLeftOpen: true,
  });
  expect([answer.status, answer.text]).toEqual([408, expect.stringContaining("arrived too slowly")]);
});

test("no spelling of a login, and no number of tries at once, gives more guesses than five", async () => {
  const guess = async (username: string) =>
    (
      await rawly(here.url, "/sign-in", {
        method: "POST",
        headers: asPlainForm,
        pieces: [Buffer.from(new URLSearchParams({ username, password: "wrong" }).toString())],
      })
    ).status;
  const spellings = [
    "Evening",
    "EVENING",
    "evening ",
    "ev\u200bening",
    "e\u00advening",
    "ｅｖｅｎｉｎｇ",
    "evening\u2060",
  ];
  const tries = Array.from({ length: 60 }, (_, at) => `student.${spellings[at % spellings.length]}`);
  const statuses = await Promise.all(tries.map(guess));
  // Five for the login, and five for all that holds signs which nobody sees.
  expect(statuses.filter((status) => status === 401).length).toBeLessThanOrEqual(10);
  expect(new Set(statuses)).toEqual(new Set([401, 429]));
  expect(await cookieOf(here.url, "student.day", password)).not.toBeNull();
});

test("nobody is led away after signing in, and addresses with signs that none has are refused", async () => {
  const body = Buffer.from(new URLSearchParams({ username: "student.day", password }).toString());
  for (const next of [
    "//evil.example",
    "/\\evil.example",
    "/%09/evil.example",
    "/%0a//evil.example",
    "https://evil.example",
    "/%2f/evil.example",
    "/.//evil.example",
    "javascript:alert(1)",
  ]) {
    const answer = await rawly(here.url, `/sign-in?next=${next.startsWith("/%") ? next : encodeURIComponent(next)}`, {
      method: "POST",
      headers: asPlainForm,
      pieces: [body],
    });
    const target = new URL(String(answer.headers.location), here.url);
    expect([next, answer.status, target.origin]).toEqual([next, 303, here.url]);
  }
  const cookie = cookies["student.day"] ?? "";
  for (const path of ["/%00", "/course/%0a", "/%e2%80%a8", `/course/${course}/item/%00`])
    expect([path, (await rawly(here.url, path, { headers: { cookie } })).status]).toEqual([path, 400]);
  for (const path of ["/course/__proto__", `/course/${course.toUpperCase()}`, `/course/${course}/item/constructor`])
    expect([path, (await rawly(here.url, path, { headers: { cookie } })).status]).toEqual([path, 404]);
});

test("methods, origins and hosts that are not ours are refused, each with its status", async () => {
  for (const method of ["TRACE", "OPTIONS", "PUT", "PROPFIND"])
    expect([method, (await rawly(here.url, "/", { method })).status]).toEqual([method, 405]);
  for (const origin of ["null", "x", "http://", "http://[", "https://evil.example", `${here.url}.evil.example`])
    expect([
      origin,
      (await rawly(here.url, "/sign-in", { method: "POST", headers: { origin }, pieces: [] })).status,
    ]).toEqual([origin, 403]);
  expect((await rawly(here.url, "/sign-in", { headers: { host: "evil.example" } })).status).toBe(421);
  const page = await rawly(here.url, "/plain.css");
  expect([page.status, page.headers["x-content-type-options"]]).toEqual([200, "nosniff"]);
});

test("failures are pages in a browser, and problem details in the API", async () => {
  const cookie = cookies.coordinator ?? "";
  const limits = { "content-length": bodyLimits.json + 1, "content-type": "application/json", cookie };
  const api = await rawly(here.url, `/api/courses/${course}/messages`, {
    method: "POST",
    headers: limits,
    isLeftOpen: true,
  });
  expect([api.status, api.headers["content-type"], JSON.parse(api.text).status]).toEqual([
    413,
    "application/problem+json; charset=utf-8",
    413,
  ]);
  const page = await rawly(here.url, "/self", {
    method: "POST",
    headers: { ...limits, accept: "text/html" },
    isLeftOpen: true,
  });
  expect([page.status, page.headers["content-type"]]).toEqual([413, "text/html; charset=utf-8"]);
  expect(page.text).toContain("<h1>Too large</h1>");
});

/** One request of the fuzzer, and what is wrong with its answer; null where nothing is. */
async function asked(...request: Parameters<typeof askedOnce>): Promise<string | null> {
  const first = await askedOnce(...request);
  // Tests beside this one take their share of the machine: what hangs does so again.
  return (first?.isSlow ? await askedOnce(...request) : first)?.what ?? null;
}
async function askedOnce(
  route: Pick<Route, "method">,
  path: string,
  who: string,
  body?: { text: string; type: string },
): Promise<{ what: string; isSlow: boolean } | null> {
  const begun = performance.now();
  const answer = await fetch(here.url + path, {
    method: route.method,
    redirect: "manual",
    headers: { origin: here.url, cookie: cookies[who] ?? "", ...(body ? { "content-type": body.type } : {}) },
    ...(body ? { body: body.text } : {}),
    signal: AbortSignal.timeout(20_000),
  });
  if (!(answer.headers.get("content-type") ?? "").includes("event-stream")) await answer.arrayBuffer();
  else await answer.body?.cancel();
  const took = Math.round(performance.now() - begun);
  const what = `${route.method} ${path} as ${who || "nobody"}: ${answer.status} in ${took} ms ${body?.text.slice(0, 300) ?? ""}`;
  // 502: the registrar is in trouble, which is no failure of ours.
  const isFailure = answer.status >= 500 && answer.status !== 502;
  return isFailure || took > 2000 ? { what, isSlow: !isFailure } : null;
}
const everyone = ["coordinator", "instructor.d1", "support.writing", "student.day", ""];
const isStream = ({ pattern }: Route) => pattern.endsWith("/live");

const endpointOf = new Map(endpoints.map((one: Endpoint) => [`${one.method} ${patternOf(one)}`, one]));
/** Fields that forms and addresses of pages have. */
const formFields = [
  ...[
    "post",
    "text",
    "thread",
    "do",
    "code",
    "choose",
    "link",
    "layer",
    "course",
    "to",
    "send",
    "title",
    "body",
    "entry",
  ],
  ...[
    "remark",
    "place",
    "edit",
    "parent",
    "delete",
    "put back",
    "read",
    "upload",
    "mails",
    "pronouns",
    "subject",
    "about",
  ],
];
const queryFields = ["t", "q", "group", "sent", "reply", "edit", "at", "layer", "next", "alarm", "with"];
const sayable = naughty.filter((one) => one !== "" && one.isWellFormed());
const fieldsOf = (value: unknown): [string, string][] =>
  Object.entries(Object(value) as object).map(([name, one]) => [name, String(one)]);

/** What a route is asked with: who asks, what stands in its address, and what is sent to it. */
function askingOf(route: Route) {
  const endpoint = endpointOf.get(`${route.method} ${route.pattern}`);
  const name = fc.constantFrom(...ids, ...ids, ...sayable);
  const names = fc.array(name, { minLength: 3, maxLength: 3 });
  const fields = (of: string[]) => fc.dictionary(fc.constantFrom(...of), name, { maxKeys: 6 });
  return fc.record({
    who: fc.constantFrom(...everyone),
    names,
    query: endpoint?.query ? fromSchema(endpoint.query, ids) : fields(queryFields),
    body: endpoint?.body
      ? fromSchema(endpoint.body, ids).map((value) => ({ text: JSON.stringify(value) ?? "", type: "application/json" }))
      : fields(formFields).map((value) => ({
          text: new URLSearchParams(fieldsOf(value)).toString(),
          type: asPlainForm["content-type"],
        })),
  });
}

test("every route, asked by everyone with anything: nothing fails, nothing hangs, nothing is held", async () => {
  test.setTimeout(900_000);
  const before = memory();
  const wrong: string[] = [];
  for (const route of routes.filter((one) => !isStream(one) && one.pattern !== "/sign-out")) {
    const isSent = route.method === "POST" || route.method === "PATCH";
    for (const { who, names, query, body } of fc.sample(askingOf(route), { numRuns: 40, seed: 20261130 })) {
      let at = 0;
      const path = pathOf(route, (part) => (part === "course" ? course : (names[at++ % 3] as string)));
      const fault = await asked(
        route,
        `${path}?${new URLSearchParams(fieldsOf(query))}`,
        who,
        isSent ? body : undefined,
      );
      if (fault) wrong.push(fault);
    }
  }
  expect(wrong).toEqual([]);
  expect(memory() - before).toBeLessThan(600);
});

test("after all that, every page opens for whoever may see it", async () => {
  test.setTimeout(240_000);
  const wrong: string[] = [];
  for (const route of routes.filter((one) => one.method === "GET" && !isStream(one)))
    for (const who of everyone)
      for (const id of ids.slice(0, 12)) {
        const fault = await asked(
          route,
          pathOf(route, (part) => (part === "course" ? course : id)),
          who,
        );
        if (fault) wrong.push(fault);
        if (!route.pattern.includes("[", 20)) break;
      }
  expect(wrong).toEqual([]);
});
