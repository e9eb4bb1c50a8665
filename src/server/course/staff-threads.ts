/** The threads of a discussion as staff read and answer them, all that are theirs side by side. Source: semantics.md 4 and 9. */

import { sayInstant } from "../../core/clock/local-time.ts";
import { lookup, plainName } from "../../core/plan/lookup.ts";
import { noProgress } from "../../core/plan/progress.ts";
import type { Group, Item } from "../../core/plan/types.ts";
import { threadOfCopy } from "../../core/reach/combined.ts";
import { isForGroup } from "../../core/reach/for-groups.ts";
import { reachAt } from "../../core/reach/reach.ts";
import { membershipsAt } from "../../core/timing/resolving/resolve.ts";
import { type Pronouns, pronounsIn, withPronouns } from "../accounts/own.ts";
import { now } from "../clock.ts";
import type { CourseAccess } from "../http/guard.ts";
import { type ShownPost, showPost } from "../student/item-page.ts";
import { postsOf, versionsOf } from "../student/posts-and-hand-ins.ts";

export interface StaffThread {
  groupId: string | null;
  label: string | null;
  stripe: Group["stripe"] | null;
  own: true;
  posts: (ShownPost & { versions: { at: string; body: string }[] })[];
}

/**
 * All threads of a discussion, or of one group; null where it is none, or not theirs to read. Within a scope a thread is
 * theirs where all of the group is; the one thread of a discussion that is not split is the coordinator's.
 */
export async function staffThreads(
  access: CourseAccess,
  itemId: string,
): Promise<{ item: Item; threads: StaffThread[] } | null> {
  const { plan, whole, scope, courseId, membership } = access;
  const item = plan.items[itemId];
  if (item?.kind !== "discussion") return null;
  const row = whole.items[itemId] as Item;
  const posts = await postsOf(courseId, [itemId, ...row.combines.map((one) => one.itemId)]);
  const versions = await versionsOf(posts.flatMap(({ id, editedAt }) => (editedAt === null ? [] : [id])));
  const say = (at: number) => sayInstant(at, plan.course.timeZone);
  const nameOf = staffNameOf(access, await pronounsIn(access.courseId));
  const show = showPost(plan, nameOf, (personId) => personId === membership.personId);
  const shown = (list: typeof posts): StaffThread["posts"] =>
    list.map((post) => ({
      ...show(post),
      versions: [
        ...versions.filter(({ postId }) => postId === post.id),
        // What was deleted is kept for staff.
        ...(post.deletedAt === null ? [] : [{ at: post.editedAt ?? post.at, body: post.body }]),
      ].map((one) => ({ at: say(one.at), body: one.body.replace(/<[^>]*>/g, " ") })),
    }));
  if (!item.split) {
    if (scope !== null) return null;
    const all = posts.filter(({ groupId }) => groupId === null);
    return { item, threads: [{ groupId: null, label: null, stripe: null, own: true, posts: shown(all) }] };
  }
  const groups = (lookup(plan).groupsOfLayer.get(item.split.layerId) ?? []).filter(
    ({ id }) => scope === null || scope.own.has(id),
  );
  const threadOf = (post: (typeof posts)[number]) =>
    post.groupId ?? threadOfCopy(row, post.placeId, membershipsAt(whole, post.personId, post.at).groupIds);
  // Of a group that the item is not for there is nothing to read, unless somebody wrote there before.
  const reach = reachAt(whole, noProgress, now());
  const written = new Set(posts.map(threadOf));
  const isTheirs = (groupId: string) => written.has(groupId) || isForGroup(reach, row, groupId);
  return {
    item,
    threads: groups
      .filter(({ id }) => isTheirs(id))
      .map(({ id, name, stripe }) => ({
        groupId: id,
        label: name,
        stripe,
        own: true,
        posts: shown(posts.filter((post) => threadOf(post) === id)),
      })),
  };
}

/** Names within a scope. */
export const staffNameOf =
  (access: CourseAccess, pronouns: Pronouns) =>
  (personId: string): string => {
    const person = access.plan.people[personId] ?? colleague(access, personId);
    return person ? withPronouns(plainName(person), pronouns.get(personId)) : "Somebody";
  };

/** Staff who answered are named to their colleagues, whatever the scope; nobody else outside it is. */
function colleague({ whole }: CourseAccess, personId: string) {
  const isStaff = (lookup(whole).enrolmentsOfPerson.get(personId) ?? []).some(
    ({ role }) => role !== "student" && role !== "visitor",
  );
  return isStaff ? whole.people[personId] : undefined;
}
