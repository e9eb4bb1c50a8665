/** The date that most members of a group have, and how many have another. */

import { instantOf } from "../../clock/local-time.ts";
import { meetsItself } from "../../plan/groups.ts";
import { lookup } from "../../plan/lookup.ts";
import type { DateField, Group, Item } from "../../plan/types.ts";
import { type Bits, eachBit, isEmpty } from "../../sets/bits.ts";
import { type Calendar, calendarOf, calendarOfRow, wallByCalendar } from "../anchors.ts";
import type { StudentsAt } from "./memberships.ts";
import { isMomentField } from "./resolve.ts";
import type { DateTable } from "./table.ts";

export interface Usual {
  /** As in a column of the table: epoch milliseconds or a limit, NaN unset, infinite "none". */
  number: number;
  /** Members who have another. */
  differ: number;
}

/** The number that most of some students have. */
export function usualOf(column: Float64Array, members: Bits): Usual {
  const counts = new Map<number, number>();
  let [all, last, run] = [0, Number.NaN, 0];
  const note = () => run > 0 && counts.set(last, (counts.get(last) ?? 0) + run);
  eachBit(members, (index) => {
    const number = column[index] as number;
    all++;
    // Most who stand beside each other have the same.
    if (run > 0 && (number === last || (Number.isNaN(number) && Number.isNaN(last)))) run++;
    else {
      note();
      [last, run] = [number, 1];
    }
  });
  note();
  let [number, most] = [Number.NaN, 0];
  for (const [value, count] of counts) if (count > most) [number, most] = [value, count];
  return { number, differ: all - most };
}

/** Whose meetings most members of a group go by; of an empty group those of the section that it follows. */
export function groupCalendar(reach: StudentsAt, group: Group): Calendar {
  const { plan } = reach;
  if (group.layerId === plan.course.meetingLayerId && meetsItself(group)) return calendarOfRow(plan, group);
  const members = reach.members({ kind: "group", id: group.id });
  let [most, found] = [0, null as Calendar | null];
  for (const { calendar, bits } of reach.calendars()) {
    let count = 0;
    eachBit(reach.sets.both(bits, members), () => count++);
    if (count > most) [most, found] = [count, calendar];
  }
  if (found) return found;
  const rule = plan.layers[group.layerId]?.following?.find(({ groupId }) => groupId === group.id);
  const section = rule?.sectionIds.map((id) => plan.sections[id]).find((one) => one !== undefined);
  return section ? calendarOfRow(plan, section) : calendarOf(plan, "", new Set(), 0);
}

/** What an item's field usually is in a group; of an empty group what its own override or the base says. */
export function usualInGroup(table: DateTable, item: Item, group: Group, field: DateField): Usual {
  const { plan } = table.reach;
  const members = table.reach.members({ kind: "group", id: group.id });
  if (!isEmpty(members)) {
    const common = table.common(item, field);
    return common === undefined ? usualOf(table.column(item, field), members) : { number: common, differ: 0 };
  }
  const own = (lookup(plan).overridesOfItem.get(item.id) ?? []).find(
    ({ target }) => target.kind === "group" && target.id === group.id,
  );
  const given = own?.dates[field] ?? item.dates[field];
  if (given === undefined || given === "none" || !isMomentField(field))
    return { number: typeof given === "number" ? given : Number.NaN, differ: 0 };
  const wall = wallByCalendar(given as never, groupCalendar(table.reach, group), plan.course.timeZone);
  return { number: wall === null ? Number.NaN : instantOf(wall, plan.course.timeZone), differ: 0 };
}
