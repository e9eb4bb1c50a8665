/** OneRoster 1.2 REST answers (an open standard): classes, the students of a class, users. */
import { randomUUID } from "node:crypto";
import type { IncomingMessage, ServerResponse } from "node:http";
import type { Class, Registrar, User } from "./state.ts";

/** Where the two versions of the standard live. */
export const bases = ["/ims/oneroster/rostering/v1p2", "/ims/oneroster/v1p1"];
/** The one client that gets tokens. */
export const client = { id: "amber-weave", secret: "tarnbeck registrar" };
const fetched = new Set<string>();

/** Gives a token to the client that shows its secret (OAuth 2 client credentials). */
export function giveToken(request: IncomingMessage, form: URLSearchParams, response: ServerResponse): void {
  const [id = "", secret = ""] = Buffer.from((request.headers.authorization ?? "").replace(/^Basic /, ""), "base64")
    .toString()
    .split(":")
    .map(decodePart);
  if (id !== client.id || secret !== client.secret) {
    send(response, 401, { error: "invalid_client" });
    return;
  }
  if (form.get("grant_type") !== "client_credentials" || !form.get("scope")?.includes("roster-core.readonly")) {
    send(response, 400, { error: "invalid_scope" });
    return;
  }
  const token = randomUUID();
  fetched.add(token);
  send(response, 200, { access_token: token, token_type: "Bearer", expires_in: 3600 });
}
const decodePart = (text: string) => decodeURIComponent(text.replaceAll("+", " "));

const send = (response: ServerResponse, status: number, body: unknown, headers: Record<string, string> = {}) => {
  response.writeHead(status, { "content-type": "application/json", ...headers });
  response.end(JSON.stringify(body));
};
const failure = (response: ServerResponse, status: number, says: string) =>
  send(response, status, { imsx_codeMajor: "failure", imsx_severity: "error", imsx_description: says });

const asUser = (user: User) => ({
  sourcedId: user.sourcedId,
  status: "active",
  dateLastModified: "2026-09-01T00:00:00Z",
  enabledUser: "true",
  username: user.username,
  givenName: user.givenName,
  familyName: user.familyName,
  email: user.email,
  roles: [{ roleType: "primary", role: "student", org: { sourcedId: "tarnbeck", type: "org" } }],
  metadata: user.year ? { year: user.year } : {},
});

const asClass = ({ sourcedId, classCode, title, meets, courseId }: Class) => ({
  sourcedId,
  status: "active",
  dateLastModified: "2026-09-01T00:00:00Z",
  title,
  classCode,
  classType: "scheduled",
  course: { href: `/courses/${courseId}`, sourcedId: courseId, type: "course" },
  periods: meets ? [meets] : [],
});

/** `field~'text'` and `field='text'`, joined by OR or AND, as the standard writes filters. */
export function matches(filter: string, user: User): boolean {
  const test = (term: string) => {
    const [, field, sign, value] = /^(\w+)(~|=)'(.*)'$/.exec(term.trim()) ?? [];
    const found = String((user as unknown as Record<string, string>)[field ?? ""] ?? "").toLowerCase();
    const wanted = (value ?? "").toLowerCase();
    return field !== undefined && (sign === "~" ? found.includes(wanted) : found === wanted);
  };
  const parts = filter.split(" OR ");
  return parts.length > 1 ? parts.some(test) : filter.split(" AND ").every(test);
}

const mostAPage = 50;
const teachersOf = ({ teachers = {}, users }: Registrar, path: string): User[] =>
  (teachers[decodeURIComponent(path.split("/")[2] ?? "")] ?? []).flatMap((id) => users[id] ?? []);

function sendCourse({ courses }: Registrar, path: string, response: ServerResponse): void {
  const course = courses.find(({ sourcedId }) => sourcedId === decodeURIComponent(path.split("/")[2] ?? ""));
  if (course) send(response, 200, { course: { ...course, status: "active" } });
  else failure(response, 404, "There is no such course.");
}

const taughtBy = ({ classes, teachers = {} }: Registrar, path: string): Class[] =>
  classes.filter(({ sourcedId }) => teachers[sourcedId]?.includes(decodeURIComponent(path.split("/")[2] ?? "")));

/** Whether the service fails now, and has said so in one of the ways in which such a service does. */
function failsBy(mood: Registrar["mood"], response: ServerResponse): boolean {
  if (mood === "down") {
    failure(response, 503, "The service is down for maintenance.");
    return true;
  }
  if (mood === "slow") {
    setTimeout(() => failure(response, 504, "Too late."), 60_000).unref();
    return true;
  }
  if (mood === "nonsense") {
    response.writeHead(200, { "content-type": "text/html" });
    response.end("<html><body><h1>Scheduled maintenance</h1></body></html>");
    return true;
  }
  return false;
}

/** Answers a REST request in the mood that the service is in. */
export function answer(registrar: Registrar, token: string, request: IncomingMessage, response: ServerResponse): void {
  const url = new URL(request.url ?? "/", "http://registrar");
  const shown = (request.headers.authorization ?? "").replace(/^Bearer /, "");
  if (shown !== token && !fetched.has(shown)) {
    failure(response, 401, "Who is asking?");
    return;
  }
  const { mood } = registrar;
  if (failsBy(mood, response)) return;
  const page = (name: string, all: unknown[]) => {
    // It never gives more than so many a page, whatever it is asked for.
    const limit = Math.min(mostAPage, Number(url.searchParams.get("limit") ?? 100));
    const offset = Number(url.searchParams.get("offset") ?? 0);
    if (mood === "without end") {
      const endless = Array.from({ length: limit }, (_, at) => ({ sourcedId: `endless-${offset + at}` }));
      return send(
        response,
        200,
        { [name]: endless },
        { "x-total-count": "abc", link: `<${url.pathname}>; rel="next"` },
      );
    }
    const part = all.slice(offset, offset + limit);
    // Half an answer: fewer than are there, though the count says otherwise.
    const given = mood === "half an answer" ? part.slice(0, Math.floor(part.length / 2)) : part;
    send(response, 200, { [name]: given }, { "x-total-count": String(all.length) });
  };
  const path = url.pathname.slice((bases.find((one) => url.pathname.startsWith(one)) ?? "").length);
  const classId = /^\/classes\/([^/]+)\/students$/.exec(path)?.[1];
  const students = classId ? registrar.students[decodeURIComponent(classId)] : undefined;
  if (path === "/classes") page("classes", registrar.classes.map(asClass));
  else if (students)
    page(
      "users",
      students
        .map((id) => registrar.users[id])
        .filter((user) => user !== undefined)
        .map(asUser),
    );
  else if (/^\/classes\/[^/]+\/teachers$/.test(path)) page("users", teachersOf(registrar, path).map(asUser));
  else if (/^\/teachers\/[^/]+\/classes$/.test(path)) page("classes", taughtBy(registrar, path).map(asClass));
  else if (path.startsWith("/courses/")) sendCourse(registrar, path, response);
  else if (path === "/users") {
    const filter = url.searchParams.get("filter");
    const users = Object.values(registrar.users).filter((user) => !filter || matches(filter, user));
    page("users", users.map(asUser));
  } else failure(response, 404, "There is no such resource.");
}
