/** Late arrivals into groups that are there; nobody who is placed is moved. Source: semantics.md section 3. */
import { holdsAt, lookup } from "../../plan/lookup.ts";
import type { Group, Layer, Plan } from "../../plan/types.ts";
import { countLayer } from "../membership.ts";

export interface TopUp {
  placed: { personId: string; groupId: string }[];
  /** Whom no group fits: of another scope, full, or with someone they are kept apart from. */
  without: string[];
}

/** Of each person those whom they are kept apart from, by a rule of the layer or for its forming. */
function keptApart(layer: Layer | undefined): Map<string, Set<string>> {
  const apart = new Map<string, Set<string>>();
  for (const people of [...(layer?.keepApart ?? []), ...(layer?.forming?.apart ?? [])])
    for (const id of people) {
      const others = apart.get(id) ?? new Set<string>();
      for (const other of people) if (other !== id) others.add(other);
      apart.set(id, others);
    }
  return apart;
}

/**
 * Each unplaced student, by name, into the smallest group that fits: of their scope, below its largest size, and
 * without anyone they are kept apart from. Evenness is not kept.
 */
export function topUp(plan: Plan, layerId: string, t: number): TopUp {
  const layer = plan.layers[layerId];
  const count = countLayer(plan, layerId, t);
  const { placementsOfPerson } = lookup(plan);
  const members = new Map(count.groups.map(({ group, personIds }) => [group.id, [...personIds]]));
  const apart = keptApart(layer);
  const groupsAt = (personId: string) =>
    new Set((placementsOfPerson.get(personId) ?? []).filter((row) => holdsAt(row, t)).map(({ groupId }) => groupId));
  const most = (group: Group) => Math.min(group.max ?? Infinity, layer?.forming?.limits?.max ?? Infinity);
  const result: TopUp = { placed: [], without: [] };
  for (const personId of count.unplaced) {
    const own = groupsAt(personId);
    const others = apart.get(personId);
    const fitting = count.groups.filter(({ group }) => {
      const there = members.get(group.id) as string[];
      return (
        (group.scopeGroupId === null || own.has(group.scopeGroupId)) &&
        there.length < most(group) &&
        !there.some((id) => others?.has(id))
      );
    });
    const [smallest] = fitting.sort(
      (a, b) => (members.get(a.group.id)?.length ?? 0) - (members.get(b.group.id)?.length ?? 0),
    );
    if (!smallest) {
      result.without.push(personId);
      continue;
    }
    members.get(smallest.group.id)?.push(personId);
    result.placed.push({ personId, groupId: smallest.group.id });
  }
  return result;
}
