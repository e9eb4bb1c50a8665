/** Groups put away and brought back: what they held until then stays known. Source: semantics.md section 3. */
import { derivedId, put, type Refusal } from "../../plan/command.ts";
import { isEnrolledAt, lookup } from "../../plan/lookup.ts";
import type { Group, Layer, Placement, Plan } from "../../plan/types.ts";
import { end, followAll, openPlacements } from "../commands.ts";
import { groupsAt, placementsIn } from "../membership.ts";
import { freeMark } from "../stripes.ts";
import { groupIsGone, refuseTwins } from "./rework.ts";

/** Groups put away: nobody is in them from now on, and no rule fills them. */
export function putAway(plan: Plan, groupIds: readonly string[], now: number): Plan {
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
export function bringBack(plan: Plan, commandId: string, groups: Group[], now: number): Plan {
  const begun: Placement[] = [];
  for (const group of groups) {
    const layer = plan.layers[group.layerId] as Layer;
    for (const placement of lookup(plan).placementsOfGroup.get(group.id) ?? []) {
      if (placement.until !== group.archivedAt) continue;
      const elsewhere = openPlacements(plan, placement.personId, now).some(
        ({ groupId }) => plan.groups[groupId]?.layerId === layer.id,
      );
      if (!isEnrolledAt(plan, placement.personId, now) || (elsewhere && layer.rule !== "any number")) continue;
      const id = derivedId(commandId, group.id, placement.personId);
      // No rule fills it any more, so that in a layer that follows only a held placement stays.
      const held = placement.held || layer.following !== null;
      begun.push({ ...placement, id, since: now, until: null, held });
    }
  }
  const back = groups.map((group) => ({ ...group, archivedAt: null }));
  return put(put(plan, "groups", back), "placements", begun);
}

/** Groups brought back under their names, with marks of their own where theirs were given away meanwhile. */
export function restore(
  plan: Plan,
  { id, groupIds }: { id: string; groupIds: string[] },
  { now }: { now: number },
): Plan | Refusal {
  const groups = groupIds.map((groupId) => plan.groups[groupId]);
  if (groups.some((group) => !group || group.archivedAt === null)) return groupIsGone();
  const back = groups as Group[];
  let next = bringBack(plan, id, back, now);
  for (const group of back) {
    const siblings = groupsAt(next, group.layerId, now);
    const twin = refuseTwins(siblings);
    if (twin) return twin;
    const marks = siblings.filter((other) => other.id !== group.id).map(({ stripe }) => stripe.mark.toUpperCase());
    if (!marks.includes(group.stripe.mark.toUpperCase())) continue;
    const stripe = { ...group.stripe, mark: freeMark(group.name, new Set(marks)) };
    next = put(next, "groups", [{ ...(next.groups[group.id] as Group), stripe }]);
  }
  return followAll(next, id, { now });
}
