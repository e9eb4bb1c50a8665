/** Who meets whom, slow and obvious, straight from semantics.md section 4. */
import { isIn, type World } from "./condition-oracle.ts";
import { sees } from "./oracle.ts";

/** Section 4, who sees whom: whether two students both reach one surface. */
export function meet(world: World, a: string, b: string): boolean {
  const { plan, t } = world;
  const both = (groupId: string) => [a, b].every((s) => isIn(world, s, { kind: "group", id: groupId }));
  const inLayer = (s: string, layerId: string) =>
    Object.values(plan.groups).some((one) => one.layerId === layerId && isIn(world, s, { kind: "group", id: one.id }));
  const shareGroup = (layerId: string) =>
    Object.values(plan.groups).some((one) => one.layerId === layerId && both(one.id));
  const { classList } = plan.course;
  if (classList.to === "everyone" || (classList.to === "layer" && shareGroup(classList.layerId))) return true;
  if (
    Object.values(plan.layers).some(
      ({ selfPlacement }) => selfPlacement?.showNames && selfPlacement.opens === null && t > 0,
    )
  )
    return true;
  // A page that shows who is in it, or lets members put something there.
  if (
    Object.values(plan.groups).some(
      ({ id, page }) =>
        page && both(id) && (page.has.some((part) => part !== "items") || page.may.some((one) => one !== "rename")),
    )
  )
    return true;
  return Object.values(plan.items).some((item) => {
    if (!sees(world, a, item) || !sees(world, b, item)) return false;
    if (!item.split) return item.kind === "discussion";
    const { layerId, between } = item.split;
    return between === "sealed" ? shareGroup(layerId) : inLayer(a, layerId) && inLayer(b, layerId);
  });
}
export const inGroup = (world: World, s: string, groupId: string): boolean =>
  isIn(world, s, { kind: "group", id: groupId });
