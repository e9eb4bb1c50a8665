/** A group's own page: as one of its members sees it, and as staff do. Source: semantics.md sections 4 and 9. */

import { sayInstant } from "../../core/clock/local-time.ts";
import { allowedOn } from "../../core/placement/groups/page.ts";
import { studentsOf } from "../../core/placement/membership.ts";
import { compareNames, fullName } from "../../core/plan/lookup.ts";
import { type Group, type Item, MemberPermission, type Person, type Plan } from "../../core/plan/types.ts";
import { groupView, itemsOfGroup } from "../../core/reach/group-page.ts";
import type { StudentEntry } from "../../core/reach/student-page.ts";
import { pronounsIn } from "../accounts/own.ts";
import { now } from "../clock.ts";
import { staffNameOf } from "../course/staff-threads.ts";
import type { CourseAccess } from "../http/guard.ts";
import { type ShownPost, showPost } from "../student/item-page.ts";
import { type Attached, type Post, postsOf } from "../student/posts-and-hand-ins.ts";
import { namesIn, type ShownCourse } from "../student/shown-course.ts";
import { type Entry, entriesOf, versionsOfEntries } from "./entries.ts";

export interface ShownEntry {
  id: string;
  title: string;
  body: string;
  name: string;
  at: string;
  /** "by whom, when"; null where it is as it was first written. */
  edited: string | null;
  mine: boolean;
  version: number;
  file: Attached | null;
  versions: { says: string; title: string; body: string }[];
}

export interface GroupPageShown {
  group: Pick<Group, "id" | "stripe" | "description"> & { name: string; isPrivate: boolean };
  layer: string;
  members: { id: string; name: string; isLead: boolean; isSelf: boolean }[] | null;
  items: (Pick<StudentEntry, "id" | "title" | "kind" | "visibility" | "needs"> & { due: string | null })[] | null;
  /** What the reader may do; in a look-through what the student may, which nobody does in their name. */
  may: ReadonlySet<MemberPermission>;
  /** Null where the page has none. */
  thread: ShownPost[] | null;
  notices: ShownEntry[];
  pages: ShownEntry[];
  begun: (ShownEntry & { posts: ShownPost[] })[];
  files: ShownEntry[] | null;
  /** Undefined where the page has none; null where nothing is written yet. */
  note: ShownEntry | null | undefined;
  meetingLink: ShownEntry | null;
}
type Kept = Pick<GroupPageShown, "thread" | "notices" | "pages" | "begun" | "files" | "note" | "meetingLink">;
const nothingKept: Kept = {
  thread: null,
  notices: [],
  pages: [],
  begun: [],
  files: null,
  note: undefined,
  meetingLink: null,
};

interface Reader {
  personId: string;
  nameOf(personId: string): string;
  /** What is later is not shown: a look-through may be at a moment past. */
  until: number;
}

/** What members keep on a page, as somebody reads it. */
async function keptOn(plan: Plan, group: Group, { personId, nameOf, until }: Reader): Promise<Kept> {
  const { page } = group;
  if (!page) return nothingKept;
  const courseId = plan.course.id;
  const entries = (await entriesOf(courseId, group.id)).filter(({ at }) => at <= until);
  const ofKind = (kind: Entry["kind"]) => entries.filter((entry) => entry.kind === kind);
  const versions = await versionsOfEntries(entries.flatMap(({ id, version }) => (version > 1 ? [id] : [])));
  const posts = await postsOf(courseId, [group.id, ...ofKind("thread").map(({ id }) => id)]);
  const say = (at: number) => sayInstant(at, plan.course.timeZone);
  const show = (entry: Entry): ShownEntry => ({
    id: entry.id,
    title: entry.title,
    body: entry.body,
    name: nameOf(entry.personId),
    at: say(entry.at),
    edited: entry.editedAt === null ? null : `${nameOf(entry.editedBy ?? entry.personId)}, ${say(entry.editedAt)}`,
    mine: entry.personId === personId,
    version: entry.version,
    file: entry.file,
    versions: versions
      .filter(({ entryId }) => entryId === entry.id)
      .map((one) => ({ says: `${nameOf(one.personId)}, ${say(one.at)}`, title: one.title, body: one.body })),
  });
  const shownPost = showPost(plan, nameOf, (id) => id === personId);
  const postsIn = (placeId: string) =>
    posts.filter((post: Post) => post.placeId === placeId && post.at <= until).map(shownPost);
  const [note] = ofKind("note");
  const [link] = ofKind("meeting link");
  return {
    thread: page.has.includes("thread") ? postsIn(group.id) : null,
    notices: ofKind("notice").map(show).reverse(),
    pages: ofKind("page").map(show),
    begun: ofKind("thread").map((entry) => ({ ...show(entry), posts: postsIn(entry.id) })),
    files: page.has.includes("files") ? ofKind("file").map(show) : null,
    note: page.has.includes("note") ? (note ? show(note) : null) : undefined,
    meetingLink: link ? show(link) : null,
  };
}

/** What staff may do on a page that has a place for it, whatever its members may. */
const staffs = new Set<MemberPermission>(["post", "note", "file", "notices"]);

/** The page as the student of a view sees it; null where there is none for them. */
export async function groupPage(showing: ShownCourse, groupId: string): Promise<GroupPageShown | null> {
  const view = groupView(showing.page, groupId);
  const group = showing.plan.groups[groupId];
  if (!view || !group) return null;
  const due = ({ dates }: StudentEntry) => dates.find(({ field }) => field === "due")?.says ?? null;
  const reader = {
    personId: showing.page.personId,
    nameOf: namesIn(showing),
    until: showing.page.reach.t,
  };
  return {
    group: { ...view.group, name: view.group.label, isPrivate: false },
    layer: view.layer,
    members: view.members?.map((one) => ({ ...one, name: namesIn(showing)(one.id) })) ?? null,
    items: view.items?.map((entry) => ({ ...entry, due: due(entry) })) ?? null,
    may: new Set(allowedOn(view.page)),
    ...(await keptOn(showing.plan, group, reader)),
  };
}

/**
 * The page as staff see it, under their own name for the group, with everybody of it who is theirs. What members keep on
 * it is there where all of the group is theirs; null where the group is not.
 */
export async function staffGroupPage(access: CourseAccess, groupId: string): Promise<GroupPageShown | null> {
  const { plan, scope, membership } = access;
  const group = plan.groups[groupId];
  const layer = plan.layers[group?.layerId ?? ""];
  if (!group || !layer) return null;
  const t = now();
  const isWhole = scope === null || scope.own.has(groupId);
  const members = studentsOf(plan, groupId, t)
    .map((id) => plan.people[id] as Person)
    .sort(compareNames)
    .map((one) => ({ id: one.id, name: fullName(one), isLead: group.leads.includes(one.id), isSelf: false }));
  const shown = ({ id, title, kind }: Item) => ({
    id,
    title,
    kind,
    visibility: "open" as const,
    needs: [],
    due: null,
  });
  const has = (one: MemberPermission) => group.page?.may.includes(one) ?? false;
  // Staff write wherever the page has a place for it, whatever its members may.
  const may: MemberPermission[] =
    isWhole && group.page ? allowedOn({ has: group.page.has, may: MemberPermission.options }) : [];
  return {
    group: {
      id: group.id,
      name: group.name,
      stripe: group.stripe,
      description: group.description,
      isPrivate: layer.private,
    },
    layer: layer.name,
    members,
    items: itemsOfGroup(plan, groupId).map(shown),
    // Staff change the name at Placement, and write to a group from there.
    may: new Set(may.filter((one) => one !== "rename" && one !== "write" && (staffs.has(one) || has(one)))),
    ...(isWhole
      ? await keptOn(plan, group, {
          personId: membership.personId,
          nameOf: staffNameOf(access, await pronounsIn(access.courseId)),
          until: t,
        })
      : nothingKept),
  };
}

/** Every file that stands on a page. */
export const filesOn = ({ thread, begun, files }: GroupPageShown): string[] =>
  [...(thread ?? []), ...begun.flatMap(({ posts }) => posts), ...(files ?? [])].flatMap(({ file }) => file?.id ?? []);
