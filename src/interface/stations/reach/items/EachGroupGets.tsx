import { useMemo } from "react";
import { lookup } from "../../../../core/plan/lookup.ts";
import type { DateField, Group, Item, ItemKind, Plan } from "../../../../core/plan/types.ts";
import { isForGroup } from "../../../../core/reach/for-groups.ts";
import type { Reach } from "../../../../core/reach/reach.ts";
import { fieldTitle } from "../../../../core/timing/field-titles.ts";
import { dateTable } from "../../../../core/timing/resolving/table.ts";
import { usualInGroup } from "../../../../core/timing/resolving/usual.ts";
import { Few } from "../../../kit/Few.tsx";
import { useReach } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { sayValue } from "../../timing/sayValue.ts";
import { momentsOf } from "./item-commands.ts";
import styles from "./items.module.css";

/** The layer whose groups an item is for, or the one whose meetings dates go by. */
function layerOf(plan: Plan, { audience }: Item): string | null {
  const named = audience.to === "everyone" ? [] : audience.to.filter(({ kind }) => kind === "group");
  return plan.groups[named[0]?.id ?? ""]?.layerId ?? plan.course.meetingLayerId;
}

interface Got {
  field: DateField;
  groups: { group: Group; says: string }[];
}

/** The dates that are not the same for all groups that an item is for. */
function datesThatDiffer(reach: Reach, item: Item): Got[] {
  const { plan } = reach;
  const groups = (lookup(plan).groupsOfLayer.get(layerOf(plan, item) ?? "") ?? []).filter((group) =>
    isForGroup(reach, item, group.id),
  );
  const table = dateTable(reach);
  return momentsOf(item.kind).flatMap((field) => {
    const all = groups.map((group) => {
      const { number } = usualInGroup(table, item, group, field);
      return { group, says: sayValue(table.valueOf(field, number)) };
    });
    return all.every(({ says }) => says === all[0]?.says) ? [] : [{ field, groups: all }];
  });
}

/** What each group gets of an item's dates, where they are not the same for all. */
export function EachGroupGets({ itemId, kind }: { itemId: string; kind: ItemKind }) {
  const reach = useReach();
  const item = reach.plan.items[itemId];
  const found = useMemo(() => (item ? datesThatDiffer(reach, item) : []), [reach, item]);
  if (found.length === 0) return null;
  return (
    <section className={styles.gets} aria-label="What each group gets">
      {found.map(({ field, groups }) => (
        <div key={field}>
          <span className={base.soft}>{fieldTitle(field, kind)}</span>
          <ul>
            <Few of={groups} most={4}>
              {({ group, says }) => (
                <li key={group.id}>
                  {group.name}: <strong>{says}</strong>
                </li>
              )}
            </Few>
          </ul>
        </div>
      ))}
    </section>
  );
}
