/** What the student's own pages and look-through render: one way to it, so that they cannot differ. */
import { compareText, fullName } from "../core/plan/lookup.ts";
import type { Plan } from "../core/plan/types.ts";
import {
  type IndexKind,
  indexKinds,
  type StudentEntry,
  type StudentItem,
  type StudentPage,
  studentDue,
  studentGroups,
  studentIndex,
  studentItem,
  studentOutline,
  studentPage,
} from "../core/reach/student-page.ts";
import { visitorPage } from "../core/reach/visitor.ts";
import { sayInstant } from "../core/timing/wall.ts";
import { now } from "./clock.ts";
import { draftedPlan } from "./drafts.ts";
import type { CourseSeat } from "./guard.ts";
import { handInsOf, type Post, postsOf, studentProgress } from "./progress.ts";

export { type ShownLayer, selfPlacementOf } from "../core/placement/self-placement.ts";

export interface Showing {
  page: StudentPage;
  plan: Plan;
  courseId: string;
  /** Where links of this view lead: the student's own pages, or the look-through of one. */
  base: string;
  /** Kept on every link of a look-through: its moment, and whether it shows the draft. */
  query: string;
  indexes: IndexKind[];
  look: { name: string; personId: string; drafted: boolean; says: string } | null;
}

const indexesOf = (plan: Plan) => indexKinds.filter((kind) => plan.course.indexes[kind]);

/** A signed-in student's own view, now. */
export async function ownView(seat: CourseSeat): Promise<Showing | null> {
  const { personId, role } = seat.membership;
  const page =
    role === "visitor"
      ? visitorPage(seat.plan, personId, now())
      : studentPage(seat.plan, await studentProgress(seat.courseId, personId), personId, now());
  return (
    page && {
      page,
      // A visitor's is the plan without what is not for them.
      plan: page.reach.plan,
      courseId: seat.courseId,
      base: `/course/${seat.courseId}`,
      query: "",
      indexes: indexesOf(seat.plan),
      look: null,
    }
  );
}

/** The same through the eyes of one student, at a moment, as published or as drafted. */
export async function lookView(
  seat: CourseSeat,
  accountId: string,
  personId: string,
  search: URLSearchParams,
): Promise<Showing | null> {
  const drafted = search.get("draft") === "1";
  const asked = Number(search.get("at") ?? Number.NaN);
  const t = Number.isFinite(asked) ? asked : now();
  const plan = drafted ? ((await draftedPlan(seat.courseId, accountId))?.plan ?? seat.plan) : seat.plan;
  const page = studentPage(plan, await studentProgress(seat.courseId, personId), personId, t);
  const person = plan.people[personId];
  if (!page || !person) return null;
  const kept = new URLSearchParams({
    ...(drafted ? { draft: "1" } : {}),
    ...(Number.isFinite(asked) ? { at: String(asked) } : {}),
  }).toString();
  return {
    page,
    plan,
    courseId: seat.courseId,
    base: `/look/${seat.courseId}/${personId}`,
    query: kept && `?${kept}`,
    indexes: indexesOf(plan),
    look: { name: fullName(person), personId, drafted, says: sayInstant(t, plan.course.timeZone) },
  };
}

export interface CoursePage {
  outline: StudentEntry[];
  due: StudentEntry[];
  groups: ReturnType<typeof studentGroups>;
}
export const coursePage = ({ page }: Showing): CoursePage => ({
  outline: studentOutline(page),
  due: studentDue(page),
  groups: studentGroups(page),
});

export function indexPage({ page }: Showing, kind: string): { kind: IndexKind; entries: StudentEntry[] } | null {
  const known = indexKinds.find((one) => one === kind);
  const entries = known ? studentIndex(page, known) : null;
  return known && entries ? { kind: known, entries: entries.sort((a, b) => compareText(a.title, b.title)) } : null;
}

export interface ItemPage {
  item: StudentItem;
  handIns: { id: string; at: string; body: string; late: boolean }[];
  /** One thread a group, or a single one without a group; null where the item has none. */
  threads:
    | {
        label: string | null;
        own: boolean;
        posts: { id: string; name: string; at: string; body: string }[];
      }[]
    | null;
}

export async function itemPage(view: Showing, itemId: string): Promise<ItemPage | null> {
  const { page, plan, courseId } = view;
  const item = studentItem(page, itemId);
  if (!item) return null;
  const say = (at: number) => sayInstant(at, plan.course.timeZone);
  const due = item.dates.find(({ field }) => field === "due")?.at ?? null;
  const handIns = item.kind === "assignment" ? await handInsOf(courseId, itemId, page.personId) : [];
  const posts = item.kind === "discussion" ? await postsOf(courseId, itemId) : [];
  const shown = (list: Post[]) =>
    list
      .filter(({ at }) => at <= page.reach.t)
      .map(({ id, personId, at, body }) => {
        const person = plan.people[personId];
        return {
          id,
          name: person ? `${person.givenName} ${person.familyName}` : "Somebody",
          at: say(at),
          body,
        };
      });
  const threads =
    item.kind !== "discussion"
      ? null
      : item.threads === null
        ? [
            {
              label: null,
              own: true,
              posts: shown(posts.filter(({ groupId }) => groupId === null)),
            },
          ]
        : item.threads.map(({ group, own }) => ({
            label: group.label,
            own,
            posts: shown(posts.filter(({ groupId }) => groupId === group.id)),
          }));
  return {
    item,
    handIns: handIns
      .filter(({ at }) => at <= page.reach.t)
      .map(({ id, at, body }) => ({ id, body, at: say(at), late: due !== null && at > due })),
    threads,
  };
}
