/** The one command that takes a file of groups in. Source: semantics.md section 3. */

import { z } from "zod";
import { defineCommand, derivedId, put, type Refusal, refuse } from "../../plan/command.ts";
import { isEnrolledAt, lookup } from "../../plan/lookup.ts";
import { blankGroup, blankLayer, Group, Id, Layer, type Placement, type Plan } from "../../plan/types.ts";
import { fold } from "../../text/caseless.ts";
import { plural } from "../../text/plural.ts";
import { end, openPlacements } from "../commands.ts";
import { withGroup } from "../group-commands.ts";
import { refuseTwins } from "../groups/rework.ts";
import { studentsOf } from "../membership.ts";
import { nextStripe } from "../stripes.ts";

const GroupOfFile = z.object({
  layer: Layer.shape.name,
  name: Group.shape.name,
  /** Null where the file names none: then it stays. */
  label: Group.shape.label.nullable(),
  leads: z.array(Id).max(50).nullable(),
  /** When it meets; left out, that stays. */
  pattern: Group.shape.pattern.optional(),
});
const PlaceOfFile = z.object({ layer: Layer.shape.name, group: Group.shape.name, personId: Id });

interface TakeIn {
  id: string;
  file: string;
  newLayerRule: Layer["rule"];
  groups: z.infer<typeof GroupOfFile>[];
  into: z.infer<typeof PlaceOfFile>[];
  ends: { groupId: string; personId: string }[];
}

/** Layers and groups that the file names and the plan lacks, and what it says of those that are there. */
function withGroups(plan: Plan, { id, groups, newLayerRule }: TakeIn): Plan | Refusal {
  let next = plan;
  for (const wanted of groups) {
    let layer = lookup(next).layers.find(({ name }) => fold(name) === fold(wanted.layer));
    if (!layer) {
      const position = Object.keys(next.layers).length;
      const name = wanted.layer.trim();
      layer = { ...blankLayer, id: derivedId(id, "layer", fold(name)), position, name, rule: newLayerRule };
      next = put(next, "layers", [layer]);
    }
    const siblings = lookup(next).groupsOfLayer.get(layer.id) ?? [];
    const there = siblings.find(({ name }) => fold(name) === fold(wanted.name));
    const name = wanted.name.trim();
    const group: Group = there ?? {
      ...blankGroup,
      id: derivedId(id, "group", layer.id, fold(name)),
      layerId: layer.id,
      position: siblings.length,
      name,
      label: name,
      stripe: nextStripe(name, lookup(next).allGroupsOfLayer.get(layer.id) ?? []),
    };
    next = withGroup(next, {
      ...group,
      label: wanted.label?.trim() || group.label,
      leads: wanted.leads ?? group.leads,
      pattern: wanted.pattern ?? group.pattern,
    });
    const twin = refuseTwins(lookup(next).groupsOfLayer.get(layer.id) ?? []);
    if (twin) return twin;
  }
  return next;
}

function takeIn(plan: Plan, command: TakeIn, { now }: { now: number }): Plan | Refusal {
  const made = withGroups(plan, command);
  if ("refused" in made) return made;
  const groupOf = new Map<string, Group>();
  for (const layer of lookup(made).layers)
    for (const group of lookup(made).groupsOfLayer.get(layer.id) ?? [])
      groupOf.set(`${fold(layer.name)}\n${fold(group.name)}`, group);
  const ended: Placement[] = [];
  const begun: Placement[] = [];
  for (const { groupId, personId } of command.ends)
    ended.push(...openPlacements(made, personId, now).filter((placement) => placement.groupId === groupId));
  for (const { layer: layerName, group: name, personId } of command.into) {
    const group = groupOf.get(`${fold(layerName)}\n${fold(name)}`);
    if (!group) return refuse("group.gone", `${name} is no longer there. Read the file again.`);
    const layer = made.layers[group.layerId] as Layer;
    // Whoever left since the file was looked at is passed over.
    if (!isEnrolledAt(made, personId, now)) continue;
    const theirs = openPlacements(made, personId, now).filter(
      ({ groupId }) => made.groups[groupId]?.layerId === layer.id,
    );
    if (theirs.some(({ groupId }) => groupId === group.id)) continue;
    if (layer.rule !== "any number") ended.push(...theirs);
    const id = derivedId(command.id, group.id, personId);
    begun.push({ id, groupId: group.id, personId, since: now, until: null, held: layer.following !== null });
  }
  const next = put(end(made, ended, now), "placements", begun);
  for (const group of new Set(begun.map(({ groupId }) => next.groups[groupId] as Group))) {
    const size = studentsOf(next, group.id, now).length;
    if (group.max !== null && size > group.max)
      return refuse(
        "placement.full",
        `${group.name} holds ${plural(group.max ?? 0, "student")} at most; the file would make it ${size}.`,
      );
  }
  return next;
}

export const groupFileCommands = [
  defineCommand(
    "layer.takeFile",
    {
      file: z.string().max(300),
      newLayerRule: Layer.shape.rule,
      groups: z.array(GroupOfFile).min(1).max(5000),
      into: z.array(PlaceOfFile).max(50_000),
      ends: z.array(z.object({ groupId: Id, personId: Id })).max(50_000),
    },
    {
      apply: takeIn,
      describe: (_plan, { file, groups, into, ends }) =>
        `${file}: ${groups.length} ${groups.length === 1 ? "group" : "groups"}, ${into.length} placed${ends.length > 0 ? `, ${ends.length} taken out` : ""}`,
    },
  ),
] as const;
