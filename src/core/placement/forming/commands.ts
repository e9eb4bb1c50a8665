/** Commands that keep formed groups, and place late arrivals in them. Source: semantics.md section 3. */

import { z } from "zod";
import { type Context, defineCommand, derivedId, put, type Refusal, refuse } from "../../plan/command.ts";
import { Forming } from "../../plan/forming.ts";
import { compareText, isEnrolledAt, lookup } from "../../plan/lookup.ts";
import { Group, Id, Layer, type Placement, type Plan } from "../../plan/types.ts";
import { plural } from "../../text/plural.ts";
import { end, openPlacements } from "../commands.ts";
import { topUp } from "./top-up.ts";

/** Ends what `ends` says and begins a placement in a group for each person. */
function move(plan: Plan, commandId: string, ended: Placement[], into: [string, string][], now: number): Plan {
  const begun = into.map(([personId, groupId]) => ({
    id: derivedId(commandId, groupId, personId),
    groupId,
    personId,
    since: now,
    until: null,
    held: false,
  }));
  return put(end(plan, ended, now), "placements", begun);
}

function keep(
  plan: Plan,
  command: {
    id: string;
    layerId: string;
    layer: Layer | null;
    forming: Forming;
    groups: { group: Group; personIds: string[] }[];
  },
  { now }: Context,
): Plan | Refusal {
  const layer = plan.layers[command.layerId] ?? command.layer;
  if (!layer || layer.id !== command.layerId) return refuse("layer.gone", "The layer is no longer there.");
  const twin = lookup(plan).layers.find(({ id, name }) => id !== layer.id && compareText(name, layer.name) === 0);
  if (twin) return refuse("layer.twin", `There is a layer called ${twin.name} already. Choose another name.`);
  if (layer.following)
    return refuse(
      "layer.follows",
      `${layer.name} follows the sections. Let it stop following before groups are formed.`,
    );
  const { groupsOfLayer } = lookup(plan);
  const mine = new Set((groupsOfLayer.get(layer.id) ?? []).map(({ id }) => id));
  const placed = new Set<string>();
  const ended: Placement[] = [];
  const into: [string, string][] = [];
  for (const { group, personIds } of command.groups) {
    for (const personId of personIds) {
      // Whoever left since the groups were formed is not placed; whoever is named twice stays where they came first.
      if (!isEnrolledAt(plan, personId, now) || placed.has(personId)) continue;
      placed.add(personId);
      const theirs = openPlacements(plan, personId, now).filter(({ groupId }) => mine.has(groupId));
      if (theirs.some(({ groupId }) => groupId === group.id)) {
        ended.push(...theirs.filter(({ groupId }) => groupId !== group.id && layer.rule !== "any number"));
        continue;
      }
      if (layer.rule !== "any number") ended.push(...theirs);
      into.push([personId, group.id]);
    }
  }
  const changed = { ...layer, forming: command.forming, keepApart: command.forming.apart };
  const groups = command.groups.map(({ group }) => {
    const there = plan.groups[group.id];
    return there
      ? { ...there, leads: group.leads, scopeGroupId: group.scopeGroupId }
      : { ...group, layerId: layer.id, scopeGroupId: group.scopeGroupId };
  });
  return move(put(put(plan, "layers", [changed]), "groups", groups), command.id, ended, into, now);
}

export const formingCommands = [
  defineCommand(
    "layer.form",
    {
      layerId: Id,
      /** The layer, where it is made with its groups. */
      layer: Layer.nullable(),
      forming: Forming,
      groups: z
        .array(z.object({ group: Group, personIds: z.array(Id).max(10_000) }))
        .min(1)
        .max(5000),
    },
    {
      apply: keep,
      describe: (plan, { layerId, layer, groups }) =>
        `Form ${plural(groups.length, "group")} of ${plural(
          groups.reduce((sum, { personIds }) => sum + personIds.length, 0),
          "student",
        )} in ${plan.layers[layerId]?.name ?? layer?.name ?? "a removed layer"}`,
    },
  ),
  defineCommand(
    "layer.topUp",
    { layerId: Id },
    {
      apply(plan, { id, layerId }, { now }) {
        const layer = plan.layers[layerId];
        if (!layer) return refuse("layer.gone", "The layer is no longer there.");
        const { placed, without } = topUp(plan, layerId, now);
        if (placed.length === 0)
          return refuse(
            "topUp.nobody",
            without.length === 0
              ? `Everyone has a group in ${layer.name}.`
              : `No group of ${layer.name} fits whoever is unplaced (${without.length}). Make room, or a group, first.`,
          );
        return move(
          plan,
          id,
          [],
          placed.map(({ personId, groupId }) => [personId, groupId]),
          now,
        );
      },
      describe: (plan, { layerId }) =>
        `Place who is unplaced in ${plan.layers[layerId]?.name ?? "a removed layer"}, moving nobody`,
    },
  ),
] as const;
