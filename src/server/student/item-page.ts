/** An item's page and the marks page as the student sees them: their work, threads, and what was written to them. */

import { sayInstant } from "../../core/clock/local-time.ts";
import { commentHolders, type StudentMarks, studentMarks } from "../../core/gradebook/student-marks.ts";
import { lookup } from "../../core/plan/lookup.ts";
import type { Item, Plan } from "../../core/plan/types.ts";
import { groupsThen, isGroupWork } from "../../core/reach/group-work.ts";
import { type StudentItem, studentItem } from "../../core/reach/student-page.ts";
import { type Thread, threadsFor } from "../../core/reach/threads.ts";
import { type AttemptsShown, attemptsShown } from "../attempts/showing.ts";
import { commentsFor, workOf } from "../course/marking.ts";
import { type Attached, handInsOf, type Post, postsOf, type WorkContent } from "./posts-and-hand-ins.ts";
import { namesIn, type ShownCourse } from "./shown-course.ts";

export interface ItemPage {
  item: StudentItem;
  /** Without those that are attempts: an assignment may be given minutes later. `by`: who handed it in for the group. */
  handIns: ({ id: string; at: string; late: boolean; by: string | null } & WorkContent)[];
  /** What other groups handed in, where that may be read. */
  others: ({ label: string; at: string } & WorkContent)[];
  /** What markers wrote, for the student or for their group. */
  comments: Comment[];
  /** How it is worked on in attempts; null where it is not. */
  attempts: AttemptsShown | null;
  /** One thread a group, or a single one without a group; null where the item has none. */
  threads: ShownThread[] | null;
}

/** `withheld`: somebody looks through a student's eyes within a scope that the thread is not in. */
export type ShownThread = Thread<ShownPost> & { withheld?: boolean };

export interface ShownPost {
  id: string;
  name: string;
  at: string;
  body: string;
  isHtml: boolean;
  /** Whether it is the reader's own, which they may edit, delete and put back. */
  mine: boolean;
  edited: string | null;
  parentId: string | null;
  /** Whether its writer deleted it: it says nothing any more, and holds the place of what answers it. */
  deleted: boolean;
  file: Attached | null;
}

/** Posts as they are read by somebody. */
export const showPost =
  (plan: Plan, nameOf: (personId: string) => string, isMine: (personId: string) => boolean) =>
  ({ id, personId, at, body, isHtml, editedAt, deletedAt, parentId, file }: Post): ShownPost => {
    const deleted = deletedAt !== null;
    return {
      id,
      name: nameOf(personId),
      at: sayInstant(at, plan.course.timeZone),
      body: deleted ? "" : body,
      isHtml,
      mine: isMine(personId),
      edited: editedAt === null || deleted ? null : sayInstant(editedAt, plan.course.timeZone),
      parentId,
      deleted,
      file: deleted ? null : file,
    };
  };

/** What the other groups handed in last, where the split lets it be read. Source: semantics.md section 4, split items. */
async function othersWork(
  { page, plan, courseId }: ShownCourse,
  item: Item,
  itemIds: string[],
): Promise<ItemPage["others"]> {
  if (!isGroupWork(item) || !item.split || item.split.between === "sealed") return [];
  const { layerId } = item.split;
  const mine = page.reach.memberships(page.index).groupIds;
  const groups = lookup(plan).groupsOfLayer.get(layerId) ?? [];
  if (!groups.some(({ id }) => mine.has(id))) return [];
  const latest = new Map<string, { at: number } & WorkContent>();
  for (const row of await handInsOf(courseId, itemIds))
    if (row.at <= page.reach.t)
      for (const groupId of groupsThen(plan, layerId, row.personId, row.at)) latest.set(groupId, row);
  return groups.flatMap(({ id, label }) => {
    const found = mine.has(id) ? undefined : latest.get(id);
    if (!found) return [];
    const { at, body, link, file } = found;
    return [{ label, at: sayInstant(at, plan.course.timeZone), body, link, file }];
  });
}

export interface Comment {
  itemId: string;
  text: string;
  /** The label of the group that it was written to; null where it is the student's own. */
  group: string | null;
}

/** Comments that a student reads on some items; a look at the past holds none that a later one would not. */
async function commentsOn({ page, plan, courseId }: ShownCourse, items: Item[]): Promise<Comment[]> {
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
export async function marksPage(view: ShownCourse): Promise<StudentMarks & { comments: Comment[] }> {
  const found = studentMarks(view.page);
  const items = found.marks.flatMap(({ itemId }) => view.plan.items[itemId] ?? []);
  return { ...found, comments: items.length === 0 ? [] : await commentsOn(view, items) };
}

/** Whether whoever looks may read a thread: within a scope those of the groups that are theirs. Section 9. */
const isWithin = ({ scope }: ShownCourse, groupId: string | null): boolean =>
  scope === null || (groupId !== null && scope.own.has(groupId));

export async function itemPage(view: ShownCourse, itemId: string): Promise<ItemPage | null> {
  const { page, plan, courseId } = view;
  const found = studentItem(page, itemId);
  if (!found) return null;
  const attempts = await attemptsShown(view, itemId);
  // What is worked on in attempts is handed in there alone.
  const item = attempts ? { ...found, handIn: null } : found;
  const say = (at: number) => sayInstant(at, plan.course.timeZone);
  const due = item.dates.find(({ field }) => field === "due")?.at ?? null;
  const row = plan.items[itemId] as Item;
  // What was done in copies that became part of this item was done in it.
  const itemIds = [...new Set([itemId, ...row.combines.map((one) => one.itemId)])];
  const handIns = item.kind === "assignment" ? await workOf(courseId, page, itemId) : [];
  const posts = item.kind === "discussion" ? await postsOf(courseId, itemIds) : [];
  const nameOf = namesIn(view);
  const show = showPost(plan, nameOf, (personId) => personId === page.personId && !page.visits);
  const reader = { personId: page.personId, shown: item, t: page.reach.t };
  const threads =
    item.kind === "discussion"
      ? threadsFor(plan, row, posts, reader).map((one) => {
          const withheld = !isWithin(view, one.groupId);
          return { ...one, posts: withheld ? [] : one.posts.map(show), withheld };
        })
      : null;
  return {
    item,
    handIns: handIns
      .filter(({ at, id }) => at <= page.reach.t && !attempts?.handInIds.includes(id))
      .map(({ at, by, ...work }) => ({ ...work, at: say(at), late: due !== null && at > due, by: by && nameOf(by) })),
    others: view.scope === null ? await othersWork(view, row, itemIds) : [],
    comments: await commentsOn(view, [row]),
    attempts,
    threads,
  };
}
