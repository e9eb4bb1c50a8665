/** Which posts stand in which thread of a discussion, for one student. Source: semantics.md section 3, and section 4, split items. */

import type { Item, Plan } from "../plan/types.ts";
import { collect } from "../sets/collect.ts";
import { membershipsAt } from "../timing/resolving/resolve.ts";
import { threadOfCopy } from "./combined.ts";
import type { StudentItem } from "./student-page.ts";

interface Posted {
  /** The group whose thread it was written in; null where the item has one for all, or it was written in a copy. */
  groupId: string | null;
  /** Where it was written: the item, or a copy that became part of it. */
  placeId: string;
  personId: string;
  /** Epoch milliseconds. */
  at: number;
}

/** The group's thread in which a post stands; null for the one thread that all share. */
export const threadOf = (plan: Plan, item: Item, { groupId, placeId, personId, at }: Posted): string | null =>
  groupId ?? threadOfCopy(item, placeId, membershipsAt(plan, personId, at).groupIds);

export interface Thread<Post> {
  groupId: string | null;
  /** Null for the one thread that all share. */
  label: string | null;
  own: boolean;
  posts: Post[];
}

interface Reader {
  personId: string;
  /** The item as that student has it. */
  shown: StudentItem;
  /** Posts after that moment are not there yet, epoch milliseconds. */
  t: number;
}

/**
 * The threads that a student reads: one of all, or those of groups that the split lets them read. Who changed groups
 * keeps sight of what they wrote themselves, and of nothing else in the old thread.
 */
export function threadsFor<Post extends Posted>(
  plan: Plan,
  item: Item,
  posts: readonly Post[],
  { personId, shown, t }: Reader,
): Thread<Post>[] {
  const until = posts.filter(({ at }) => at <= t);
  if (shown.threads === null)
    return [{ groupId: null, label: null, own: true, posts: until.filter(({ groupId }) => groupId === null) }];
  const byGroup = collect(until, (post) => threadOf(plan, item, post));
  const here = shown.threads.map(({ group: { id, label }, own }) => ({
    groupId: id,
    label,
    own,
    posts: byGroup.get(id) ?? [],
  }));
  const readable = new Set(here.map(({ groupId }) => groupId));
  const earlier = until.filter((post) => post.personId === personId && !readable.has(threadOf(plan, item, post) ?? ""));
  return earlier.length > 0
    ? [...here, { groupId: null, label: "What you wrote before", own: false, posts: earlier }]
    : here;
}
