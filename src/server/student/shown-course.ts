/** What the student's own pages render; look-through renders the same, so that they cannot differ. */
import type { Scope } from "../../core/access/scope.ts";
import { compareText, plainName } from "../../core/plan/lookup.ts";
import type { Plan } from "../../core/plan/types.ts";
import {
  hasClassList,
  type IndexKind,
  indexKinds,
  type StudentEntry,
  type StudentPage,
  studentClassList,
  studentDue,
  studentGroups,
  studentIndex,
  studentItem,
  studentOutline,
  studentPage,
  studentSearch,
} from "../../core/reach/student-page.ts";
import { visitorPage } from "../../core/reach/visitor.ts";
import { type Pronouns, pronounsIn, withPronouns } from "../accounts/own.ts";
import { now } from "../clock.ts";
import { unreadNotices } from "../course/messages.ts";
import type { CourseAccess } from "../http/guard.ts";
import { studentProgress } from "../store/progress.ts";

export { type ShownLayer, selfPlacementOf } from "../../core/placement/self-placement.ts";

export interface ShownCourse {
  page: StudentPage;
  plan: Plan;
  courseId: string;
  /** Where links of this view lead: the student's own pages, or the look-through of one. */
  base: string;
  /** Kept on every link of a look-through: its moment, and whether it shows the draft. */
  query: string;
  indexes: IndexKind[];
  /** How people of the course like to be spoken of. */
  pronouns: Pronouns;
  /** How many notices they have not read; 0 in a look-through. */
  unread: number;
  look: Look | null;
  /** What an instructor or support person who looks through somebody's eyes was given; null where all is shown. */
  scope: Scope | null;
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
  /** The group or section through whose students one steps; null where one student is looked through. */
  among: { name: string; place: number; of: number; before: string | null; after: string | null } | null;
}

/** The course-wide indexes that a course has switched on. */
export const indexesOf = (plan: Plan) => indexKinds.filter((kind) => plan.course.indexes[kind]);

/** What a signed-in student reaches, now: no more than decides what they may do. */
export async function ownReach(access: CourseAccess): Promise<Pick<ShownCourse, "page" | "plan" | "courseId"> | null> {
  const { personId, role } = access.membership;
  const page =
    role === "visitor"
      ? visitorPage(access.plan, personId, now())
      : studentPage(access.plan, await studentProgress(access.courseId, personId, access.plan), personId, now());
  // A visitor's is the plan without what is not for them.
  return page && { page, plan: page.reach.plan, courseId: access.courseId };
}

/** A signed-in student's own view, now. */
export async function ownView(access: CourseAccess): Promise<ShownCourse | null> {
  const { personId } = access.membership;
  const own = await ownReach(access);
  return (
    own && {
      ...own,
      base: `/course/${access.courseId}`,
      query: "",
      indexes: indexesOf(access.plan),
      unread: await unreadNotices(access.courseId, personId),
      pronouns: await pronounsIn(access.courseId),
      look: null,
      scope: null,
    }
  );
}

/** Somebody's name as students read it, with what they say of themselves. */
export const namesIn =
  ({ plan, pronouns }: Pick<ShownCourse, "plan" | "pronouns">) =>
  (personId: string): string => {
    const person = plan.people[personId];
    return person ? withPronouns(plainName(person), pronouns.get(personId)) : "Somebody";
  };

/** Names as the student may see them; null where there is no class list for them. */
export const classListPage = (view: ShownCourse): string[] | null =>
  studentClassList(view.page)?.map(namesIn(view)) ?? null;

export const searchPage = ({ page }: ShownCourse, words: string): StudentEntry[] => studentSearch(page, words);

/** The file of an item, if the student sees the item. */
export const fileIdOf = ({ page }: ShownCourse, itemId: string): string | null =>
  studentItem(page, itemId)?.file?.id ?? null;

export interface CoursePage {
  outline: StudentEntry[];
  due: StudentEntry[];
  /** What is announced: what it needs, and what opens by the clock first. */
  next: StudentEntry[];
  groups: ReturnType<typeof studentGroups>;
  /** Whether there is a class list to go to. */
  hasClassList: boolean;
}
export function coursePage({ page, scope }: ShownCourse): CoursePage {
  const outline = studentOutline(page);
  const opens = ({ dates }: StudentEntry) => dates.find(({ field }) => field === "opens")?.at ?? null;
  const waits = (entry: StudentEntry) => {
    const at = opens(entry);
    return at !== null && at > page.reach.t ? at : Number.POSITIVE_INFINITY;
  };
  return {
    // Within a scope names of others are nobody's to read.
    hasClassList: scope === null && hasClassList(page),
    outline,
    due: studentDue(page),
    next: outline
      .filter(({ visibility }) => visibility === "announced")
      .sort((a, b) => (waits(a) === waits(b) ? 0 : waits(a) - waits(b))),
    groups: studentGroups(page),
  };
}

export function indexPage({ page }: ShownCourse, kind: string): { kind: IndexKind; entries: StudentEntry[] } | null {
  const known = indexKinds.find((one) => one === kind);
  const entries = known ? studentIndex(page, known) : null;
  const dueOf = ({ dates }: StudentEntry) => dates.find(({ field }) => field === "due")?.at ?? Number.POSITIVE_INFINITY;
  const byTitle = (a: StudentEntry, b: StudentEntry) => compareText(a.title, b.title);
  // Work stands by when it is due: what is due first is done first.
  const byDue = (a: StudentEntry, b: StudentEntry) => (dueOf(a) === dueOf(b) ? byTitle(a, b) : dueOf(a) - dueOf(b));
  return known && entries ? { kind: known, entries: entries.sort(known === "work" ? byDue : byTitle) } : null;
}

/** Titles of those of some items that the student may open, by id. */
export const itemTitles = ({ page }: ShownCourse, itemIds: string[]): Map<string, string> =>
  new Map(
    itemIds.flatMap((id) => {
      const item = studentItem(page, id);
      return item ? [[id, item.title] as const] : [];
    }),
  );

/** Where a group's page is for whoever looks; null where it is not theirs. Within a scope it is the staff's own page. */
export function groupAddress({ scope, courseId, base, query }: ShownCourse, groupId: string): string | null {
  if (scope === null) return `${base}/group/${groupId}${query}`;
  return scope.own.has(groupId) ? `/group/${courseId}/${groupId}` : null;
}
