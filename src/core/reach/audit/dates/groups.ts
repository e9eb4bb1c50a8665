/** Dates of the groups of a layer beside each other: two dues on a day, unequal working time. Section 6, looks over a plan. */
import { lookup } from "../../../plan/lookup.ts";
import type { Group, Item } from "../../../plan/types.ts";
import { groupCalendar, isForGroup, usualInGroup } from "../../../timing/usual.ts";
import { dayOf, sayDay } from "../../../timing/wall.ts";
import { unequalBy, workingTime } from "../../../timing/working-time.ts";
import { listBits } from "../../bits.ts";
import { type Finding, finding, shortened, studentsSay } from "../finding.ts";
import type { Dated } from "./dated.ts";

const groupsOf = ({ table, layerId }: Dated): Group[] =>
  layerId === null ? [] : (lookup(table.reach.plan).groupsOfLayer.get(layerId) ?? []);

const peopleOf = ({ table: { reach } }: Dated, groups: Group[]): string[] => {
  const bits = groups.reduce(
    (all, { id }) => reach.sets.either(all, reach.members({ kind: "group", id })),
    reach.sets.nobody,
  );
  return listBits(bits).map((index) => reach.students[index] as string);
};

/** Two or more dues of one group on one calendar day. */
export function sameDay(dated: Dated): Finding[] {
  const { table, items } = dated;
  const { plan } = table.reach;
  // Groups that have the same dues on a day are told of together.
  const found = new Map<string, { day: string; list: Item[]; groups: Group[] }>();
  for (const group of groupsOf(dated)) {
    const days = new Map<string, Item[]>();
    for (const item of items) {
      if (!isForGroup(table.reach, item, group)) continue;
      const { number } = usualInGroup(table, item, group, "due");
      if (!Number.isFinite(number)) continue;
      const day = dayOf(number, plan.course.timeZone);
      days.set(day, [...(days.get(day) ?? []), item]);
    }
    for (const [day, list] of days) {
      if (list.length < 2) continue;
      const key = `same day/${day}/${list.map(({ id }) => id).join()}`;
      const one = found.get(key) ?? { day, list, groups: [] };
      one.groups.push(group);
      found.set(key, one);
    }
  }
  return [...found].map(([key, { day, list, groups }]) => {
    const personIds = peopleOf(dated, groups);
    const names = groups.map(({ name }) => name);
    return finding(plan, {
      // A key is kept with what is let stand: its place for it is not without end.
      key: key.length > 300 ? `same day/${day}/${shortened(key, [])}` : key,
      kind: "same day",
      item: list[0] as Item,
      subject: sayDay(day),
      about: groups.map(({ id }) => id),
      personIds,
      says: `${sayDay(day)}: ${list.map(({ title }) => title).join(" and ")} are due, for ${studentsSay(personIds.length)} of ${names.length > 4 ? `${names.length} groups` : names.join(", ")}.`,
      why: "Two or more dues of one group fall on one day.",
    });
  });
}

/** Items for which the working time of groups differs by more than the course's share. */
export function unequalTime(dated: Dated): Finding[] {
  const { table, items } = dated;
  const { reach } = table;
  const { plan } = reach;
  const groups = groupsOf(dated).map((group) => ({ group, calendar: groupCalendar(reach, group) }));
  return items.flatMap((item) => {
    const times = groups
      .filter(({ group }) => isForGroup(reach, item, group))
      .map(({ group, calendar }) => {
        const [opens, due] = [usualInGroup(table, item, group, "opens"), usualInGroup(table, item, group, "due")];
        return { group, time: workingTime(opens.number, due.number, calendar, plan.course.timeZone) };
      })
      .filter((one) => one.time !== null) as { group: Group; time: { days: number; meetings: number } }[];
    const share = unequalBy(times.map(({ time }) => time));
    if (share <= plan.course.unequalShare) return [];
    const byDays = [...times].sort((a, b) => a.time.days - b.time.days);
    const [least, most] = [byDays[0], byDays.at(-1)] as [(typeof times)[0], (typeof times)[0]];
    const short = times.filter(({ time }) => time.days === least.time.days).map(({ group }) => group);
    return finding(plan, {
      key: `unequal time/${item.id}`,
      kind: "unequal time",
      item,
      about: times.map(({ group, time }) => [group.id, time.days]),
      personIds: peopleOf(dated, short),
      says: `${item.title}: ${least.group.name} has ${least.time.days} days for it, ${most.group.name} ${most.time.days}.`,
      why: `Working time differs by ${Math.round(share)} %, more than the ${plan.course.unequalShare} % that the course lets pass.`,
    });
  });
}
