import * as api from "../../../../api/gradebook.ts";
import { studentsAt } from "../../../../core/plan/lookup.ts";
import { reachAt } from "../../../../core/reach/reach.ts";
import { now } from "../../../../server/clock.ts";
import { keepRemark, markingRefused, remarkOn, workOf } from "../../../../server/course/marking.ts";
import { answering } from "../../../../server/http/answer.ts";
import { problem } from "../../../../server/http/problem.ts";
import { textOf } from "../../../../server/http/safe-html.ts";
import { studentProgress } from "../../../../server/store/progress.ts";
import { postsOf } from "../../../../server/student/posts-and-hand-ins.ts";

const gone = () => problem(404, "Not found", "There is no such column, student or group in this course.");

/** What a student handed in for an item, and what was written about it. */
export const GET = answering(api.readWork, async ({ query, locals }) => {
  const { courseId, plan, whole, scope } = locals.access;
  const [item, person] = [plan.items[query.item], query.person];
  if (!item || !studentsAt(plan, now()).includes(person)) return gone();
  const group = plan.groups[query.group];
  // What is said of a group is said of all in it.
  const isOwn = (groupId: string) => scope === null || scope.own.has(groupId);
  // A hand-in of the group counts whoever made it.
  const progress = await studentProgress(courseId, person, whole);
  const page = { reach: reachAt(whole, progress, now(), [person]), personId: person };
  // In a discussion what was written is the work.
  const itemIds = [item.id, ...item.combines.map(({ itemId }) => itemId)];
  const posts = item.kind === "discussion" ? await postsOf(courseId, itemIds) : [];
  const written = posts
    .filter((post) => post.personId === person)
    .map(({ id, at, body, isHtml, file }) => ({
      id,
      at,
      body: isHtml ? textOf(body) : body,
      link: null,
      file,
      by: null,
    }))
    .reverse();
  const [handedIn, own, shared] = await Promise.all([
    workOf(courseId, page, item.id),
    remarkOn(courseId, item.id, person),
    group && group.layerId === item.split?.layerId && isOwn(group.id) ? remarkOn(courseId, item.id, group.id) : null,
  ]);
  // A hand-in of a discussion is a mark in time alone.
  const shown = written.length > 0 ? written : handedIn;
  const handIns = scope ? shown.map((one) => ({ ...one, by: one.by && plan.people[one.by] ? one.by : null })) : shown;
  return { handIns, own, shared };
});

/** Keeps a comment and a private note about the work of a student or of a group. */
export const POST = answering(api.writeRemark, async ({ body, locals }) => {
  const { courseId, plan, scope } = locals.access;
  const refused = markingRefused(locals.access);
  if (refused) return refused;
  const { itemId, holderId, seen, comment, note } = body;
  const item = plan.items[itemId];
  const group = plan.groups[holderId];
  const holds = group
    ? group.layerId === item?.split?.layerId && (scope === null || scope.own.has(group.id))
    : studentsAt(plan, now()).includes(holderId);
  if (!item || !holds) return gone();
  const kept = await keepRemark(courseId, itemId, holderId, { comment, note }, seen, locals.account.id, now());
  if ("newer" in kept)
    return problem(
      409,
      "Written meanwhile",
      "Somebody else wrote about this work since you opened it. Theirs is shown above yours; keep yours again to replace it.",
      { code: "remark.newer", newer: kept.newer },
    );
  return remarkOn(courseId, itemId, holderId);
});
