/** What the spans picture draws: a row a group, in it a bar from opens to due to closes an item, side by side in lanes. */

import { dayOf } from "../../../../core/clock/local-time.ts";
import type { Group, Item } from "../../../../core/plan/types.ts";
import { isForGroup } from "../../../../core/reach/for-groups.ts";
import type { Calendar } from "../../../../core/timing/anchors.ts";
import { freeDaysOf } from "../../../../core/timing/moving/moving.ts";
import { type WorkingTime, workingTime } from "../../../../core/timing/moving/working-time.ts";
import type { MomentField } from "../../../../core/timing/resolving/resolve.ts";
import type { DateTable } from "../../../../core/timing/resolving/table.ts";
import { groupCalendar, usualInGroup } from "../../../../core/timing/resolving/usual.ts";

export const day = 86_400_000;
const [leastLane, mostLane] = [11, 22];
const padding = 10;

export interface Bar {
  key: string;
  item: Item;
  group: Group;
  /** Epoch milliseconds; null where unset or without limit. */
  moments: Record<MomentField, number | null>;
  /** From where to where it is drawn. */
  from: number;
  to: number;
  lane: number;
  /** Members for whom some moment is another. */
  differ: number;
  time: WorkingTime | null;
  /** Out of order, or much shorter than in another group. */
  wrong: boolean;
  short: boolean;
  /** Due on the same day as another item of the group. */
  clashes: boolean;
}
export interface Row {
  group: Group;
  calendar: Calendar;
  free: ReadonlySet<string>;
  bars: Bar[];
  /** How many bars stand above each other. */
  lanes: number;
  /** Pixels: where it begins, how tall it is, and one of its lanes. */
  top: number;
  height: number;
  lane: number;
}

const finite = (number: number): number | null => (Number.isFinite(number) ? number : null);

function barOf(table: DateTable, item: Item, group: Group, calendar: Calendar): Bar | null {
  const usual = (field: MomentField) => usualInGroup(table, item, group, field);
  const [opens, due, closes] = [usual("opens"), usual("due"), usual("closes")];
  const moments = { opens: finite(opens.number), due: finite(due.number), closes: finite(closes.number) };
  const known = [moments.opens, moments.due, moments.closes].filter((one) => one !== null);
  if (known.length === 0) return null;
  const [from, to] = [Math.min(...known), Math.max(...known)];
  return {
    key: `${item.id}/${group.id}`,
    item,
    group,
    moments,
    // What has only an end is drawn with a short run up to it.
    from: moments.opens === null ? from - 2 * day : from,
    to: known.length === 1 && moments.opens !== null ? to + day / 2 : to,
    lane: 0,
    differ: Math.max(opens.differ, due.differ, closes.differ),
    time: workingTime(opens.number, due.number, calendar, table.reach.plan.course.timeZone),
    wrong: from < (moments.opens ?? from) || (moments.closes ?? to) < (moments.due ?? to),
    short: false,
    clashes: false,
  };
}

/** Whether a group has less working time than the longest by more than the course's share. */
function markShort(rows: Row[], share: number): void {
  const longest = new Map<string, number>();
  for (const { bars } of rows)
    for (const { item, time } of bars) if (time) longest.set(item.id, Math.max(longest.get(item.id) ?? 0, time.days));
  for (const { bars } of rows)
    for (const bar of bars) {
      const most = longest.get(bar.item.id) ?? 0;
      bar.short = bar.time !== null && most > 0 && ((most - bar.time.days) / most) * 100 > share;
    }
}

/** Dues of one group on one calendar day. */
function markClashes(bars: Bar[], timeZone: string): void {
  const days = new Map<string, Bar[]>();
  for (const bar of bars) {
    if (bar.moments.due === null) continue;
    const on = dayOf(bar.moments.due, timeZone);
    days.set(on, [...(days.get(on) ?? []), bar]);
  }
  for (const list of days.values()) for (const bar of list) bar.clashes = list.length > 1;
}

export function rowsOf(table: DateTable, groups: Group[], items: Item[]): Row[] {
  const { reach } = table;
  const rows = groups.map((group): Row => {
    const calendar = groupCalendar(reach, group);
    const bars = items
      .filter((item) => isForGroup(reach, item, group.id))
      .map((item) => barOf(table, item, group, calendar))
      .filter((bar) => bar !== null)
      .sort((a, b) => a.from - b.from || a.to - b.to);
    const ends: number[] = [];
    for (const bar of bars) {
      const found = ends.findIndex((until) => until + day / 2 < bar.from);
      bar.lane = found >= 0 ? found : ends.length;
      ends[bar.lane] = bar.to;
    }
    markClashes(bars, reach.plan.course.timeZone);
    const lanes = Math.max(2, ends.length);
    return { group, calendar, free: freeDaysOf(reach, calendar), bars, lanes, top: 0, height: 0, lane: leastLane };
  });
  markShort(rows, reach.plan.course.unequalShare);
  return rows;
}

/** Rows one below the other: as tall as there is room for, and never too thin to be hit. */
export function layOut(rows: Row[], available: number): Row[] {
  const lanes = rows.reduce((sum, row) => sum + row.lanes, 0);
  const room = Math.floor((available - rows.length * padding) / Math.max(1, lanes));
  const lane = Math.min(mostLane, Math.max(leastLane, room));
  let top = 0;
  return rows.map((row) => {
    const height = row.lanes * lane + padding;
    const laid = { ...row, top, height, lane };
    top += height;
    return laid;
  });
}

/** What part of time the picture shows. */
export interface View {
  /** Epoch milliseconds at the left edge. */
  from: number;
  /** Milliseconds a pixel. */
  scale: number;
}
export const xOf = (at: number, view: View): number => (at - view.from) / view.scale;
export const atX = (x: number, view: View): number => view.from + x * view.scale;
export const barTop = (row: Row, bar: Bar): number => row.top + padding / 2 + bar.lane * row.lane;

export interface Hit {
  row: Row;
  bar: Bar;
  /** The edge that is near; null for the body. */
  edge: MomentField | null;
}

/** The bar at a place of the picture, and its edge within some pixels. */
export function hitAt(rows: Row[], x: number, y: number, view: View): Hit | null {
  const row = rows.find(({ top, height }) => top <= y && y < top + height);
  if (!row) return null;
  const reach = 5;
  let found: Hit | null = null;
  for (const bar of row.bars) {
    const top = barTop(row, bar);
    if (y < top - 1 || y > top + row.lane - 1) continue;
    if (x < xOf(bar.from, view) - reach || x > xOf(bar.to, view) + reach) continue;
    const edge =
      (["due", "opens", "closes"] as const).find((field) => {
        const at = bar.moments[field];
        return at !== null && Math.abs(xOf(at, view) - x) <= reach;
      }) ?? null;
    found = { row, bar, edge };
    if (edge) break;
  }
  return found;
}
