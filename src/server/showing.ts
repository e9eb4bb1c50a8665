/** What the student's own pages and look-through render: one way to it, so that they cannot differ. */
import { commentHolders, type StudentMarks, studentMarks } from "../core/gradebook/student-marks.ts";
import { compareText, fullName, studentsAt } from "../core/plan/lookup.ts";
import type { Progress } from "../core/plan/progress.ts";
import { type Item, type Person, type Plan, Wall } from "../core/plan/types.ts";
import { lastChange, nextChange } from "../core/reach/changes.ts";
import { threadOfCopy } from "../core/reach/combined.ts";
import {
  type IndexKind,
  indexKinds,
  type StudentEntry,
  type StudentItem,
  type StudentPage,
  studentClassList,
  studentDue,
  studentGroups,
  studentIndex,
  studentItem,
  studentOutline,
  studentPage,
  studentSearch,
} from "../core/reach/student-page.ts";
import { visitorPage } from "../core/reach/visitor.ts";
import { membershipsAt } from "../core/timing/resolving/resolve.ts";
import { instantOf, sayInstant } from "../core/timing/wall.ts";
import { now } from "./clock.ts";
import { draftedPlan } from "./drafts.ts";
import type { CourseSeat } from "./guard.ts";
import { commentsFor, workOf } from "./marking.ts";
import { type Post, postsOf, studentProgress } from "./progress.ts";

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
  look: Look | null;
  /** Whom one can look through beside: only where two are shown side by side. */
  people?: { id: string; name: string }[];
}

/** Whose eyes, at which moment, and where the moments before and after lie at which their reach changes. */
export interface Look {
  name: string;
  personId: string;
  drafted: boolean;
  says: string;
  t: number;
  next: { at: number; says: string } | null;
  last: { at: number; says: string } | null;
}

const indexesOf = (plan: Plan) => indexKinds.filter((kind) => plan.course.indexes[kind]);

/** A signed-in student's own view, now. */
export async function ownView(seat: CourseSeat): Promise<Showing | null> {
  const { personId, role } = seat.membership;
  const page =
    role === "visitor"
      ? visitorPage(seat.plan, personId, now())
      : studentPage(seat.plan, await studentProgress(seat.courseId, personId, seat.plan), personId, now());
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

/** The moment a look-through asks for: epoch milliseconds in `at`, or a wall-clock time in `wall`; null for now. */
function askedMoment(search: URLSearchParams, timeZone: string): number | null {
  const wall = Wall.safeParse(search.get("wall"));
  if (wall.success) return instantOf(wall.data, timeZone);
  const at = Number(search.get("at") ?? Number.NaN);
  return Number.isFinite(at) ? at : null;
}

/** The same through the eyes of one student, at a moment, as published or as drafted. */
export async function lookView(
  seat: CourseSeat,
  accountId: string,
  personId: string,
  search: URLSearchParams,
): Promise<Showing | null> {
  const drafted = search.get("draft") === "1";
  const plan = drafted ? ((await draftedPlan(seat.courseId, accountId))?.plan ?? seat.plan) : seat.plan;
  const asked = askedMoment(search, plan.course.timeZone);
  const t = asked ?? now();
  const progress = await studentProgress(seat.courseId, personId, plan);
  const page = studentPage(plan, progress, personId, t);
  const person = plan.people[personId];
  if (!page || !person) return null;
  const say = (at: number) => sayInstant(at, plan.course.timeZone);
  const moment = (at: number | null) => (at === null ? null : { at, says: say(at) });
  const kept = new URLSearchParams({
    ...(drafted ? { draft: "1" } : {}),
    ...(asked === null ? {} : { at: String(asked) }),
  }).toString();
  return {
    page,
    plan,
    courseId: seat.courseId,
    base: `/look/${seat.courseId}/${personId}`,
    query: kept && `?${kept}`,
    indexes: indexesOf(plan),
    look: {
      name: fullName(person),
      personId,
      drafted,
      t,
      says: say(t) as string,
      next: moment(nextChange(plan, progress, personId, t)),
      // To stand before the last change one must go to where it had not happened yet.
      last: moment(beforeLast(plan, progress, personId, t)),
    },
  };
}

/** Two look-throughs: `a` at `at` (or `aw`, a wall-clock time) and `b` at `bt` (or `bw`); null where one is no student. */
export async function besideViews(
  seat: CourseSeat,
  accountId: string,
  search: URLSearchParams,
): Promise<[Showing, Showing] | null> {
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
    return lookView(seat, accountId, search.get(person) ?? "", asked);
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

/** The outlines of two look-throughs line by line, in the order of the outline; what only one shows stands alone. */
export function differencesOf([left, right]: [Showing, Showing]): { rows: BesideRow[]; differing: number } {
  const [a, b] = [studentOutline(left.page), studentOutline(right.page)];
  const rows: BesideRow[] = [];
  const told = (entry: StudentEntry) => JSON.stringify([entry.standing, entry.needs, entry.dates, entry.title]);
  let [i, j] = [0, 0];
  while (i < a.length || j < b.length) {
    const [one, other] = [a[i] ?? null, b[j] ?? null];
    // Where both go on with different lines, the one that the other side shows further on waits for it.
    const same = one !== null && other !== null && one.id === other.id;
    const waits = !same && one !== null && b.slice(j).some(({ id }) => id === one.id);
    const takeLeft = same || (one !== null && !waits);
    const takeRight = same || !takeLeft;
    const sides: BesideRow["sides"] = [takeLeft ? one : null, takeRight ? other : null];
    if (takeLeft) i++;
    if (takeRight) j++;
    const [l, r] = sides;
    rows.push({ depth: (l ?? r)?.depth ?? 0, sides, differs: !l || !r || told(l) !== told(r) });
  }
  return { rows, differing: rows.filter(({ differs }) => differs).length };
}

/** The change before the one that made what holds at t; where there is none, the moment before that one. */
function beforeLast(plan: Plan, progress: Progress, personId: string, t: number): number | null {
  const last = lastChange(plan, progress, personId, t);
  if (last === null) return null;
  return last < t ? last : (lastChange(plan, progress, personId, t - 1) ?? last - 60_000);
}

/** Names as the student may see them; null where there is no class list for them. */
export const classListPage = ({ page, plan }: Showing): string[] | null =>
  studentClassList(page)?.map((id) => {
    const person = plan.people[id];
    return person ? fullName(person) : "";
  }) ?? null;

export const searchPage = ({ page }: Showing, words: string): StudentEntry[] => studentSearch(page, words);

/** The file of an item, if the student sees the item. */
export const fileIdOf = ({ page }: Showing, itemId: string): string | null =>
  studentItem(page, itemId)?.file?.id ?? null;

export interface CoursePage {
  outline: StudentEntry[];
  due: StudentEntry[];
  groups: ReturnType<typeof studentGroups>;
  /** Whether there is a class list to go to. */
  hasClassList: boolean;
}
export const coursePage = ({ page }: Showing): CoursePage => ({
  hasClassList: studentClassList(page) !== null,
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
  /** `by`: who handed it in for the group. */
  handIns: { id: string; at: string; body: string; late: boolean; by: string | null }[];
  /** What markers wrote, for the student or for their group. */
  comments: Comment[];
  /** One thread a group, or a single one without a group; null where the item has none. */
  threads:
    | {
        groupId: string | null;
        label: string | null;
        own: boolean;
        posts: { id: string; name: string; at: string; body: string }[];
      }[]
    | null;
}

export interface Comment {
  itemId: string;
  text: string;
  /** The label of the group that it was written to; null where it is the student's own. */
  group: string | null;
}

/** Comments that a student reads on some items; a look at the past holds none that a later one would not. */
async function commentsOn({ page, plan, courseId }: Showing, items: Item[]): Promise<Comment[]> {
  const holders = new Map(items.map((item) => [item.id, commentHolders(page, item)]));
  const found = await commentsFor(courseId, [...new Set([...holders.values()].flat())]);
  return found
    .filter(({ itemId, holderId }) => holders.get(itemId)?.includes(holderId))
    .map(({ itemId, holderId, comment }) => ({
      itemId,
      text: comment,
      group: holderId === page.personId ? null : (plan.groups[holderId]?.label ?? null),
    }));
}

/** A student's marks with their total, and what was written about them. */
export async function marksPage(view: Showing): Promise<StudentMarks & { comments: Comment[] }> {
  const found = studentMarks(view.page);
  const items = found.marks.flatMap(({ itemId }) => view.plan.items[itemId] ?? []);
  return { ...found, comments: items.length === 0 ? [] : await commentsOn(view, items) };
}

export async function itemPage(view: Showing, itemId: string): Promise<ItemPage | null> {
  const { page, plan, courseId } = view;
  const item = studentItem(page, itemId);
  if (!item) return null;
  const say = (at: number) => sayInstant(at, plan.course.timeZone);
  const due = item.dates.find(({ field }) => field === "due")?.at ?? null;
  const row = plan.items[itemId] as Item;
  // What was done in copies that became part of this item was done in it.
  const itemIds = [...new Set([itemId, ...row.combines.map((one) => one.itemId)])];
  const handIns = item.kind === "assignment" ? await workOf(courseId, page, itemId) : [];
  const posts = item.kind === "discussion" ? await postsOf(courseId, itemIds) : [];
  const threadOf = (post: Post): string | null =>
    post.groupId ?? threadOfCopy(row, post.itemId, membershipsAt(plan, post.personId, post.at).groupIds);
  const nameOf = (personId: string) => {
    const person = plan.people[personId];
    return person ? `${person.givenName} ${person.familyName}` : "Somebody";
  };
  const shown = (list: Post[]) =>
    list
      .filter(({ at }) => at <= page.reach.t)
      .map(({ id, personId, at, body }) => ({ id, name: nameOf(personId), at: say(at), body }));
  const threads: ItemPage["threads"] =
    item.kind !== "discussion"
      ? null
      : item.threads === null
        ? [
            {
              groupId: null,
              label: null,
              own: true,
              posts: shown(posts.filter(({ groupId }) => groupId === null)),
            },
          ]
        : item.threads.map(({ group, own }) => ({
            groupId: group.id,
            label: group.label,
            own,
            posts: shown(posts.filter((post) => threadOf(post) === group.id)),
          }));
  // Who changed groups keeps sight of what they wrote themselves, and of nothing else in the old thread. Section 3.
  if (threads && item.threads) {
    const here = new Set(item.threads.map(({ group }) => group.id));
    const earlier = posts.filter((post) => post.personId === page.personId && !here.has(threadOf(post) ?? ""));
    if (earlier.length > 0)
      threads.push({ groupId: null, label: "What you wrote before", own: false, posts: shown(earlier) });
  }
  return {
    item,
    handIns: handIns
      .filter(({ at }) => at <= page.reach.t)
      .map(({ id, at, body, by }) => ({ id, body, at: say(at), late: due !== null && at > due, by: by && nameOf(by) })),
    comments: await commentsOn(view, [row]),
    threads,
  };
}
