/**
 * Calendars as lists of entries: what a student sees with its date, what all of a group see, everything for staff; and
 * the class meetings they go by. Nothing in a student's or group's that they may not see. Source: semantics.md 4, 6, 9.
 */

import { sayInstant } from "../clock/local-time.ts";
import { lookup, outlineOrder } from "../plan/lookup.ts";
import type { Group, Item, Plan } from "../plan/types.ts";
import { isEmpty, isSubset, listBits } from "../sets/bits.ts";
import { sayPoints } from "../text/locale.ts";
import { type Calendar, calendarOfRow } from "../timing/anchors.ts";
import type { StudentsAt } from "../timing/resolving/memberships.ts";
import { type Memberships, resolveDates, resolvedInstant } from "../timing/resolving/resolve.ts";
import type { DateTable } from "../timing/resolving/table.ts";
import { groupCalendar } from "../timing/resolving/usual.ts";
import type { Reach } from "./reach.ts";
import type { StudentPage } from "./student-page.ts";

export interface Entry {
  /** The same for as long as it is about the same thing; unique within a calendar. */
  key: string;
  itemId: string | null;
  /** Epoch milliseconds; an entry without an end is a moment. */
  start: number;
  end: number | null;
  title: string;
  place: string;
  /** What else is known of it, a line each: points, and when it opens and closes. */
  text: string;
  /** The kind of item, or "class". */
  category: string;
}

const byStart = (a: Entry, b: Entry) => a.start - b.start || (a.key < b.key ? -1 : 1);
const finite = (number: number): number | null => (Number.isFinite(number) ? number : null);

interface ItemMoments {
  opens: number | null;
  due: number | null;
  closes: number | null;
}
/** An item with a due, or an event with any date, as an entry; null where it has none. */
function entryOf({ course }: Plan, item: Item, { opens, due, closes }: ItemMoments, suffix = ""): Entry | null {
  const key = `${item.kind === "event" ? "event" : "due"}-${item.id}${suffix}`;
  const said = (word: string, at: number | null) => (at === null ? [] : [`${word} ${sayInstant(at, course.timeZone)}`]);
  const text =
    item.kind === "event"
      ? []
      : [
          ...(item.points === null ? [] : [`${sayPoints(item.points)} points`]),
          ...said("Opens", opens),
          ...said("Closes", closes),
        ];
  const about = { key, itemId: item.id, place: "", text: text.join("\n"), category: item.kind };
  if (item.kind === "event") {
    // It starts at what other items call due, and ends at what they call closes; opens is when it is shown.
    const start = due ?? closes ?? opens;
    if (start === null) return null;
    const end = closes;
    return { ...about, start, end: end !== null && end > start ? end : null, title: item.title };
  }
  return due === null ? null : { ...about, start: due, end: null, title: `${item.title} due` };
}

/** The meetings of a calendar. Their keys are their places in the pattern, so that one that moves stays itself. */
function meetingEntries({ key, meetings }: Calendar, title: string): Entry[] {
  return meetings.map(({ number, start, end, place, slot }) => ({
    key: `meeting-${key}-${slot ? `${slot.day}-${slot.start}` : start}`,
    itemId: null,
    start,
    end,
    title: `${title}, meeting ${number}`,
    place,
    text: "",
    category: "class",
  }));
}

const meetingTitle = (plan: Plan, { key }: Calendar): string =>
  plan.sections[key]?.studentTitle ?? plan.groups[key]?.label ?? plan.course.title;

/** Whether a student may be told whose meetings these are: those of a private layer's group are only "Class". */
const toldTitle = (plan: Plan, calendar: Calendar): string => {
  const group = plan.groups[calendar.key];
  return group && plan.layers[group.layerId]?.private ? "Class" : meetingTitle(plan, calendar);
};

/** What one student sees now and has a date for, and their class meetings. */
export function studentEntries({ reach, index, visits }: StudentPage): Entry[] {
  const { plan } = reach;
  const memberships = reach.memberships(index);
  const entries = outlineOrder(plan).flatMap(({ item }) => {
    if (isEmpty(reach.sees(item))) return [];
    const dates = resolveDates(plan, item, memberships);
    const at = (field: "opens" | "due" | "closes") => resolvedInstant(plan, dates, field);
    return entryOf(plan, item, { opens: at("opens"), due: at("due"), closes: at("closes") }) ?? [];
  });
  return [...entries, ...(visits ? [] : studentMeetings({ reach, index }))].sort(byStart);
}

/** The class meetings that one student goes by. */
export function studentMeetings({ reach, index }: Pick<StudentPage, "reach" | "index">): Entry[] {
  const { calendar } = reach.memberships(index);
  return meetingEntries(calendar, toldTitle(reach.plan, calendar));
}

/**
 * What every member of a group sees now, with the dates that they have by being in it and in the sections that all of
 * them are in; and the meetings that most go by. No member's own date, nor one by another group, is told to the rest.
 */
export function groupEntries(reach: Reach, group: Group): Entry[] {
  const { plan } = reach;
  const members = reach.members({ kind: "group", id: group.id });
  if (isEmpty(members)) return [];
  const calendar = groupCalendar(reach, group);
  const sectionIds = Object.keys(plan.sections).filter((id) =>
    isSubset(members, reach.members({ kind: "section", id })),
  );
  const setIds = new Set(lookup(plan).setsOfGroup.get(group.id) ?? []);
  const shared: Memberships = {
    personId: "",
    groupIds: new Set([group.id]),
    sectionIds: new Set(sectionIds),
    setIds,
    calendar,
  };
  const entries = outlineOrder(plan).flatMap(({ item }) => {
    if (!isSubset(members, reach.sees(item))) return [];
    const dates = resolveDates(plan, item, shared);
    const at = (field: "opens" | "due" | "closes") => resolvedInstant(plan, dates, field);
    return entryOf(plan, item, { opens: at("opens"), due: at("due"), closes: at("closes") }) ?? [];
  });
  return [...entries, ...meetingEntries(calendar, toldTitle(plan, calendar))].sort(byStart);
}

/** Every date of every item that somebody it is meant for has, with for how many; and the meetings of each section. */
export function staffEntries(table: DateTable): Entry[] {
  const { reach } = table;
  const { plan } = reach;
  const items = outlineOrder(plan).flatMap(({ item }) => {
    const columns = (["opens", "due", "closes"] as const).map((field) => table.column(item, field));
    const found = new Map<string, { moments: (number | null)[]; indexes: number[] }>();
    for (const index of listBits(reach.meant(item))) {
      const moments = columns.map((column) => finite(column[index] as number));
      const dated = item.kind === "event" ? moments : [null, moments[1] ?? null, null];
      const key = dated.join();
      const one = found.get(key) ?? { moments: dated, indexes: [] };
      one.indexes.push(index);
      found.set(key, one);
    }
    const several = found.size > 1;
    const known = new Set<string>();
    // Most first: theirs is the item's own entry; the others are known by what gives them their date, not by the date.
    return [...found.values()]
      .sort((a, b) => b.indexes.length - a.indexes.length)
      .flatMap(({ moments, indexes }, at) => {
        const [opens, due, closes] = moments as [number | null, number | null, number | null];
        const by = at === 0 ? "" : `-${originOf(reach, item, indexes[0] as number)}`;
        const suffix = known.has(by) ? `${by}-${at}` : by;
        known.add(suffix);
        const entry = entryOf(plan, item, { opens, due, closes }, suffix);
        if (!entry) return [];
        const who = several ? ` (${whoSay(plan, reach.students, indexes)})` : "";
        return { ...entry, title: `${entry.title}${who}` };
      });
  });
  const sections = Object.values(plan.sections).flatMap((section) =>
    meetingEntries(calendarOfRow(plan, section), section.code),
  );
  return [...items, ...sections].sort(byStart);
}

/** What gives a student their date of an item, for as long as it does. */
function originOf(reach: StudentsAt, item: Item, index: number): string {
  const memberships = reach.memberships(index);
  const { due, opens } = resolveDates(reach.plan, item, memberships);
  const { target, anchor, allowances } = (due.value === null ? opens : due).origin;
  return [target?.id ?? "all", anchor ? memberships.calendar.key : "", ...allowances.map(({ id }) => id)].join(".");
}

/** The groups of the layer that follows sections in which some students are, or how many they are. */
function whoSay(plan: Plan, students: readonly string[], indexes: number[]): string {
  const layer = lookup(plan).layers.find(({ following }) => following !== null);
  const ids = new Set(indexes.map((index) => students[index]));
  const groups = layer
    ? (lookup(plan).groupsOfLayer.get(layer.id) ?? []).filter(({ id }) =>
        (lookup(plan).placementsOfGroup.get(id) ?? []).some(
          ({ personId, until }) => until === null && ids.has(personId),
        ),
      )
    : [];
  return groups.length > 0 && groups.length < 4
    ? groups.map(({ name }) => name).join(", ")
    : `${indexes.length} ${indexes.length === 1 ? "student" : "students"}`;
}
