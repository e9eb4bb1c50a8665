/** Commands that rework groups and layers as wholes: merge, split, duplicate, rename, reorder, archive. Source: semantics.md section 3. */
import { z } from "zod";
import { defineCommand, derivedId, put, type Refusal, refuse } from "../../plan/command.ts";
import { compareText, holdsAt, lookup } from "../../plan/lookup.ts";
import { Group, Id, Layer, type Placement, type Plan } from "../../plan/types.ts";
import { end, followAll, openPlacements, studentsIn } from "../commands.ts";
import { groupsAt } from "../membership.ts";
import { freeMark, nextStripe } from "../stripes.ts";
import { aimElsewhere } from "./aims.ts";

const People = z.array(Id).max(10_000);
const Groups = z.array(Id).min(1).max(5000);
const name = (plan: Plan, groupId: string) => plan.groups[groupId]?.name ?? "a removed group";
const names = (plan: Plan, groupIds: readonly string[]) =>
  groupIds.length > 3 ? `${groupIds.length} groups` : groupIds.map((id) => name(plan, id)).join(" and ");
const gone = () => refuse("group.gone", "A group is no longer there. Choose again.");
const live = (plan: Plan, groupId: string): Group | null => {
  const group = plan.groups[groupId];
  return group && group.archivedAt === null ? group : null;
};

/** Whether a group that students see was formed of a group that they do not. */
const isSecretScope = (plan: Plan, { layerId, scopeGroupId }: Group): boolean =>
  Boolean(plan.layers[plan.groups[scopeGroupId ?? ""]?.layerId ?? ""]?.private && !plan.layers[layerId]?.private);

/** Two groups of a layer that would bear one name, if there are any. */
export function twins(groups: Pick<Group, "name">[]): Refusal | null {
  const taken = new Set<string>();
  for (const { name: own } of groups) {
    const folded = own.trim().toLowerCase();
    if (folded === "") return refuse("group.unnamed", "A group would be left without a name. Give it one.");
    if (taken.has(folded)) return refuse("group.twin", `Two groups would be called ${own.trim()}. Tell them apart.`);
    taken.add(folded);
  }
  return null;
}

const placementsIn = (plan: Plan, groupId: string, now: number): Placement[] =>
  (lookup(plan).placementsOfGroup.get(groupId) ?? []).filter((placement) => holdsAt(placement, now));

/** Ends placements and begins as many in another group. */
function carry(plan: Plan, commandId: string, moved: Placement[], groupId: string, now: number, held?: boolean): Plan {
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

/** Groups put away: nobody is in them from now on, and no rule fills them. */
function putAway(plan: Plan, groupIds: readonly string[], now: number): Plan {
  const wanted = new Set(groupIds);
  const layers = Object.values(plan.layers)
    .filter(({ following }) => following?.some(({ groupId }) => wanted.has(groupId)))
    .map((layer) => ({ ...layer, following: layer.following?.filter(({ groupId }) => !wanted.has(groupId)) ?? null }));
  const groups = groupIds.map((id) => ({ ...(plan.groups[id] as Group), archivedAt: now }));
  const ended = end(
    plan,
    groupIds.flatMap((id) => placementsIn(plan, id, now)),
    now,
  );
  return put(put(ended, "layers", layers), "groups", groups);
}

/** Groups brought back, with whoever was in them to the end, is still here, and has no other place by now. */
function bringBack(plan: Plan, commandId: string, groups: Group[], now: number): Plan {
  const begun: Placement[] = [];
  for (const group of groups) {
    const layer = plan.layers[group.layerId] as Layer;
    for (const placement of lookup(plan).placementsOfGroup.get(group.id) ?? []) {
      if (placement.until !== group.archivedAt) continue;
      const isHere = (lookup(plan).enrolmentsOfPerson.get(placement.personId) ?? []).some((row) => holdsAt(row, now));
      const elsewhere = openPlacements(plan, placement.personId, now).some(
        ({ groupId }) => plan.groups[groupId]?.layerId === layer.id,
      );
      if (!isHere || (elsewhere && layer.rule !== "any number")) continue;
      const id = derivedId(commandId, group.id, placement.personId);
      // No rule fills it any more, so that in a layer that follows only a held placement stays.
      const held = placement.held || layer.following !== null;
      begun.push({ ...placement, id, since: now, until: null, held });
    }
  }
  const back = groups.map((group) => ({ ...group, archivedAt: null }));
  return put(put(plan, "groups", back), "placements", begun);
}

function merge(plan: Plan, { id, groupIds }: { id: string; groupIds: string[] }, { now }: { now: number }) {
  const groups = [...new Set(groupIds)].map((groupId) => live(plan, groupId));
  const [into, ...others] = groups;
  if (!into || others.length === 0 || others.some((other) => !other || other.layerId !== into.layerId)) return gone();
  const from = (others as Group[]).map((other) => other.id);
  let next = aimElsewhere(plan, from, [into.id], (...parts) => derivedId(id, ...parts));
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
  for (const groupId of from) next = carry(next, id, placementsIn(next, groupId, now), into.id, now);
  const leads = [...new Set([into, ...(others as Group[])].flatMap((group) => group.leads))].slice(0, 50);
  const archived = (others as Group[]).map((group) => ({ ...(next.groups[group.id] as Group), archivedAt: now }));
  next = put(next, "groups", [{ ...(next.groups[into.id] as Group), leads }, ...archived]);
  const size = studentsIn(next, into.id, now);
  if (into.max !== null && size > into.max)
    return refuse(
      "placement.full",
      `${into.name} holds ${into.max} students at most; together they are ${size}. Raise the number first.`,
    );
  return next;
}

function split(
  plan: Plan,
  {
    id,
    groupId,
    parts,
  }: { id: string; groupId: string; parts: { groupId: string; name: string; personIds: string[] }[] },
  { now }: { now: number },
) {
  const group = live(plan, groupId);
  if (!group) return gone();
  const layer = plan.layers[group.layerId] as Layer;
  const all = [...(lookup(plan).allGroupsOfLayer.get(layer.id) ?? [])];
  if (parts.some((part) => plan.groups[part.groupId])) return refuse("group.there", "This was split already.");
  const twin = twins([...all.filter(({ archivedAt }) => archivedAt === null), ...parts]);
  if (twin) return twin;
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
  let next = put(plan, "groups", [stays, ...made]);
  next = aimElsewhere(next, [groupId], [groupId, ...made.map((part) => part.id)], (...rest) => derivedId(id, ...rest));
  for (const part of parts) {
    const wanted = new Set(part.personIds);
    const moved = placementsIn(next, groupId, now).filter(({ personId }) => wanted.has(personId));
    next = carry(next, id, moved, part.groupId, now, layer.following !== null || undefined);
  }
  return next;
}

/** A copy of a group, to which nothing is aimed. */
const copyOf = (group: Group, fields: Partial<Group>): Group => ({ ...group, code: null, archivedAt: null, ...fields });

function duplicateLayer(
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
        .array(z.object({ groupId: Id, name: Group.shape.name, personIds: People }))
        .min(1)
        .max(200),
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
        const group = live(plan, command.groupId);
        if (!group) return gone();
        if (plan.groups[command.newGroupId]) return refuse("group.there", "This group is there already.");
        const siblings = lookup(plan).groupsOfLayer.get(group.layerId) ?? [];
        const twin = twins([...siblings, command]);
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
        if (given.some(({ groupId }) => live(plan, groupId)?.layerId !== layerId)) return gone();
        const renamed = all.map((group) => {
          const own = wanted.get(group.id);
          // A label that was no other than the name goes with it, unless the name may hold that of a private group.
          const follows = group.label === group.name && !isSecretScope(plan, group);
          return own === undefined ? group : { ...group, name: own, label: follows ? own : group.label };
        });
        return (
          twins(renamed) ??
          put(
            plan,
            "groups",
            renamed.filter((group) => wanted.has(group.id)),
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
        if (all.length === 0) return gone();
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
        return groupIds.some((groupId) => !live(plan, groupId)) ? gone() : putAway(plan, groupIds, now);
      },
      describe: (plan, { groupIds }) => `Archive ${names(plan, groupIds)}`,
    },
  ),
  defineCommand(
    "group.restore",
    { groupIds: Groups },
    {
      apply(plan, { id, groupIds }, { now }) {
        const groups = groupIds.map((groupId) => plan.groups[groupId]);
        if (groups.some((group) => !group || group.archivedAt === null)) return gone();
        const back = groups as Group[];
        let next = bringBack(plan, id, back, now);
        for (const group of back) {
          const siblings = groupsAt(next, group.layerId, now);
          const twin = twins(siblings);
          if (twin) return twin;
          const marks = siblings
            .filter((other) => other.id !== group.id)
            .map(({ stripe }) => stripe.mark.toUpperCase());
          if (!marks.includes(group.stripe.mark.toUpperCase())) continue;
          const stripe = { ...group.stripe, mark: freeMark(group.name, new Set(marks)) };
          next = put(next, "groups", [{ ...(next.groups[group.id] as Group), stripe }]);
        }
        return followAll(next, id, { now });
      },
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
        return carry(carry(plan, id, [first], second.groupId, now, held), id, [second], first.groupId, now, held);
      },
      describe: (plan, { personIds: [one, other] }) => {
        const say = (personId: string) => plan.people[personId]?.familyName ?? "a removed person";
        return `Swap ${say(one)} and ${say(other)}`;
      },
    },
  ),
] as const;
