/** A group's own page as one of its members sees it, and the items that are a group's. Source: semantics.md section 4. */

import { pageGroup } from "../placement/groups/page.ts";
import { studentsOf } from "../placement/membership.ts";
import { compareNames, foldersAbove, outlineOrder, plainName } from "../plan/lookup.ts";
import type { Group, GroupPage, Item, Person, Plan } from "../plan/types.ts";
import { type StudentEntry, type StudentPage, studentEntry } from "./student-page.ts";

export interface GroupView {
  group: Pick<Group, "id" | "label" | "stripe" | "description">;
  layer: string;
  page: GroupPage;
  /** Null where members do not learn who else is in it. */
  members: { id: string; name: string; isLead: boolean; isSelf: boolean }[] | null;
  /** Null where the page lists none. */
  items: StudentEntry[] | null;
}

/** What is for a group by name, by a set or by its folder, or split along its layer, in the order of the outline. */
export function itemsOfGroup(plan: Plan, groupId: string): Item[] {
  const layerId = plan.groups[groupId]?.layerId;
  const names = ({ audience, pageOf }: Item): boolean =>
    pageOf === groupId ||
    (audience.to !== "everyone" &&
      audience.to.some(
        ({ kind, id }) =>
          (kind === "group" && id === groupId) ||
          (kind === "set" && (plan.sets[id]?.groupIds.includes(groupId) ?? false)),
      ));
  return outlineOrder(plan)
    .map(({ item }) => item)
    .filter((item) => item.kind !== "folder")
    .filter((item) => item.split?.layerId === layerId || [item, ...foldersAbove(plan, item)].some(names));
}

/** The page of a group of a named layer, or null: to whom is no member it does not exist. */
export function groupView(page: StudentPage, groupId: string): GroupView | null {
  const { reach, personId, visits } = page;
  const { plan, t } = reach;
  const found = visits ? null : pageGroup(plan, personId, groupId, t);
  if (!found) return null;
  const { id, label, stripe, description, leads } = found;
  const members = studentsOf(plan, groupId, t)
    .map((memberId) => plan.people[memberId] as Person)
    .sort(compareNames)
    .map((person) => ({
      id: person.id,
      name: plainName(person),
      isLead: leads.includes(person.id),
      isSelf: person.id === personId,
    }));
  return {
    group: { id, label, stripe, description },
    layer: plan.layers[found.layerId]?.name ?? "",
    page: found.page,
    members: found.page.has.includes("members") ? members : null,
    items: found.page.has.includes("items")
      ? itemsOfGroup(plan, groupId).flatMap((item) => studentEntry(page, item) ?? [])
      : null,
  };
}
