/** Dates of the groups of a layer beside each other: two dues on a day, unequal working time. Section 6, looks over a plan. */

import { dayOf, sayDay } from "../../../clock/local-time.ts";
import { lookup } from "../../../plan/lookup.ts";
import type { Group, Item } from "../../../plan/types.ts";
import { listBits } from "../../../sets/bits.ts";
import { sayNames } from "../../../text/names.ts";
import { plural } from "../../../text/plural.ts";
import type { Calendar } from "../../../timing/anchors.ts";
import { unequalBy, type WorkingTime, workingTime } from "../../../timing/moving/working-time.ts";
import { groupCalendar, usualInGroup } from "../../../timing/resolving/usual.ts";
import { isForGroup } from "../../for-groups.ts";
import { type Finding, finding, shortened, studentsSay } from "../finding.ts";
import type { Dated } from "./dated.ts";

export interface GroupWithCalendar {
  group: Group;
  calendar: Calendar;
}

/** The groups whose dates stand beside each other. */
export const comparedGroups = ({ table: { reach }, layerId }: Dated): GroupWithCalendar[] =>
  (layerId === null ? [] : (lookup(reach.plan).groupsOfLayer.get(layerId) ?? [])).map((group) => ({
    group,
    calendar: groupCalendar(reach, group),
  }));

const peopleOf = ({ table: { reach } }: Dated, groups: Group[]): string[] => {
  const bits = groups.reduce(
    (all, { id }) => reach.sets.either(all, reach.members({ kind: "group", id })),
    reach.sets.nobody,
  );
  return listBits(bits).map((index) => reach.students[index] as string);
};

/** Dues by group and day, gathered item by item. */
export type Dues = Map<Group, Map<string, Item[]>>;

export function noteDues({ table }: Dated, item: Item, groups: GroupWithCalendar[], dues: Dues): void {
  const { timeZone } = table.reach.plan.course;
  for (const { group } of groups) {
    if (!isForGroup(table.reach, item, group.id)) continue;
    const { number } = usualInGroup(table, item, group, "due");
    if (!Number.isFinite(number)) continue;
    const days = dues.get(group) ?? new Map<string, Item[]>();
    dues.set(group, days);
    const day = dayOf(number, timeZone);
    days.set(day, [...(days.get(day) ?? []), item]);
  }
}

/** Two or more dues of one group on one calendar day; groups that have the same are told of together. */
export function sameDay(dated: Dated, dues: Dues): Finding[] {
  const found = new Map<string, { day: string; list: Item[]; groups: Group[] }>();
  for (const [group, days] of dues)
    for (const [day, list] of days) {
      if (list.length < 2) continue;
      const key = `same day/${day}/${list.map(({ id }) => id).join()}`;
      const one = found.get(key) ?? { day, list, groups: [] };
      one.groups.push(group);
      found.set(key, one);
    }
  return [...found].map(([key, { day, list, groups }]) => {
    const personIds = peopleOf(dated, groups);
    const names = groups.map(({ name }) => name);
    return finding(dated.table.reach.plan, {
      // A key is kept with what is let stand: its place for it is not without end.
      key: key.length > 300 ? `same day/${day}/${shortened(key, [])}` : key,
      kind: "same day",
      item: list[0] as Item,
      subject: sayDay(day),
      about: groups.map(({ id }) => id),
      personIds,
      says: `${sayDay(day)}: ${sayNames(list.map(({ title }) => title))} are due, for ${studentsSay(personIds.length)} of ${names.length > 4 ? `${names.length} groups` : names.join(", ")}.`,
      why: "Two or more dues of one group fall on one day.",
    });
  });
}

/** An item for which the working time of groups differs by more than the course's share. */
export function unequalTime(dated: Dated, item: Item, groups: GroupWithCalendar[]): Finding[] {
  const { table } = dated;
  const { reach } = table;
  const { plan } = reach;
  const number = (group: Group, field: "opens" | "due") => usualInGroup(table, item, group, field).number;
  const [opens, due] = [table.common(item, "opens"), table.common(item, "due")];
  // What is one date for all is as much time for all.
  if (opens !== undefined && due !== undefined) return [];
  const times = groups
    .filter(({ group }) => isForGroup(reach, item, group.id))
    .map(({ group, calendar }) => ({
      group,
      time: workingTime(number(group, "opens"), number(group, "due"), calendar, plan.course.timeZone),
    }))
    .filter((one): one is { group: Group; time: WorkingTime } => one.time !== null)
    .sort((a, b) => a.time.days - b.time.days);
  const share = unequalBy(times.map(({ time }) => time));
  const [least, most] = [times[0], times.at(-1)];
  if (!least || !most || share <= plan.course.unequalShare) return [];
  const short = times.filter(({ time }) => time.days === least.time.days).map(({ group }) => group);
  return [
    finding(plan, {
      key: `unequal time/${item.id}`,
      kind: "unequal time",
      item,
      about: times.map(({ group, time }) => [group.id, time.days]),
      personIds: peopleOf(dated, short),
      says: `${item.title}: ${least.group.name} has ${plural(least.time.days, "day")} for it, ${most.group.name} ${most.time.days}.`,
      why: `Working time differs by ${Math.round(share)} %, more than the ${plan.course.unequalShare} % that the course lets pass.`,
    }),
  ];
}
