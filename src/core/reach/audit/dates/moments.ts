/**
 * Dates that cannot be meant, item by item: out of order, without a date, due when there is no class, due before the
 * meeting before. Source: semantics.md section 6.
 */

import { dayOf, sayDay } from "../../../clock/local-time.ts";
import { lookup } from "../../../plan/lookup.ts";
import type { Item } from "../../../plan/types.ts";
import { type Bits, eachBit, hasBit, isEmpty, listBits } from "../../../sets/bits.ts";
import { type Calendar, isAnchor } from "../../../timing/anchors.ts";
import { freeDays } from "../../../timing/meetings.ts";
import { momentFields, orderFault, resolveField } from "../../../timing/resolving/resolve.ts";
import { type Finding, type FindingKind, finding, studentsSay } from "../finding.ts";
import type { Dated } from "./dated.ts";

/** A finding about an item's dates, for some students by their place in the reach. */
export function about(
  { table }: Dated,
  item: Item,
  kind: FindingKind,
  what: string,
  indexes: number[],
  why: string,
): Finding {
  const { plan, students } = table.reach;
  const personIds = indexes.sort((a, b) => a - b).map((index) => students[index] as string);
  return finding(plan, {
    key: `${kind}/${item.id}/${what}`,
    kind,
    item,
    personIds,
    says: `${item.title}: ${what}, for ${studentsSay(personIds.length)}.`,
    why,
  });
}

/** Students by a text that is said of each. */
function sorted(bits: Bits, says: (index: number) => string | null): Map<string, number[]> {
  const found = new Map<string, number[]>();
  eachBit(bits, (index) => {
    const text = says(index);
    if (text === null) return;
    const list = found.get(text);
    if (list) list.push(index);
    else found.set(text, [index]);
  });
  return found;
}

const instantIn = (number: number): number | null => (Number.isFinite(number) ? number : null);

/** Opens ≤ due ≤ closes must hold for everyone an item is meant for. */
export function outOfOrder(dated: Dated, item: Item): Finding[] {
  const { table } = dated;
  // NaN compares false: only what is set can be out of order.
  const fault = (a: number, b: number, c: number) =>
    b < a || c < b || c < a ? orderFault(instantIn(a), instantIn(b), instantIn(c)) : null;
  const [a, b, c] = momentFields.map((field) => table.common(item, field)) as (number | undefined)[];
  const isCommon = a !== undefined && b !== undefined && c !== undefined;
  if (isCommon && fault(a, b, c) === null) return [];
  const columns = momentFields.map((field) => table.column(item, field));
  const [opens, due, closes] = columns as [Float64Array, Float64Array, Float64Array];
  const wrong = sorted(table.reach.meant(item), (index) =>
    fault(opens[index] as number, due[index] as number, closes[index] as number),
  );
  return [...wrong].map(([says, indexes]) =>
    about(
      dated,
      item,
      "dates",
      says,
      indexes,
      "Opens, due and closes must come in this order, for everyone they are resolved for.",
    ),
  );
}

/**
 * Students whose minutes for an attempt do not fit between its opens and closes: it ends when it closes, so that nobody of
 * them has all of their time, however early they begin. Extra time is in their minutes.
 */
export function tooLittleTime(dated: Dated, item: Item): Finding[] {
  if (item.kind !== "quiz" && item.kind !== "assignment") return [];
  const { table } = dated;
  const [opens, closes, minutes] = (["opens", "closes", "minutes"] as const).map((field) => table.column(item, field));
  const short = sorted(table.reach.meant(item), (index) => {
    const theirs = minutes?.[index] as number;
    const window = Math.floor(((closes?.[index] as number) - (opens?.[index] as number)) / 60_000);
    if (!Number.isFinite(theirs) || !Number.isFinite(window) || window < 0 || window >= theirs) return null;
    return `${theirs} minutes are theirs, and it is open for ${window}`;
  });
  const why =
    "An attempt ends when it closes, whatever is left of its minutes: extra time is lost. Let it close later.";
  return [...short].map(([says, indexes]) => about(dated, item, "too little time", says, indexes, why));
}

/** Students whose date, of the item or of an override for them, is anchored to a meeting that is not there. */
export function undated(dated: Dated, item: Item): Finding[] {
  const { table } = dated;
  const { plan } = table.reach;
  const overrides = lookup(plan).overridesOfItem.get(item.id) ?? [];
  return momentFields
    .filter((field) => [item, ...overrides].some(({ dates }) => isAnchor(dates[field])))
    .flatMap((field) => {
      const column = table.column(item, field);
      const lacks = (index: number): boolean =>
        Number.isNaN(column[index]) &&
        (isAnchor(item.dates[field]) ||
          overrides.some(({ dates, target }) => isAnchor(dates[field]) && hasBit(table.reach.members(target), index)));
      const [[says, indexes] = [null, []]] = sorted(table.reach.meant(item), (index) =>
        lacks(index) ? `no date for ${field}` : null,
      );
      const why =
        "The date is given as a class meeting that their section does not have, and nothing is said for that case.";
      return says === null ? [] : about(dated, item, "no date", says, indexes, why);
    });
}

/** Students by their calendar, with those an item is meant for. */
const byCalendar = ({ table }: Dated, item: Item): { calendar: Calendar; bits: Bits }[] => {
  const { reach } = table;
  const meant = reach.meant(item);
  return reach
    .calendars()
    .map(({ calendar, bits }) => ({ calendar, bits: reach.sets.both(bits, meant) }))
    .filter(({ bits }) => !isEmpty(bits));
};

/** Dues on a day on which the student has no class. */
export function dueOnFreeDay(dated: Dated, item: Item): Finding[] {
  const { table } = dated;
  const { plan } = table.reach;
  const common = table.common(item, "due");
  if (common !== undefined && !Number.isFinite(common)) return [];
  const found = new Map<string, number[]>();
  for (const { calendar, bits } of byCalendar(dated, item)) {
    const days = freeDays(plan.course, plan.sections[calendar.key] ?? plan.groups[calendar.key]);
    if (days.size === 0) continue;
    const says = onFreeDay(days, plan.course.timeZone);
    if (common !== undefined && says(common) === null) continue;
    const column = table.column(item, "due");
    for (const [text, indexes] of sorted(bits, (index) => says(column[index] as number)))
      found.set(text, [...(found.get(text) ?? []), ...indexes]);
  }
  return [...found].map(([says, indexes]) =>
    about(dated, item, "no-class day", says, indexes, "Nobody is there on that day to be asked or reminded."),
  );
}

/** What is said of a due that falls on one of some days; each is looked at once. */
function onFreeDay(days: ReadonlySet<string>, timeZone: string): (due: number) => string | null {
  const known = new Map<number, string | null>();
  return (due) => {
    if (!Number.isFinite(due)) return null;
    let says = known.get(due);
    if (says === undefined) {
      const day = dayOf(due, timeZone);
      says = days.has(day) ? `due on ${sayDay(day)}, a day without class` : null;
      known.set(due, says);
    }
    return says;
  };
}

/** Dues anchored to meeting n that fall before meeting n − 1 begins, as each student has them, extensions included. */
export function dueBeforeMeeting(dated: Dated, item: Item): Finding[] {
  const { table } = dated;
  const { plan } = table.reach;
  const anchors = [item.dates.due, ...(lookup(plan).overridesOfItem.get(item.id) ?? []).map(({ dates }) => dates.due)]
    .filter(isAnchor)
    .filter(({ meeting }) => typeof meeting === "number" && meeting > 1);
  return anchors.flatMap((anchor) => {
    const number = anchor.meeting as number;
    const column = table.column(item, "due");
    const indexes = byCalendar(dated, item).flatMap(({ calendar, bits }) => {
      const [earlier, meeting] = [calendar.meetings[number - 2], calendar.meetings[number - 1]];
      if (!earlier || !meeting) return [];
      return listBits(bits).filter(
        (index) =>
          (column[index] as number) < earlier.start &&
          resolveField(plan, item, table.reach.memberships(index), "due").origin.anchor === anchor,
      );
    });
    const says = `due by meeting ${number}, but before meeting ${number - 1} begins`;
    const why = "What is due by a meeting is usually prepared in the one before it.";
    return indexes.length === 0 ? [] : about(dated, item, "before meeting", says, indexes, why);
  });
}
