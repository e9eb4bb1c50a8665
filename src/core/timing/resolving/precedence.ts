/** Which of two targets comes first by the course's layer order. Source: semantics.md section 6, step 2. */
import type { Override, Plan, Target } from "../../plan/types.ts";
import type { Memberships } from "./memberships.ts";

/**
 * Where a target's layer stands in the course's order, and the group in its layer: smaller comes first. A named set
 * stands where the student's first group in it does.
 */
export function precedence(plan: Plan, target: Target, memberships: Memberships): readonly [number, number] {
  const place = (groupId: string) =>
    [layerRank(plan, { kind: "group", id: groupId }), groupRank(plan, groupId)] as const;
  if (target.kind === "group") return place(target.id);
  if (target.kind !== "set") return [layerRank(plan, target), 0];
  const theirs = (plan.sets[target.id]?.groupIds ?? []).filter((id) => memberships.groupIds.has(id)).map(place);
  return theirs.sort((a, b) => a[0] - b[0] || a[1] - b[1])[0] ?? [Number.MAX_SAFE_INTEGER - 1, 0];
}

/** Where the layer of a target stands in the course's order: smaller comes first. */
export function layerRank(plan: Plan, target: Target): number {
  const order = plan.course.layerOrder;
  if (target.kind === "section") {
    const placed = order.indexOf("sections");
    return placed >= 0 ? placed : Number.MAX_SAFE_INTEGER;
  }
  const layer = plan.layers[plan.groups[target.id]?.layerId ?? ""];
  if (!layer) return Number.MAX_SAFE_INTEGER - 1;
  const placed = order.indexOf(layer.id);
  return placed >= 0 ? placed : order.length + layer.position;
}

const groupRank = (plan: Plan, groupId: string): number => plan.groups[groupId]?.position ?? 0;

/**
 * Overrides one by one as their targets stand: a named set stands where the student's first group in it does, so its
 * groups stand for it.
 */
export const singly = (plan: Plan, overrides: readonly Override[]) =>
  overrides.flatMap((override) => {
    const { target } = override;
    const targets: Target[] =
      target.kind === "set" ? (plan.sets[target.id]?.groupIds ?? []).map((id) => ({ kind: "group", id })) : [target];
    return targets.map((one) => ({
      target: one,
      override,
      place: () => [layerRank(plan, one), one.kind === "group" ? groupRank(plan, one.id) : 0] as const,
    }));
  });

/** Overrides of groups and sections in the order in which layers decide; one list for all where the most generous does. */
export function inOrder(plan: Plan, overrides: Override[]): { target: Target; override: Override }[][] {
  const single = singly(plan, overrides).filter(({ target }) => target.kind !== "person");
  if (plan.course.datePolicy !== "layer order") return [single];
  const ranks = new Map<number, typeof single>();
  for (const one of single) {
    const [rank] = one.place();
    ranks.set(rank, [...(ranks.get(rank) ?? []), one]);
  }
  return [...ranks].sort(([a], [b]) => a - b).map(([, list]) => list);
}
