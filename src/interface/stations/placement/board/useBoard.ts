/** The columns of a board: who is unplaced, then each group's people, as the switches leave them. */
import { useMemo } from "react";
import { type LayerCount, placementsAt } from "../../../../core/placement/membership.ts";
import type { Place } from "../../../../core/placement/moving.ts";
import { fullName, holdsAt, lookup } from "../../../../core/plan/lookup.ts";
import type { Group, Plan } from "../../../../core/plan/types.ts";
import { holdsWords } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";

export interface Column {
  group: Group | null;
  places: Place[];
  /** Students of the group, whether they are shown or not. */
  size: number;
  held: ReadonlySet<string>;
}
export interface Switches {
  text: string;
  onlyUnplaced: boolean;
  /** Only those who are in no group of this layer. */
  notIn: string | null;
  staff: boolean;
}
export const allShown: Switches = { text: "", onlyUnplaced: false, notIn: null, staff: false };

export const staffAt = (plan: Plan, t: number): string[] => [
  ...new Set(
    Object.values(plan.enrolments)
      .filter((row) => ["instructor", "support", "coordinator"].includes(row.role) && holdsAt(row, t))
      .map(({ personId }) => personId),
  ),
];

export function useColumns(count: LayerCount, { text, onlyUnplaced, notIn, staff }: Switches): Column[] {
  const { plan, t } = useWorkbench();
  return useMemo(() => {
    const holds = holdsWords(text);
    const elsewhere = new Set(notIn ? placementsAt(plan, notIn, t).map(({ personId }) => personId) : []);
    const isShown = (personId: string) => {
      const person = plan.people[personId];
      if (!person || elsewhere.has(personId)) return false;
      return holds(`${fullName(person)} ${person.sourcedId} ${person.email ?? ""}`);
    };
    const isStaff = new Set(staffAt(plan, t));
    const { placementsOfGroup } = lookup(plan);
    const placed = new Set<string>();
    const columns = count.groups.map(({ group, personIds }): Column => {
      const open = (placementsOfGroup.get(group.id) ?? []).filter((row) => holdsAt(row, t));
      const theirs = open.map(({ personId }) => personId).filter((id) => isStaff.has(id) && !personIds.includes(id));
      for (const id of theirs) placed.add(id);
      return {
        group,
        places: [...theirs, ...personIds].filter(isShown).map((personId) => ({ personId, groupId: group.id })),
        size: personIds.length,
        held: new Set(open.filter(({ held }) => held).map(({ personId }) => personId)),
      };
    });
    const free = staff ? [...isStaff].filter((id) => !placed.has(id)) : [];
    const none: Column = {
      group: null,
      places: [...free, ...count.unplaced].filter(isShown).map((personId) => ({ personId, groupId: null })),
      size: count.unplaced.length,
      held: new Set(),
    };
    return onlyUnplaced ? [none] : [none, ...columns];
  }, [plan, t, count, text, onlyUnplaced, notIn, staff]);
}
