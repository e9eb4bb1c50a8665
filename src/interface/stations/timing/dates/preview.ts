/** What a value that is being typed comes to: for each group of the layer, as if it were drafted. */

import { v7 } from "uuid";
import { apply, type Command, type NewCommand } from "../../../../core/plan/apply.ts";
import { isRefusal } from "../../../../core/plan/command.ts";
import type { DateField, Group, Target } from "../../../../core/plan/types.ts";
import { type Reach, reachAt } from "../../../../core/reach/reach.ts";
import type { GivenValue } from "../../../../core/timing/resolving/resolve.ts";
import { dateTable } from "../../../../core/timing/resolving/table.ts";
import { isForGroup, usualInGroup } from "../../../../core/timing/resolving/usual.ts";

/** The command that sets a field for everyone, or for one target. */
export const setting = (
  itemIds: string[],
  target: Target | null,
  field: DateField,
  value: GivenValue | null,
): NewCommand =>
  target
    ? { kind: "override.set", itemIds, target, dates: { [field]: value } }
    : { kind: "dates.set", itemIds, dates: { [field]: value } };

export interface Preview {
  group: Group;
  value: string | number | null;
  differ: number;
}

export function previewOf(
  reach: Reach,
  itemId: string,
  target: Target | null,
  field: DateField,
  value: GivenValue | null,
  groups: Group[],
): Preview[] {
  const command = { ...setting([itemId], target, field, value), id: v7() } as Command;
  const plan = apply(reach.plan, command, { now: reach.t });
  const item = isRefusal(plan) ? undefined : plan.items[itemId];
  if (isRefusal(plan) || !item) return [];
  const table = dateTable(reachAt(plan, reach.given, reach.t));
  return groups
    .filter((group) => isForGroup(table.reach, item, group))
    .map((group) => {
      const { number, differ } = usualInGroup(table, item, group, field);
      return { group, value: table.valueOf(field, number), differ };
    });
}
