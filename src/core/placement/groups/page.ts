/** A group's own page: what stands on it, what members may do, and what they do. Source: semantics.md sections 3, 4 and 8. */
import { z } from "zod";
import { Title } from "../../plan/basics.ts";
import { defineCommand, derivedId, put, type Refusal, refuse } from "../../plan/command.ts";
import { compareText, holdsAt, lookup } from "../../plan/lookup.ts";
import { type Group, GroupPage, Id, type MemberPermission, type Plan } from "../../plan/types.ts";

/** The id of the folder that a command makes as the page of a group. */
export const pageId = (commandId: string, groupId: string): string => derivedId(commandId, "page", groupId);

/** A page with all that a team needs, and nothing that only some coordinators want. */
export const usualPage: GroupPage = {
  has: ["members", "items", "thread", "files", "note"],
  may: ["post", "note", "file", "notices", "threads"],
};

/** Whether two members meet on a page: by name, or by what they put there. A list of items alone shows nobody. */
export const isMeeting = ({ has, may }: GroupPage): boolean =>
  has.some((part) => part !== "items") || may.some((doing) => doing !== "rename");

export const privatePage = () =>
  refuse("page.private", "Students never see a private layer, so its groups have no page for them.");

/** The group with its page, where somebody is a member of it at t; null otherwise. */
export function pageGroup(
  plan: Plan,
  personId: string,
  groupId: string,
  t: number,
): (Group & { page: GroupPage }) | null {
  const group = plan.groups[groupId];
  const layer = plan.layers[group?.layerId ?? ""];
  if (!group?.page || !layer || layer.private || layer.archivedAt !== null || group.archivedAt !== null) return null;
  const isMember = (lookup(plan).placementsOfPerson.get(personId) ?? []).some(
    (row) => row.groupId === groupId && holdsAt(row, t),
  );
  return isMember ? { ...group, page: group.page } : null;
}

/** A member gives the group another student-facing label, where they may. */
export function renameByMember(
  plan: Plan,
  personId: string,
  groupId: string,
  label: string,
  t: number,
): Plan | Refusal {
  const group = pageGroup(plan, personId, groupId, t);
  if (!group?.page.may.includes("rename")) return refuse("page.gone", "Its members cannot rename this group.");
  const wanted = Title.safeParse(label);
  if (!wanted.success || wanted.data.length > 60)
    return refuse("page.label", "A name has from one to sixty characters. Nothing was changed.");
  const row = plan.groups[groupId] as Group;
  if (row.label === wanted.data) return plan;
  const siblings = lookup(plan).groupsOfLayer.get(group.layerId) ?? [];
  if (siblings.some((other) => other.id !== groupId && compareText(other.label, wanted.data) === 0))
    return refuse("page.twin", `Another group is called ${wanted.data} already. Choose another name.`);
  return put(plan, "groups", [{ ...row, label: wanted.data }]);
}

export const groupPageCommands = [
  defineCommand(
    "group.page",
    { groupIds: z.array(Id).min(1).max(5000), page: GroupPage.nullable() },
    {
      apply(plan, { groupIds, page }) {
        const groups = groupIds.flatMap((id) => plan.groups[id] ?? []);
        if (groups.length < groupIds.length) return refuse("group.gone", "The group is no longer there.");
        if (page && groups.some(({ layerId }) => plan.layers[layerId]?.private)) return privatePage();
        return put(
          plan,
          "groups",
          groups.map((group) => ({ ...group, page })),
        );
      },
      describe: (plan, { groupIds, page }) => {
        const whose =
          groupIds.length === 1
            ? (plan.groups[groupIds[0] ?? ""]?.name ?? "a removed group")
            : `${groupIds.length} groups`;
        return page ? `The page of ${whose}: ${sayParts(page)}` : `No page for ${whose}`;
      },
    },
  ),
] as const;

const partWords: Record<GroupPage["has"][number], string> = {
  members: "who is in it",
  items: "its items",
  thread: "a thread",
  files: "shared files",
  note: "a note",
};
/** What a member may do only where the page has what it is done in. */
const needsPart: Partial<Record<MemberPermission, GroupPage["has"][number]>> = {
  post: "thread",
  note: "note",
  file: "files",
};
/** What members of a page may do there: what is allowed, and has its place on the page. */
export const allowedOn = ({ has, may }: GroupPage): MemberPermission[] =>
  may.filter((doing) => {
    const part = needsPart[doing];
    return part === undefined || has.includes(part);
  });

const doingWords: Record<MemberPermission, string> = {
  post: "write in its thread",
  note: "write the note",
  file: "share files",
  rename: "rename it",
  notices: "post notices",
  pages: "write pages",
  threads: "begin threads",
  write: "write to one another",
  "meeting link": "keep a meeting link",
};
export const sayPart = (part: GroupPage["has"][number]): string => partWords[part];
export const sayDoing = (doing: MemberPermission): string => doingWords[doing];

/** "who is in it, a thread; members may post notices". */
export function sayParts({ has, may }: GroupPage): string {
  const shows = has.length === 0 ? "nothing" : has.map(sayPart).join(", ");
  return `${shows}; members ${may.length === 0 ? "only read" : `may ${may.map(sayDoing).join(", ")}`}`;
}
