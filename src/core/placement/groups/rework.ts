/** Merging, splitting and copying groups and layers, whose people and aims go with them. Source: semantics.md section 3. */

import { derivedId, put, type Refusal, refuse } from "../../plan/command.ts";
import { compareText, lookup } from "../../plan/lookup.ts";
import type { Group, Layer, Placement, PlacementRule, Plan } from "../../plan/types.ts";
import { plural } from "../../text/plural.ts";
import { end } from "../commands.ts";
import { placementsIn, studentsOf } from "../membership.ts";
import { nextStripe } from "../stripes.ts";
import { retargetGroups } from "./group-references.ts";

export const groupIsGone = () => refuse("group.gone", "A group is no longer there. Choose again.");
/** A group that was not put away; null where there is none. */
export const liveGroup = (plan: Plan, groupId: string): Group | null => {
  const group = plan.groups[groupId];
  return group && group.archivedAt === null ? group : null;
};

/** Whether a group that students see was formed of a group that they do not. */
export const isSecretScope = (plan: Plan, { layerId, scopeGroupId }: Group): boolean =>
  Boolean(plan.layers[plan.groups[scopeGroupId ?? ""]?.layerId ?? ""]?.private && !plan.layers[layerId]?.private);

/** A group's new name; a label that was its name goes with it, unless the name may hold that of a private group. */
export const renamed = (plan: Plan, group: Group, name: string): Pick<Group, "name" | "label"> => ({
  name,
  label: group.label === group.name && !isSecretScope(plan, group) ? name : group.label,
});

/** Two groups of a layer that would bear one name, if there are any. */
export function refuseTwins(groups: Pick<Group, "name">[]): Refusal | null {
  const taken = new Set<string>();
  for (const { name: own } of groups) {
    const folded = own.trim().toLowerCase();
    if (folded === "") return refuse("group.unnamed", "A group would be left without a name. Give it one.");
    if (taken.has(folded)) return refuse("group.twin", `Two groups would be called ${own.trim()}. Tell them apart.`);
    taken.add(folded);
  }
  return null;
}

/** Ends placements and begins as many in another group. */
export function moveMembers(
  plan: Plan,
  commandId: string,
  moved: readonly Placement[],
  groupId: string,
  now: number,
  held?: boolean,
): Plan {
  const there = new Set(placementsIn(plan, groupId, now).map(({ personId }) => personId));
  const begun = moved
    .filter(({ personId }) => !there.has(personId))
    .map((placement) => ({
      ...placement,
      id: derivedId(commandId, groupId, placement.personId),
      groupId,
      since: now,
      until: null,
      held: held ?? placement.held,
    }));
  return put(end(plan, moved, now), "placements", begun);
}

/** The first group stays; people and aims of the others go to it, and they are put away. */
export function merge(plan: Plan, { id, groupIds }: { id: string; groupIds: string[] }, { now }: { now: number }) {
  const groups = [...new Set(groupIds)].map((groupId) => liveGroup(plan, groupId));
  const [into, ...others] = groups;
  if (!into || others.length === 0 || others.some((other) => !other || other.layerId !== into.layerId))
    return groupIsGone();
  const from = (others as Group[]).map((other) => other.id);
  let next = retargetGroups(plan, from, [into.id], (...parts) => derivedId(id, ...parts));
  const layers = Object.values(next.layers)
    .filter(({ following }) => following?.some(({ groupId }) => from.includes(groupId)))
    .map((layer) => ({
      ...layer,
      following:
        layer.following?.map((rule) => (from.includes(rule.groupId) ? { ...rule, groupId: into.id } : rule)) ?? null,
    }));
  const scoped = Object.values(next.groups)
    .filter(({ scopeGroupId }) => scopeGroupId !== null && from.includes(scopeGroupId))
    .map((group) => ({ ...group, scopeGroupId: into.id }));
  next = put(put(next, "layers", layers), "groups", scoped);
  for (const groupId of from) next = moveMembers(next, id, placementsIn(next, groupId, now), into.id, now);
  const leads = [...new Set([into, ...(others as Group[])].flatMap((group) => group.leads))].slice(0, 50);
  const archived = (others as Group[]).map((group) => ({ ...(next.groups[group.id] as Group), archivedAt: now }));
  next = put(next, "groups", [{ ...(next.groups[into.id] as Group), leads }, ...archived]);
  const size = studentsOf(next, into.id, now).length;
  if (into.max !== null && size > into.max)
    return refuse(
      "placement.full",
      `${into.name} holds ${plural(into.max, "student")} at most; together they are ${size}. Raise the number first.`,
    );
  return next;
}

interface Part {
  groupId: string;
  name: string;
  personIds: string[];
  value?: string | undefined;
}
interface SplitCommand {
  id: string;
  groupId: string;
  parts: Part[];
  rules?: { by: "section" } | { by: "column"; column: string } | undefined;
}

/** The rules of a layer with one more for each part, before each that fills the group as a whole. */
function splitRules(
  plan: Plan,
  layer: Layer,
  groupId: string,
  parts: Part[],
  rules: NonNullable<SplitCommand["rules"]>,
): PlacementRule[] | Refusal {
  const whole = (layer.following ?? []).filter((rule) => rule.groupId === groupId);
  const asked = whole.find(({ attribute }) => attribute !== null)?.attribute;
  if (whole.length === 0 || (rules.by === "column" && asked))
    return refuse(
      "split.rules",
      whole.length === 0
        ? "No rule fills this group: there is nothing that late arrivals could follow. Hold everyone where they are instead."
        : `A rule that fills this group asks for ${asked?.column} already, and can ask for no second column. Hold everyone where they are instead.`,
    );
  const sections = new Map(Object.values(plan.sections).map((section) => [section.code, section.id]));
  const ruleOf = (rule: PlacementRule, part: Part): PlacementRule[] => {
    if (!part.value) return [];
    if (rules.by === "column")
      return [
        { ...rule, attribute: { column: rules.column, test: "is", values: [part.value] }, groupId: part.groupId },
      ];
    const sectionId = sections.get(part.value);
    const isAsked = rule.sectionIds.length === 0 || (sectionId !== undefined && rule.sectionIds.includes(sectionId));
    return sectionId && isAsked ? [{ ...rule, sectionIds: [sectionId], groupId: part.groupId }] : [];
  };
  return (layer.following ?? []).flatMap((rule) =>
    rule.groupId === groupId ? [...parts.flatMap((part) => ruleOf(rule, part)), rule] : [rule],
  );
}

/** Those whom a part names go to it; what was aimed at the group is aimed at all parts. */
export function split(
  plan: Plan,
  { id, groupId, parts, rules }: SplitCommand,
  { now }: { now: number },
): Plan | Refusal {
  const group = liveGroup(plan, groupId);
  if (!group) return groupIsGone();
  const layer = plan.layers[group.layerId] as Layer;
  const all = [...(lookup(plan).allGroupsOfLayer.get(layer.id) ?? [])];
  if (parts.some((part) => plan.groups[part.groupId])) return refuse("group.there", "This was split already.");
  const twin = refuseTwins([...all.filter(({ archivedAt }) => archivedAt === null), ...parts]);
  if (twin) return twin;
  const following = rules ? splitRules(plan, layer, groupId, parts, rules) : layer.following;
  if (following && "refused" in following) return following;
  const made = parts.map((part, at): Group => {
    const fresh = {
      ...group,
      id: part.groupId,
      name: part.name.trim(),
      // What the parts were made by may be nobody's business: students read a number.
      label: `${group.label} ${at + 2}`,
      // Between the group and the one that comes after it.
      position: group.position + (at + 1) / (parts.length + 2),
      stripe: nextStripe(part.name, all),
      leads: group.leads.filter((lead) => part.personIds.includes(lead)),
      code: null,
    };
    all.push(fresh);
    return fresh;
  });
  const moving = new Set(parts.flatMap(({ personIds }) => personIds));
  const stays = { ...group, leads: group.leads.filter((lead) => !moving.has(lead)) };
  let next = put(put(plan, "groups", [stays, ...made]), "layers", [{ ...layer, following }]);
  next = retargetGroups(next, [groupId], [groupId, ...made.map((part) => part.id)], (...rest) =>
    derivedId(id, ...rest),
  );
  for (const part of parts) {
    const wanted = new Set(part.personIds);
    const moved = placementsIn(next, groupId, now).filter(({ personId }) => wanted.has(personId));
    next = moveMembers(next, id, moved, part.groupId, now, (layer.following !== null && !rules) || undefined);
  }
  return next;
}

/** A copy of a group, to which nothing is aimed. */
export const copyOf = (group: Group, fields: Partial<Group>): Group => ({
  ...group,
  code: null,
  archivedAt: null,
  ...fields,
});

/** A copy of a layer with its groups, and its people where they are wanted. */
export function duplicateLayer(
  plan: Plan,
  command: { id: string; layerId: string; newLayerId: string; name: string; withPeople: boolean },
  { now }: { now: number },
) {
  const layer = plan.layers[command.layerId];
  if (!layer) return refuse("layer.gone", "The layer is no longer there.");
  if (plan.layers[command.newLayerId]) return refuse("layer.there", "This layer is there already.");
  if (lookup(plan).layers.some((other) => compareText(other.name, command.name) === 0))
    return refuse("layer.twin", `There is a layer called ${command.name} already. Choose another name.`);
  const groups = lookup(plan).groupsOfLayer.get(layer.id) ?? [];
  const idOf = (groupId: string) => derivedId(command.id, groupId);
  const copy: Layer = {
    ...layer,
    id: command.newLayerId,
    name: command.name.trim(),
    position: Object.keys(plan.layers).length,
    archivedAt: null,
    selfPlacement: null,
    following: command.withPeople
      ? (layer.following?.map((rule) => ({ ...rule, groupId: idOf(rule.groupId) })) ?? null)
      : null,
  };
  const copies = groups.map((group) =>
    copyOf(group, { id: idOf(group.id), layerId: copy.id, leads: command.withPeople ? group.leads : [] }),
  );
  const placements = command.withPeople
    ? groups.flatMap((group) =>
        placementsIn(plan, group.id, now).map((placement) => ({
          ...placement,
          id: derivedId(command.id, group.id, placement.personId),
          groupId: idOf(group.id),
          since: now,
        })),
      )
    : [];
  return put(put(put(plan, "layers", [copy]), "groups", copies), "placements", placements);
}
