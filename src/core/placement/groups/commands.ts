/** Commands that rework groups and layers as wholes: merge, split, duplicate, rename, reorder, archive. Source: semantics.md section 3. */
import { z } from "zod";
import { defineCommand, derivedId, put, refuse } from "../../plan/command.ts";
import { compareText, lookup } from "../../plan/lookup.ts";
import { Group, Id, Layer, type Plan } from "../../plan/types.ts";
import { openPlacements } from "../commands.ts";
import { placementsIn } from "../membership.ts";
import { nextStripe } from "../stripes.ts";
import { bringBack, putAway, restore } from "./archive.ts";
import {
  copyOf,
  duplicateLayer,
  groupIsGone,
  liveGroup,
  merge,
  moveMembers,
  refuseTwins,
  renamed,
  split,
} from "./rework.ts";

const People = z.array(Id).max(10_000);
const Groups = z.array(Id).min(1).max(5000);
const name = (plan: Plan, groupId: string) => plan.groups[groupId]?.name ?? "a removed group";
const names = (plan: Plan, groupIds: readonly string[]) =>
  groupIds.length > 3 ? `${groupIds.length} groups` : groupIds.map((id) => name(plan, id)).join(" and ");

export const groupWorkCommands = [
  defineCommand(
    "group.merge",
    /** The first stays; the people of the others, and what was aimed at them, go to it. */
    { groupIds: z.array(Id).min(2).max(200) },
    {
      apply: merge,
      describe: (plan, { groupIds: [into = "", ...others] }) => `Merge ${names(plan, others)} into ${name(plan, into)}`,
    },
  ),
  defineCommand(
    "group.split",
    {
      groupId: Id,
      /** New groups and who goes there; everyone else stays. What was aimed at the group is aimed at all of them. */
      parts: z
        .array(
          z.object({
            groupId: Id,
            name: Group.shape.name,
            personIds: People,
            /** What those of the part have in what the group is split by. */
            value: z.string().max(200).optional(),
          }),
        )
        .min(1)
        .max(200),
      /** In a layer that follows sections: what tells late arrivals to their parts. Without it all are held where they are. */
      rules: z
        .union([z.object({ by: z.literal("section") }), z.object({ by: z.literal("column"), column: z.string() })])
        .optional(),
    },
    {
      apply: split,
      describe: (plan, { groupId, parts }) => `Split ${name(plan, groupId)} into ${parts.length + 1}`,
    },
  ),
  defineCommand(
    "group.duplicate",
    { groupId: Id, newGroupId: Id, name: Group.shape.name, withPeople: z.boolean() },
    {
      apply(plan, command, { now }) {
        const group = liveGroup(plan, command.groupId);
        if (!group) return groupIsGone();
        if (plan.groups[command.newGroupId]) return refuse("group.there", "This group is there already.");
        const siblings = lookup(plan).groupsOfLayer.get(group.layerId) ?? [];
        const twin = refuseTwins([...siblings, command]);
        if (twin) return twin;
        if (command.withPeople && plan.layers[group.layerId]?.rule !== "any number")
          return refuse("group.people", "In this layer nobody can be in two groups. Duplicate it without its people.");
        const stripe = nextStripe(command.name, lookup(plan).allGroupsOfLayer.get(group.layerId) ?? []);
        const fields = { id: command.newGroupId, name: command.name, label: command.name, stripe, leads: [] };
        const next = put(plan, "groups", [copyOf(group, { ...fields, position: group.position + 0.5 })]);
        const copied = command.withPeople ? placementsIn(plan, group.id, now) : [];
        return put(
          next,
          "placements",
          copied.map((placement) => ({
            ...placement,
            id: derivedId(command.id, placement.personId),
            groupId: command.newGroupId,
            since: now,
          })),
        );
      },
      describe: (plan, { groupId, name: own }) => `Duplicate ${name(plan, groupId)} as ${own}`,
    },
  ),
  defineCommand(
    "layer.duplicate",
    { layerId: Id, newLayerId: Id, name: Layer.shape.name, withPeople: z.boolean() },
    {
      apply: duplicateLayer,
      describe: (plan, { layerId, name: own, withPeople }) =>
        `Duplicate layer ${plan.layers[layerId]?.name ?? ""} as ${own}, ${withPeople ? "with" : "without"} its people`,
    },
  ),
  defineCommand(
    "group.renameMany",
    {
      layerId: Id,
      names: z
        .array(z.object({ groupId: Id, name: Group.shape.name }))
        .min(1)
        .max(5000),
    },
    {
      apply(plan, { layerId, names: given }) {
        const wanted = new Map(given.map(({ groupId, name: own }) => [groupId, own.trim()]));
        const all = lookup(plan).groupsOfLayer.get(layerId) ?? [];
        if (given.some(({ groupId }) => liveGroup(plan, groupId)?.layerId !== layerId)) return groupIsGone();
        const next = all.map((group) => {
          const own = wanted.get(group.id);
          return own === undefined ? group : { ...group, ...renamed(plan, group, own) };
        });
        return (
          refuseTwins(next) ??
          put(
            plan,
            "groups",
            next.filter((group) => wanted.has(group.id)),
          )
        );
      },
      describe: (plan, { layerId, names: given }) =>
        `Rename ${given.length === 1 ? "a group" : `${given.length} groups`} of ${plan.layers[layerId]?.name ?? ""}`,
    },
  ),
  defineCommand(
    "group.reorder",
    { layerId: Id, groupIds: Groups },
    {
      apply(plan, { layerId, groupIds }) {
        const place = new Map(groupIds.map((groupId, at) => [groupId, at]));
        const all = lookup(plan).groupsOfLayer.get(layerId) ?? [];
        if (all.length === 0) return groupIsGone();
        // Groups made meanwhile, which the order does not know, stay at the end.
        const ordered = [...all].sort((a, b) => (place.get(a.id) ?? 1e9) - (place.get(b.id) ?? 1e9));
        return put(
          plan,
          "groups",
          ordered.map((group, position) => ({ ...group, position })),
        );
      },
      describe: (plan, { layerId }) => `Reorder the groups of ${plan.layers[layerId]?.name ?? ""}`,
    },
  ),
  defineCommand(
    "group.archive",
    { groupIds: Groups },
    {
      apply(plan, { groupIds }, { now }) {
        return groupIds.some((groupId) => !liveGroup(plan, groupId)) ? groupIsGone() : putAway(plan, groupIds, now);
      },
      describe: (plan, { groupIds }) => `Archive ${names(plan, groupIds)}`,
    },
  ),
  defineCommand(
    "group.restore",
    { groupIds: Groups },
    {
      apply: restore,
      describe: (plan, { groupIds }) => `Bring back ${names(plan, groupIds)}`,
    },
  ),
  defineCommand(
    "layer.archive",
    { layerId: Id },
    {
      apply(plan, { layerId }, { now }) {
        const layer = plan.layers[layerId];
        if (!layer || layer.archivedAt !== null) return refuse("layer.gone", "The layer is no longer there.");
        const along = Object.values(plan.items).find((item) => item.split?.layerId === layerId);
        if (along) return refuse("layer.aimed", `${along.title} is split along this layer. Change that first.`);
        const groupIds = (lookup(plan).groupsOfLayer.get(layerId) ?? []).map((group) => group.id);
        const next = putAway(plan, groupIds, now);
        return put(next, "layers", [{ ...layer, following: null, selfPlacement: null, archivedAt: now }]);
      },
      describe: (plan, { layerId }) => `Archive layer ${plan.layers[layerId]?.name ?? ""}`,
    },
  ),
  defineCommand(
    "layer.restore",
    { layerId: Id },
    {
      apply(plan, { id, layerId }, { now }) {
        const layer = plan.layers[layerId];
        if (!layer || layer.archivedAt === null) return refuse("layer.gone", "The layer is no longer there.");
        if (lookup(plan).layers.some((other) => compareText(other.name, layer.name) === 0))
          return refuse("layer.twin", `There is a layer called ${layer.name} by now. Rename that one first.`);
        const groups = (lookup(plan).allGroupsOfLayer.get(layerId) ?? []).filter(
          ({ archivedAt }) => archivedAt === layer.archivedAt,
        );
        return bringBack(put(plan, "layers", [{ ...layer, archivedAt: null }]), id, groups, now);
      },
      describe: (plan, { layerId }) => `Bring back layer ${plan.layers[layerId]?.name ?? ""}`,
    },
  ),
  defineCommand(
    "placement.swap",
    { layerId: Id, personIds: z.tuple([Id, Id]) },
    {
      apply(plan, { id, layerId, personIds: [one, other] }, { now }) {
        const layer = plan.layers[layerId];
        const placeOf = (personId: string) =>
          openPlacements(plan, personId, now).filter(({ groupId }) => plan.groups[groupId]?.layerId === layerId);
        const [a, b] = [placeOf(one), placeOf(other)];
        const [first, second] = [a[0], b[0]];
        if (!layer || !first || !second || a.length > 1 || b.length > 1 || first.groupId === second.groupId)
          return refuse("placement.swap", "Two people in two groups of the layer can be swapped. Choose again.");
        const held = layer.following !== null || undefined;
        return moveMembers(
          moveMembers(plan, id, [first], second.groupId, now, held),
          id,
          [second],
          first.groupId,
          now,
          held,
        );
      },
      describe: (plan, { personIds: [one, other] }) => {
        const say = (personId: string) => plan.people[personId]?.familyName ?? "a removed person";
        return `Swap ${say(one)} and ${say(other)}`;
      },
    },
  ),
] as const;
