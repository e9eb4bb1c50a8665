import { useMemo } from "react";
import { lookup } from "../../../core/plan/lookup.ts";
import { countBits } from "../../../core/sets/bits.ts";
import { useDraftReview, useParts, useReach, useWorkbench } from "../../workbench/context.tsx";
import { GroupName } from "../GroupName.tsx";
import base from "../station.module.css";
import styles from "./review.module.css";

interface GroupEffects {
  size: number;
  gains: Map<string, number>;
  loses: Map<string, number>;
  dates: number;
}

/** What each group gains and loses: a row a group of the first layer that the draft's effects touch. */
export function ByGroup() {
  const { plan } = useWorkbench();
  const state = useParts("published");
  const reach = useReach();
  const { review } = useDraftReview();
  const { layer, rows } = useMemo(() => {
    const groupIdsOf = (personId: string) => reach.memberships(reach.indexOf.get(personId) ?? -1).groupIds;
    const touchedPeople = review.lines
      .filter(({ effects }) => effects.some(({ kind }) => kind !== "joins" && kind !== "leaves"))
      .flatMap(({ personIds }) => personIds.filter((personId) => reach.indexOf.has(personId)));
    const inGroups = new Set(touchedPeople.flatMap((personId) => [...groupIdsOf(personId)]));
    const { layers, groupsOfLayer } = lookup(plan);
    const first = layers.find(({ id }) => groupsOfLayer.get(id)?.some((group) => inGroups.has(group.id)));
    const groups = first ? (groupsOfLayer.get(first.id) ?? []) : [];
    const found = new Map<string, GroupEffects>();
    const titleOf = (itemId: string | null) =>
      plan.items[itemId ?? ""]?.title ?? state.published.items[itemId ?? ""]?.title ?? "";
    for (const { effects, personIds } of review.lines) {
      const counts = new Map<string, number>();
      for (const personId of personIds) {
        if (!reach.indexOf.has(personId)) continue;
        const mine = groupIdsOf(personId);
        for (const { id } of groups) if (mine.has(id)) counts.set(id, (counts.get(id) ?? 0) + 1);
      }
      for (const [groupId, count] of counts) {
        const size = countBits(reach.members({ kind: "group", id: groupId }));
        const row = found.get(groupId) ?? { size, gains: new Map(), loses: new Map(), dates: 0 };
        found.set(groupId, row);
        const more = (list: Map<string, number>, title: string) => list.set(title, (list.get(title) ?? 0) + count);
        if (effects.some(({ kind }) => kind === "date")) row.dates += count;
        for (const { kind, itemId } of effects) {
          if (kind === "gains" || kind === "gains later") more(row.gains, titleOf(itemId));
          if (kind === "loses" || kind === "loses later") more(row.loses, titleOf(itemId));
        }
      }
    }
    const shownRows = groups.map((group) => ({ group, effects: found.get(group.id) }));
    return { layer: first, rows: shownRows };
  }, [plan, state.published, review, reach]);
  const shown = rows.flatMap(({ group, effects }) =>
    effects && effects.gains.size + effects.loses.size + effects.dates > 0 ? [{ group, ...effects }] : [],
  );
  if (shown.length === 0 || !review.isKnown) return null;
  const list = (found: Map<string, number>, size: number) =>
    [...found].map(([title, count]) => (count === size ? title : `${title} (${count} of ${size})`));
  return (
    <table className={base.table}>
      <thead>
        <tr>
          <th>{layer?.name}</th>
          <th>Gains</th>
          <th>Loses</th>
          <th className={base.number}>Dates move for</th>
        </tr>
      </thead>
      <tbody>
        {shown.slice(0, 12).map(({ group, size, gains, loses, dates }) => (
          <tr key={group.id}>
            <td className={styles.groupCell}>
              <GroupName group={group} />
            </td>
            <td>{few(list(gains, size))}</td>
            <td className={loses.size > 0 ? (base.wrong as string) : ""}>{few(list(loses, size))}</td>
            <td className={base.number}>{dates > 0 ? `${dates} of ${size}` : ""}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const few = (titles: string[]) =>
  titles.length > 4 ? `${titles.slice(0, 4).join(", ")} and ${titles.length - 4} more` : titles.join(", ");
