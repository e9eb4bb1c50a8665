/** Mends of dates. */

import { dayAfter, sayWall, wallOf } from "../../clock/local-time.ts";
import { lookup } from "../../plan/lookup.ts";
import type { Item } from "../../plan/types.ts";
import { isAnchor, wallByCalendar } from "../../timing/anchors.ts";
import { freeDays } from "../../timing/meetings.ts";
import { resolveDates, resolvedInstant, resolveField } from "../../timing/resolving/resolve.ts";
import type { Candidate, ItemCase } from "./candidate.ts";

const remove = (overrideId: string): Candidate => ({
  says: "Remove the override",
  commands: [{ kind: "overrides.remove", overrideIds: [overrideId] }],
});

export const ofVainOverride = ({ finding }: ItemCase): Candidate[] => [
  remove(finding.key.slice(finding.key.indexOf("/") + 1)),
];

/** Due on the next day with class, wherever it comes from: the base, or the override that won. */
export function ofFreeDay({ plan, reach, item, finding }: ItemCase): Candidate[] {
  const index = reach.indexOf.get(finding.personIds[0] ?? "");
  if (index === undefined) return [];
  const memberships = reach.memberships(index);
  const { value, origin } = resolveField(plan, item, memberships, "due");
  if (value === null || value === "none" || origin.allowances.length > 0) return [];
  const free = freeDays(plan.course, plan.sections[memberships.calendar.key]);
  let day = String(value).slice(0, 10);
  while (free.has(day)) day = dayAfter(day, 1);
  const due = `${day}T${String(value).slice(11)}`;
  const { target } = origin;
  return [
    {
      says: `Due on the next day with class, ${sayWall(due)}`,
      commands: target
        ? [{ kind: "override.set", itemIds: [item.id], target, dates: { due } }]
        : [{ kind: "dates.set", itemIds: [item.id], dates: { due } }],
    },
  ];
}

/** A fallback: the date that the first other section has. */
export function ofUndated({ plan, reach, item, finding }: ItemCase): Candidate[] {
  const field = (["opens", "due", "closes"] as const).find((one) => finding.key.endsWith(` ${one}`));
  const anchor = field && item.dates[field];
  if (!field || !isAnchor(anchor)) return [];
  const walls = reach
    .calendars()
    .map(({ calendar }) => wallByCalendar(anchor, calendar, plan.course.timeZone))
    .filter((wall) => wall !== null)
    .sort();
  // The latest: nobody without meetings has less time than another.
  const fallback = field === "opens" ? walls[0] : walls.at(-1);
  if (!fallback) return [];
  return [
    {
      says: `Where there is no such meeting, ${sayWall(fallback)}`,
      commands: [{ kind: "dates.set", itemIds: [item.id], dates: { [field]: { ...anchor, fallback } } }],
    },
  ];
}

/** Each override that sets a date out of order for those it touches, taken away. */
export const ofOrder = ({ plan, item }: { plan: ItemCase["plan"]; item: Item }): Candidate[] =>
  (lookup(plan).overridesOfItem.get(item.id) ?? []).map(({ id }) => remove(id));

/** More overrides than this are no mend that somebody could look over. */
const fewEnough = 50;

/** It closes when the minutes of each would be over that begins as it opens: for everybody, or for those alone. */
export function ofTooLittleTime({ plan, reach, item, finding }: ItemCase): Candidate[] {
  const ends = finding.personIds.flatMap((personId) => {
    const index = reach.indexOf.get(personId);
    const dates = index === undefined ? null : resolveDates(plan, item, reach.memberships(index));
    const opens = dates && resolvedInstant(plan, dates, "opens");
    const minutes = dates?.minutes.value;
    return opens === null || typeof minutes !== "number" ? [] : [{ personId, at: opens + minutes * 60_000 }];
  });
  const { timeZone } = plan.course;
  if (ends.length === 0) return [];
  const last = wallOf(Math.max(...ends.map(({ at }) => at)), timeZone);
  const everybody: Candidate = {
    says: `Let it close ${sayWall(last)} for everybody`,
    commands: [{ kind: "dates.set", itemIds: [item.id], dates: { closes: last } }],
  };
  if (ends.length > fewEnough) return [everybody];
  return [
    everybody,
    {
      says: ends.length === 1 ? `Let it close ${sayWall(last)} for them alone` : "Let it close later for each of them",
      commands: ends.map(({ personId, at }) => ({
        kind: "override.set",
        itemIds: [item.id],
        target: { kind: "person", id: personId },
        dates: { closes: wallOf(at, timeZone) },
      })),
    },
  ];
}
