/** What a value that is being typed comes to: for each group of the layer, as if it were drafted. */

import { v7 } from "uuid";
import { apply, type Command } from "../../../../core/commands.ts";
import { isRefusal } from "../../../../core/plan/command.ts";
import type { DateField, Group, Target } from "../../../../core/plan/types.ts";
import { isForGroup } from "../../../../core/reach/for-groups.ts";
import { type Reach, reachAt } from "../../../../core/reach/reach.ts";
import type { GivenValue } from "../../../../core/timing/resolving/resolve.ts";
import { dateTable } from "../../../../core/timing/resolving/table.ts";
import { usualInGroup } from "../../../../core/timing/resolving/usual.ts";
import { setting } from "../../../../core/timing/typing/pasted-dates.ts";

export interface Preview {
  group: Group;
  value: string | number | null;
  /** Whether it is the same on all of the items; if not, the value is that of the first. */
  alike: boolean;
  differ: number;
}

export function previewOf(
  reach: Reach,
  itemIds: string[],
  target: Target | null,
  field: DateField,
  value: GivenValue | null,
  groups: Group[],
): Preview[] {
  const command = { ...setting(itemIds, target, { [field]: value }), id: v7() } as Command;
  const plan = apply(reach.plan, command, { now: reach.t });
  if (isRefusal(plan)) return [];
  const items = itemIds.flatMap((id) => plan.items[id] ?? []);
  const table = dateTable(reachAt(plan, reach.rawProgress, reach.t));
  return groups.flatMap((group) => {
    const usual = items
      .filter((item) => isForGroup(table.reach, item, group.id))
      .map((item) => usualInGroup(table, item, group, field));
    const [first] = usual;
    if (!first) return [];
    return [
      {
        group,
        value: table.valueOf(field, first.number),
        alike: usual.every(({ number }) => Object.is(number, first.number)),
        differ: Math.max(...usual.map(({ differ }) => differ)),
      },
    ];
  });
}
