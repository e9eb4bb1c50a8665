/** Commands that make and change layers and groups. Source: semantics.md section 3. */
import { z } from "zod";
import { MeetingDays } from "../plan/basics.ts";
import { defineCommand, derivedId, drop, put, type Refusal, refuse } from "../plan/command.ts";
import { meetsItself } from "../plan/groups.ts";
import { compareText, lookup } from "../plan/lookup.ts";
import { withCourse } from "../plan/tables.ts";
import { blankGroup, blankLayer, Group, Id, Layer, PlacementRule, type Plan } from "../plan/types.ts";
import { foldCode } from "../text/codes.ts";
import { followAll } from "./commands.ts";
import { ruleFor } from "./following.ts";
import { referencesToGroups } from "./groups/group-references.ts";
import { privatePage } from "./groups/page.ts";
import { renamed } from "./groups/rework.ts";
import { placementsAt } from "./membership.ts";
import { codesOf } from "./self-placement.ts";
import { nextStripe } from "./stripes.ts";

function removeGroups(plan: Plan, groupIds: string[]): Plan | Refusal {
  const aims = referencesToGroups(plan, groupIds);
  const aimed = [...new Set([...aims.items, ...aims.dates].map(({ title }) => title))].sort(compareText);
  if (aimed.length > 0) {
    const shown = aimed.slice(0, 3).join(", ") + (aimed.length > 3 ? ` and ${aimed.length - 3} more` : "");
    return refuse(
      "group.aimed",
      `${aimed.length} ${aimed.length === 1 ? "item is" : "items are"} set for it: ${shown}. Change whom they are for first.`,
    );
  }
  const { placementsOfGroup } = lookup(plan);
  const placements = groupIds.flatMap((id) => (placementsOfGroup.get(id) ?? []).map((placement) => placement.id));
  const allowances = Object.values(plan.allowances)
    .filter(({ target }) => target.kind === "group" && groupIds.includes(target.id))
    .map(({ id }) => id);
  const layers = Object.values(plan.layers)
    .filter(({ following }) => following?.some(({ groupId }) => groupIds.includes(groupId)))
    .map((layer) => ({
      ...layer,
      following: layer.following?.filter(({ groupId }) => !groupIds.includes(groupId)) ?? null,
    }));
  const sets = Object.values(plan.sets)
    .filter((set) => set.groupIds.some((id) => groupIds.includes(id)))
    .map((set) => ({ ...set, groupIds: set.groupIds.filter((id) => !groupIds.includes(id)) }));
  return drop(
    drop(drop(put(put(plan, "sets", sets), "layers", layers), "placements", placements), "allowances", allowances),
    "groups",
    groupIds,
  );
}

/** A layer that begins to follow loses no placement: whoever is elsewhere than the rules say is held there. */
function holdOthers(plan: Plan, layer: Layer, now: number): Plan {
  const elsewhere = placementsAt(plan, layer.id, now).filter(
    ({ personId, groupId, held }) => !held && ruleFor(plan, layer.following ?? [], personId, now) !== groupId,
  );
  return put(
    plan,
    "placements",
    elsewhere.map((placement) => ({ ...placement, held: true })),
  );
}

/** Where students meet a layer or its groups, which keeps it from being private; null where they do nowhere. */
function shownBy(plan: Plan, layer: Layer): string | null {
  const { classList, splitting } = plan.course;
  const split = Object.values(plan.items).find((item) => item.split?.layerId === layer.id);
  const page = (lookup(plan).allGroupsOfLayer.get(layer.id) ?? []).find((group) => group.page);
  if (split) return `${split.title} is split along it`;
  if (splitting?.layerId === layer.id) return "what is split is split along it";
  if (classList.to === "layer" && classList.layerId === layer.id) return "the class list goes by it";
  if (layer.selfPlacement) return "students place themselves in it";
  return page ? `${page.name} has a page for its members` : null;
}

/** Groups that had no label are called to students what staff call them. */
const withLabels = (plan: Plan, layerId: string): Plan =>
  put(
    plan,
    "groups",
    (lookup(plan).allGroupsOfLayer.get(layerId) ?? [])
      .filter(({ label }) => label.trim() === "")
      .map((group) => ({ ...group, label: group.name })),
  );

const twin = (rows: { id: string; name: string }[], name: string, id: string) =>
  rows.some((row) => row.id !== id && compareText(row.name, name) === 0);

function checkGroup(plan: Plan, group: Group): Refusal | null {
  const siblings = lookup(plan).groupsOfLayer.get(group.layerId) ?? [];
  if (!plan.layers[group.layerId]) return refuse("layer.gone", "The layer is no longer there.");
  if (twin(siblings, group.name, group.id))
    return refuse("group.twin", `This layer has a group called ${group.name} already. Choose another name.`);
  const mark = group.stripe.mark.toUpperCase();
  if (siblings.some((other) => other.id !== group.id && other.stripe.mark.toUpperCase() === mark)) {
    return refuse("group.mark", `The mark ${mark} is taken in this layer. Choose another one.`);
  }
  const holder = group.code === null ? undefined : codesOf(plan, new Set([group.id])).get(foldCode(group.code));
  if (holder !== undefined)
    return refuse("group.code", `The code ${group.code} belongs to ${holder} already. Choose another one.`);
  if (group.page && plan.layers[group.layerId]?.private) return privatePage();
  if (group.min !== null && group.max !== null && group.min > group.max) {
    return refuse("group.capacity", "The smallest size is larger than the largest.");
  }
  return null;
}

/** The first pattern that a group is given makes its layer the one whose meetings count, if none is chosen. */
export function withGroup(plan: Plan, group: Group): Plan {
  const isFirst = meetsItself(group) && !Object.values(plan.groups).some(meetsItself);
  const next = put(plan, "groups", [group]);
  return isFirst && plan.course.meetingLayerId === null ? withCourse(next, { meetingLayerId: group.layerId }) : next;
}

/** A group for each section: groups and the rules that fill them. */
export function sectionGroups(plan: Plan, layerId: string, idFor: (sectionId: string) => string) {
  const sections = Object.values(plan.sections).sort((a, b) => compareText(a.code, b.code));
  const groups: Group[] = [];
  for (const section of sections) {
    groups.push({
      id: idFor(section.id),
      layerId,
      position: groups.length,
      name: section.title,
      label: section.studentTitle,
      // The registrar's code makes the better mark: it is what is written on the printed list.
      stripe: nextStripe(section.code, groups),
      ...blankGroup,
    });
  }
  const following = sections.map((section) => ({
    sectionIds: [section.id],
    attribute: null,
    groupId: idFor(section.id),
  }));
  return { groups, following };
}

export const groupCommands = [
  defineCommand(
    "layer.followSections",
    { layerId: Id, name: Layer.shape.name },
    {
      apply(plan, { id, layerId, name }, context) {
        if (Object.keys(plan.sections).length === 0)
          return refuse("sections.none", "There are no sections yet. Take a roster in first.");
        if (twin(lookup(plan).layers, name, layerId))
          return refuse("layer.twin", `There is a layer called ${name} already. Choose another name.`);
        const { groups, following } = sectionGroups(plan, layerId, (sectionId) => derivedId(id, sectionId));
        const position = Object.keys(plan.layers).length;
        const layer: Layer = {
          id: layerId,
          position,
          name,
          rule: "exactly one",
          ...blankLayer,
          following,
        };
        return followAll(put(put(plan, "layers", [layer]), "groups", groups), id, context, [layer]);
      },
      describe: (_plan, { name }) => `Layer ${name}: a group for each section`,
    },
  ),
  defineCommand(
    "layer.add",
    { layer: Layer },
    {
      apply(plan, { id, layer }, context) {
        if (plan.layers[layer.id]) return refuse("layer.there", "This layer is there already.");
        if (twin(lookup(plan).layers, layer.name, layer.id))
          return refuse("layer.twin", `There is a layer called ${layer.name} already. Choose another name.`);
        return followAll(put(plan, "layers", [layer]), id, context, [layer]);
      },
      describe: (_plan, { layer }) => `New layer ${layer.name}`,
    },
  ),
  defineCommand(
    "layer.change",
    {
      layerId: Id,
      fields: Layer.pick({ name: true, rule: true, keepApart: true, private: true })
        .extend({ following: z.array(PlacementRule).nullable() })
        .partial(),
    },
    {
      apply(plan, { id, layerId, fields }, context) {
        const layer = plan.layers[layerId];
        if (!layer) return refuse("layer.gone", "The layer is no longer there.");
        if (fields.name && twin(lookup(plan).layers, fields.name, layerId))
          return refuse("layer.twin", `There is a layer called ${fields.name} already. Choose another name.`);
        if (fields.following?.some(({ groupId }) => plan.groups[groupId]?.archivedAt !== null))
          return refuse("group.gone", "A rule fills a group that is no longer there. Choose another one.");
        const changed = { ...layer, ...fields };
        const shown = changed.private && !layer.private ? shownBy(plan, layer) : null;
        if (shown) return refuse("layer.shown", `${layer.name} cannot be private while ${shown}. Change that first.`);
        const before = layer.following === null && changed.following ? holdOthers(plan, changed, context.now) : plan;
        const next = put(before, "layers", [changed]);
        const named = layer.private && !changed.private ? withLabels(next, layerId) : next;
        return followAll(named, id, context, [changed]);
      },
      describe(plan, { layerId, fields }) {
        const layer = plan.layers[layerId];
        if (layer && fields.private !== undefined && fields.private !== layer.private)
          return fields.private ? `${layer.name} becomes private` : `Students see their groups of ${layer.name}`;
        return `Change layer ${layer?.name ?? ""}`;
      },
    },
  ),
  defineCommand(
    "layer.remove",
    { layerId: Id },
    {
      apply(plan, { layerId }) {
        if (!plan.layers[layerId]) return refuse("layer.gone", "The layer is no longer there.");
        const split = Object.values(plan.items).find((item) => item.split?.layerId === layerId);
        if (split) return refuse("layer.aimed", `${split.title} is split along this layer. Change that first.`);
        const groupIds = (lookup(plan).allGroupsOfLayer.get(layerId) ?? []).map((group) => group.id);
        const without = removeGroups(plan, groupIds);
        return "refused" in without ? without : drop(without, "layers", [layerId]);
      },
      describe: (plan, { layerId }) => `Remove layer ${plan.layers[layerId]?.name ?? ""}`,
    },
  ),
  defineCommand(
    "group.add",
    { group: Group },
    {
      apply: (plan, { group }) => checkGroup(plan, group) ?? withGroup(plan, group),
      describe: (_plan, { group }) => `New group ${group.name}`,
    },
  ),
  defineCommand(
    "group.change",
    {
      groupId: Id,
      // What is left out stays: none of it has a default.
      fields: Group.omit({ id: true, layerId: true, archivedAt: true }).extend(MeetingDays).partial(),
    },
    {
      apply(plan, { groupId, fields }) {
        const group = plan.groups[groupId];
        if (!group) return refuse("group.gone", "The group is no longer there.");
        const changed = { ...group, ...(fields.name ? renamed(plan, group, fields.name) : {}), ...fields };
        return checkGroup(plan, changed) ?? withGroup(plan, changed);
      },
      describe: (plan, { groupId, fields }) => {
        const name = plan.groups[groupId]?.name ?? "a removed group";
        return fields.name && fields.name !== name ? `Rename ${name} to ${fields.name}` : `Change group ${name}`;
      },
    },
  ),
  defineCommand(
    "group.remove",
    { groupId: Id },
    {
      apply(plan, { groupId }) {
        if (!plan.groups[groupId]) return refuse("group.gone", "The group is no longer there.");
        return removeGroups(plan, [groupId]);
      },
      describe: (plan, { groupId }) => `Remove group ${plan.groups[groupId]?.name ?? ""}`,
    },
  ),
] as const;
