/** Commands on named sets of groups, from any layers. Source: semantics.md section 3. */

import { defineCommand, drop, put, refuse } from "../../plan/command.ts";
import { compareText } from "../../plan/lookup.ts";
import { Id, NamedSet, type Plan, type Target } from "../../plan/types.ts";
import { plural } from "../../text/plural.ts";

/** Titles of the items that name a set: in whom they are for, in a condition, or in dates. */
export function itemsOfSet(plan: Plan, setId: string): string[] {
  const hit = ({ kind, id }: Target) => kind === "set" && id === setId;
  const dated = new Set(Object.values(plan.overrides).flatMap(({ itemId, target }) => (hit(target) ? [itemId] : [])));
  // A target is written the same wherever it stands.
  const inside = (value: unknown): boolean =>
    Array.isArray(value)
      ? value.some(inside)
      : typeof value === "object" && value !== null && (hit(value as Target) || Object.values(value).some(inside));
  return Object.values(plan.items)
    .filter(({ id, audience, condition, variants }) => dated.has(id) || inside([audience, condition, variants]))
    .map(({ title }) => title)
    .sort(compareText);
}

export const setCommands = [
  defineCommand(
    "set.save",
    { set: NamedSet },
    {
      apply(plan, { set }) {
        const twin = Object.values(plan.sets).find(
          ({ id, name }) => id !== set.id && compareText(name, set.name) === 0,
        );
        if (twin) return refuse("set.twin", `There is a set called ${twin.name} already. Choose another name.`);
        if (set.groupIds.some((id) => !plan.groups[id]))
          return refuse("group.gone", "A group of the set is no longer there. Choose again.");
        return put(plan, "sets", [{ ...set, groupIds: [...new Set(set.groupIds)] }]);
      },
      describe: (_plan, { set }) => `Set ${set.name} of ${plural(set.groupIds.length, "group")}`,
    },
  ),
  defineCommand(
    "set.remove",
    { setId: Id },
    {
      apply(plan, { setId }) {
        if (!plan.sets[setId]) return refuse("set.gone", "The set is no longer there.");
        const items = itemsOfSet(plan, setId);
        if (items.length > 0)
          return refuse(
            "set.aimed",
            `${items.length} ${items.length === 1 ? "item names" : "items name"} it: ${items.slice(0, 3).join(", ")}. Change whom they are for first.`,
          );
        const allowances = Object.values(plan.allowances).flatMap(({ id, target }) =>
          target.kind === "set" && target.id === setId ? [id] : [],
        );
        return drop(drop(plan, "allowances", allowances), "sets", [setId]);
      },
      describe: (plan, { setId }) => `Remove the set ${plan.sets[setId]?.name ?? ""}`,
    },
  ),
] as const;
