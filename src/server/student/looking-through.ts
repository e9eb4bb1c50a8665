/** Look-through: the student's own pages through the eyes of one, at a moment, as published or as drafted; and two side by side. */
import { diffArrays } from "diff";
import { planWithin } from "../../core/access/plan-within.ts";
import { instantOf, sayInstant, wallOf } from "../../core/clock/local-time.ts";
import { fullName, outlineOrder, studentsAt, targetName } from "../../core/plan/lookup.ts";
import type { Progress } from "../../core/plan/progress.ts";
import { type Person, type Plan, Target, Wall } from "../../core/plan/types.ts";
import { lastChange, nextChange } from "../../core/reach/changes.ts";
import { type StudentEntry, studentIndex, studentOutline, studentPage } from "../../core/reach/student-page.ts";
import { studentsAmong } from "../../core/timing/resolving/memberships.ts";
import { pronounsIn } from "../accounts/own.ts";
import { noteEvent } from "../accounts/security-events.ts";
import { now } from "../clock.ts";
import { draftedPlan } from "../drafts/drafts.ts";
import type { CourseAccess } from "../http/guard.ts";
import { studentProgress } from "../store/progress.ts";
import { indexesOf, type Look, type ShownCourse } from "./shown-course.ts";

/** Which of a group's or section's students is looked through, and who stands before and after. */
function amongOf(plan: Plan, asked: string, personId: string, t: number): Look["among"] {
  const [kind = "", id = ""] = asked.split(" ");
  const target = Target.safeParse({ kind, id });
  if (!target.success || target.data.kind === "person") return null;
  const students = studentsAmong(plan, target.data, t);
  const at = students.indexOf(personId);
  if (at < 0) return null;
  return {
    name: targetName(plan, target.data),
    place: at + 1,
    of: students.length,
    before: students[at - 1] ?? null,
    after: students[at + 1] ?? null,
  };
}

/**
 * The moment a look-through asks for: epoch milliseconds in `at`, or a wall-clock time in `wall`; null for now. The minute
 * that runs is now: what was drafted takes effect within it, and not at its beginning.
 */
function askedMoment(search: URLSearchParams, timeZone: string): number | null {
  const wall = Wall.safeParse(search.get("wall"));
  const at = Number(search.get("at") ?? Number.NaN);
  const asked = wall.success ? instantOf(wall.data, timeZone) : Number.isFinite(at) ? at : null;
  const running = instantOf(wallOf(now(), timeZone), timeZone);
  return asked !== null && asked >= running && asked <= now() ? null : asked;
}

/** The plan that a look-through shows: as published or as drafted, and within a scope no more than is theirs to know. */
export async function planToLookAt(access: CourseAccess, accountId: string, search: URLSearchParams): Promise<Plan> {
  const { courseId, plan, scope, membership } = access;
  if (search.get("draft") !== "1") return plan;
  const drafted = await draftedPlan(courseId, accountId, (search.get("leave") ?? "").split(","));
  if (!drafted) return plan;
  return scope === null ? drafted.plan : planWithin(drafted.plan, membership.personId, scope, now());
}

/**
 * The same through the eyes of one student, at a moment, as published or as drafted; null where there is no such
 * student, or none that was given to whoever looks.
 */
export async function lookView(
  access: CourseAccess,
  accountId: string,
  personId: string,
  search: URLSearchParams,
): Promise<ShownCourse | null> {
  const drafted = search.get("draft") === "1";
  if (access.scope !== null && !access.scope.personIds.has(personId)) return null;
  const plan = await planToLookAt(access, accountId, search);
  const asked = askedMoment(search, plan.course.timeZone);
  const t = asked ?? now();
  const progress = await studentProgress(access.courseId, personId, plan);
  const page = studentPage(plan, progress, personId, t);
  const person = plan.people[personId];
  if (!page || !person) return null;
  await noteEvent({ kind: "looked", accountId, courseId: access.courseId, personId });
  const say = (at: number) => sayInstant(at, plan.course.timeZone);
  const moment = (at: number | null) => (at === null ? null : { at, says: say(at) });
  const among = amongOf(plan, search.get("of") ?? "", personId, t);
  const kept = new URLSearchParams({
    ...(drafted ? { draft: "1" } : {}),
    ...(drafted && search.get("leave") ? { leave: search.get("leave") ?? "" } : {}),
    ...(asked === null ? {} : { at: String(asked) }),
    ...(among ? { of: search.get("of") ?? "" } : {}),
  }).toString();
  return {
    page,
    plan,
    courseId: access.courseId,
    base: `/look/${access.courseId}/${personId}`,
    query: kept && `?${kept}`,
    indexes: indexesOf(plan),
    unread: 0,
    pronouns: await pronounsIn(access.courseId),
    scope: access.scope,
    look: {
      name: fullName(person),
      personId,
      drafted,
      t,
      says: say(t) as string,
      next: moment(nextChange(plan, progress, personId, t)),
      // To stand before the last change one must go to where it had not happened yet.
      last: moment(beforeLast(plan, progress, personId, t)),
      among,
    },
  };
}

/** Two look-throughs: `a` at `at` (or `aw`, a wall-clock time) and `b` at `bt` (or `bw`); null where one is no student. */
export async function besideViews(
  access: CourseAccess,
  accountId: string,
  search: URLSearchParams,
): Promise<[ShownCourse, ShownCourse] | null> {
  const side = async (person: string, at: string, wall: string) => {
    const asked = new URLSearchParams();
    for (const [name, key] of [
      ["at", at],
      ["wall", wall],
      ["draft", "draft"],
    ] as const) {
      const value = search.get(key);
      if (value !== null) asked.set(name, value);
    }
    const leave = search.get("leave");
    if (leave) asked.set("leave", leave);
    // Before and after what is drafted.
    if (search.get("change") === "1") {
      if (person === "b") asked.set("draft", "1");
      else asked.delete("draft");
    }
    return lookView(access, accountId, search.get(person) ?? "", asked);
  };
  const [left, right] = await Promise.all([side("a", "at", "aw"), side("b", "bt", "bw")]);
  if (!left || !right) return null;
  const people = studentsAt(left.plan, left.page.reach.t).map((id) => ({
    id,
    name: fullName(left.plan.people[id] as Person),
  }));
  return [{ ...left, people }, right];
}

export interface BesideRow {
  depth: number;
  sides: [StudentEntry | null, StudentEntry | null];
  differs: boolean;
}

/** The outline, and in its order what only a list of everything of a kind leads to. */
function reached({ page, plan, indexes }: ShownCourse): StudentEntry[] {
  const lines = studentOutline(page);
  const rank = new Map(outlineOrder(plan).map(({ item }, at) => [item.id, at]));
  const rankOf = ({ id }: StudentEntry) => rank.get(id) ?? 0;
  const known = new Set(lines.map(({ id }) => id));
  const listed = indexes.flatMap((kind) => studentIndex(page, kind) ?? []);
  for (const entry of listed.filter(({ id }) => !known.has(id) && known.add(id))) {
    const next = lines.findIndex((line) => rankOf(line) > rankOf(entry));
    lines.splice(next < 0 ? lines.length : next, 0, { ...entry, depth: 0 });
  }
  return lines;
}

/** The outlines of two look-throughs line by line, in the order of the outline; what only one shows stands alone. */
export function differencesOf([left, right]: [ShownCourse, ShownCourse]): { rows: BesideRow[]; differing: number } {
  const [a, b] = [reached(left), reached(right)];
  const ids = (entries: StudentEntry[]) => entries.map(({ id }) => id);
  const told = ({ visibility, needs, dates, title }: StudentEntry) => JSON.stringify([visibility, needs, dates, title]);
  let [i, j] = [0, 0];
  const rows = diffArrays(ids(a), ids(b)).flatMap(({ value, added, removed }) =>
    value.map((): BesideRow => {
      const one = added ? null : (a[i++] ?? null);
      const other = removed ? null : (b[j++] ?? null);
      const differs = one === null || other === null || told(one) !== told(other);
      return { depth: (one ?? other)?.depth ?? 0, sides: [one, other], differs };
    }),
  );
  return { rows, differing: rows.filter(({ differs }) => differs).length };
}

/** The change before the one that made what holds at t; where there is none, the moment before that one. */
function beforeLast(plan: Plan, progress: Progress, personId: string, t: number): number | null {
  const last = lastChange(plan, progress, personId, t);
  if (last === null) return null;
  return last < t ? last : (lastChange(plan, progress, personId, t - 1) ?? last - 60_000);
}
