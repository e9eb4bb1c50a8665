/** Decides every request: session, origin, route, role in the course. What is refused does not exist. */
import type { RequiredRole } from "../../api/endpoint.ts";
import { planWithin } from "../../core/access/plan-within.ts";
import { type Membership, membershipOf } from "../../core/access/roles.ts";
import { type Scope, scopeOf } from "../../core/access/scope.ts";
import { isUuid } from "../../core/plan/basics.ts";
import type { Plan, Role } from "../../core/plan/types.ts";
import { type Account, accountOf, sessionCookie } from "../accounts/accounts.ts";
import { noteEvent } from "../accounts/security-events.ts";
import { now } from "../clock.ts";
import { course, memberIn } from "../store/courses.ts";
import type { StoredPlan } from "../store/plan-rows.ts";
import { isOurHost, isOurOrigin, isReadablePath, onlyReads } from "./address.ts";
import type { BodyLimit } from "./counted-body.ts";
import { failure, problem, problemPage } from "./problem.ts";
import { findRoute } from "./routes.ts";

export interface CourseAccess extends StoredPlan {
  courseId: string;
  membership: Membership;
  /** What the plan is narrowed to; null for the coordinator, who sees all, and for students, whose pages decide. */
  scope: Scope | null;
  /** The plan as it is published, for what is narrowed afterwards. */
  whole: Plan;
}
/** Somebody in a course, as far as it is known without its plan. */
export interface CourseMember {
  courseId: string;
  revision: number;
  code: string;
  title: string;
  membership: Membership;
  /** Whether they see all of the plan: it is the same for each of those. */
  seesAll: boolean;
  /** The plan as they see it, read when it is asked for. */
  access(): Promise<CourseAccess>;
}
export type AccessDecision =
  | { refusal: Response }
  | { account: Account | null; access: CourseAccess | null; member: CourseMember | null; takes: BodyLimit };

/** The same answer for what does not exist and for what is not the asker's. */
export const notFound = (isApi: boolean): Response =>
  isApi
    ? problem(404, "Not found", "There is nothing at this address.")
    : problemPage(
        404,
        "There is nothing at this address",
        "It may have been typed wrongly, or what was here is not here for you.",
      );

/** What no request of ours looks like, whoever asks; null where there is nothing against it. */
function whyNotOurs(request: Request, pattern: string): Response | null {
  if (!isReadablePath(request))
    return failure(request, 400, "Not an address", "This address holds signs that no address of ours has.");
  // Whatever watches the application asks for its health by the machine's own name.
  if (!isOurHost(request) && !pattern.startsWith("/health/") && pattern !== "/metrics")
    return failure(request, 421, "Not this server", "This server does not answer for the name that was asked for.");
  if (onlyReads(request) || isOurOrigin(request)) return null;
  return failure(
    request,
    403,
    "Not from here",
    "This change did not come from a page of this site, so it was not made. Reload the page and try again.",
  );
}

const isScoped = (role: Role) => role === "instructor" || role === "support";
const rolesOf: Partial<Record<RequiredRole, Role[]>> = {
  member: ["coordinator", "instructor", "support", "student", "visitor"],
  staff: ["coordinator", "instructor", "support"],
  coordinator: ["coordinator"],
  reader: ["student", "visitor"],
  student: ["student"],
};
const hasRole = (role: Role, who: RequiredRole): boolean => rolesOf[who]?.includes(role) ?? false;

// Narrowing a large course takes a moment: what was narrowed is kept as long as the plan and the minute are the same.
const narrowed = new Map<string, { plan: Plan; within: Plan; scope: Scope }>();
function within(plan: Plan, personId: string): { within: Plan; scope: Scope } {
  const t = now();
  const key = `${plan.course.id}/${personId}/${Math.floor(t / 60_000)}`;
  const ready = narrowed.get(key);
  if (ready?.plan === plan) return ready;
  const scope = scopeOf(plan, personId, t);
  const made = { plan, scope, within: planWithin(plan, personId, scope, t) };
  if (narrowed.size > 50) narrowed.clear();
  narrowed.set(key, made);
  return made;
}

export interface Asking {
  request: Request;
  url: URL;
  /** The pattern of the page or endpoint that would answer. */
  pattern: string;
  /** What stands in the address where the pattern has brackets. */
  params: Record<string, string | undefined>;
  token: string | undefined;
}

/** What addresses name beside rows: words, and a secret. */
const notIds = new Set(["station", "index", "token"]);
/** Whether all that an address names can be an id, in its one spelling. Nothing else is looked up anywhere. */
const namesIds = (params: Asking["params"]): boolean =>
  Object.entries(params).every(([name, value]) => value === undefined || notIds.has(name) || isUuid(value));

export async function authorize({ request, url, pattern, params, token }: Asking): Promise<AccessDecision> {
  const isApi = url.pathname.startsWith("/api/");
  const what = `${request.method} ${pattern}`;
  const refusal = whyNotOurs(request, pattern);
  if (refusal) {
    void noteEvent({ kind: "refused", what });
    return { refusal };
  }
  const route = findRoute(pattern, request.method);
  const none = { access: null, member: null };
  if (route?.who === "anyone") return { account: await accountOf(token), ...none, takes: route.takes };

  const account = await accountOf(token);
  if (!account) {
    // Asked without a session, every address answers alike, there or not.
    if (isApi)
      return {
        refusal: problem(401, "Not signed in", "Your session has ended. Sign in again; what you drafted is kept."),
      };
    const back = request.method === "GET" ? `?next=${encodeURIComponent(url.pathname + url.search)}` : "";
    return {
      refusal: new Response(null, { status: 303, headers: { location: `/sign-in${back}` } }),
    };
  }
  if (!route || !namesIds(params)) return { refusal: notFound(isApi) };
  const { takes } = route;
  if (route.who === "account") return { account, ...none, takes };
  if (route.who === "administrator") {
    if (account.administers) return { account, ...none, takes };
    void noteEvent({ kind: "refused", accountId: account.id, what });
    return { refusal: notFound(isApi) };
  }

  const courseId = params.course ?? "";
  const found = await (route.isLight ? lookUp(courseId, account) : lookInside(courseId, account));
  if (!found?.member || !hasRole(found.member.membership.role, route.who)) {
    void noteEvent({ kind: "refused", accountId: account.id, courseId: found && courseId, what });
    return { refusal: notFound(isApi) };
  }
  return { account, access: found.access, member: found.member, takes };
}

/** What is found of a course that there is; without a member where the asker is not in it. */
interface Found {
  member: CourseMember | null;
  access: CourseAccess | null;
}

/** Who somebody is in a course by its plan, with the plan as they see it. */
async function lookInside(courseId: string, account: Account): Promise<Found | null> {
  const stored = courseId ? await course(courseId) : null;
  if (!stored) return null;
  const membership = membershipOf(stored.plan, account.sourcedId, now());
  if (!membership) return { member: null, access: null };
  const access = accessOf(courseId, stored, membership);
  const { code, title } = stored.plan.course;
  const seesAll = !isScoped(membership.role);
  const member = { courseId, revision: stored.revision, code, title, membership, seesAll, access: async () => access };
  return { member, access };
}

/** The same by the rows of one person. */
async function lookUp(courseId: string, account: Account): Promise<Found | null> {
  const found = await memberIn(courseId, account.sourcedId, now());
  if (!found) return null;
  const { membership, ...about } = found;
  if (!membership) return { member: null, access: null };
  const access = async () => accessOf(courseId, (await course(courseId)) as StoredPlan, membership);
  return { member: { courseId, ...about, membership, seesAll: !isScoped(membership.role), access }, access: null };
}

function accessOf(courseId: string, stored: StoredPlan, membership: Membership): CourseAccess {
  const whole = stored.plan;
  const theirs = isScoped(membership.role) ? within(whole, membership.personId) : null;
  return {
    ...stored,
    plan: theirs?.within ?? whole,
    whole,
    courseId,
    membership,
    scope: theirs?.scope ?? null,
  };
}

export const tokenOf = (cookies: { get(name: string): { value: string } | undefined }): string | undefined =>
  cookies.get(sessionCookie().name)?.value;
