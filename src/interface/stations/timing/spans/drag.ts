/** What a drag in the spans comes to: an edge that snaps to meetings or hours, a body that moves by whole days. */

import { dayOf, daysBetween, instantOf, sayInstant, wallOf } from "../../../../core/clock/local-time.ts";
import type { NewCommand } from "../../../../core/commands.ts";
import type { Moment } from "../../../../core/plan/types.ts";
import type { Reach } from "../../../../core/reach/reach.ts";
import { sayMoment } from "../../../../core/timing/anchors.ts";
import { moveCommands, movesOf } from "../../../../core/timing/moving/moving.ts";
import type { MomentField } from "../../../../core/timing/resolving/resolve.ts";
import { type Bar, day, type Row, type View } from "./model.ts";

const hour = 3600_000;

export type Drag =
  | { kind: "edge"; row: Row; bar: Bar; field: MomentField; at: number }
  | { kind: "body"; bars: Bar[]; grabbed: Bar; from: number; at: number };

export interface Snapped {
  at: number;
  /** As it would be set: the meeting that it snapped to, or a wall-clock time. */
  given: Moment;
  says: string;
}

/** The nearest beginning or end of a meeting within some pixels, otherwise the full hour. */
export function snapTo(at: number, row: Row, view: View, timeZone: string): Snapped {
  const near = 7 * view.scale;
  let best: { at: number; given: Moment } | null = null;
  for (const { number, start, end } of row.calendar.meetings)
    for (const [edge, moment] of [
      ["start", start],
      ["end", end],
    ] as const)
      if (Math.abs(moment - at) < near && (!best || Math.abs(moment - at) < Math.abs(best.at - at)))
        best = { at: moment, given: { meeting: number, edge, days: 0, time: null, fallback: null } };
  if (best) return { ...best, says: `${sayInstant(best.at, timeZone)}, ${sayMoment(best.given)}` };
  const given = wallOf(Math.round(at / hour) * hour, timeZone);
  const wall = `${given.slice(0, 14)}00`;
  return { at: instantOf(wall, timeZone), given: wall, says: sayInstant(instantOf(wall, timeZone), timeZone) };
}

/** By how many days a body is moved. */
export const daysMoved = ({ from, at }: { from: number; at: number }, timeZone: string): number =>
  Math.abs(at - from) < day / 3 ? 0 : daysBetween(dayOf(from, timeZone), dayOf(at, timeZone));

/** A bar with one moment elsewhere. */
export function withMoment(bar: Bar, field: MomentField, at: number): Bar {
  const moments = { ...bar.moments, [field]: at };
  const known = [moments.opens, moments.due, moments.closes].filter((one) => one !== null);
  const [from, to] = [Math.min(...known), Math.max(...known)];
  return {
    ...bar,
    moments,
    from: moments.opens === null ? from - 2 * day : from,
    to,
    wrong: from < (moments.opens ?? from) || (moments.closes ?? to) < (moments.due ?? to),
  };
}

const moved = (bar: Bar, by: number): Bar => ({
  ...bar,
  from: bar.from + by,
  to: bar.to + by,
  moments: {
    opens: bar.moments.opens === null ? null : bar.moments.opens + by,
    due: bar.moments.due === null ? null : bar.moments.due + by,
    closes: bar.moments.closes === null ? null : bar.moments.closes + by,
  },
});

/** Bars as they would stand, and what is said of it, while the drag goes on. */
export function dragged(drag: Drag, view: View, timeZone: string): { bars: Map<string, Bar>; says: string } {
  if (drag.kind === "edge") {
    const { at, says } = snapTo(drag.at, drag.row, view, timeZone);
    const bar = withMoment(drag.bar, drag.field, at);
    const fault = bar.wrong ? ", out of order" : "";
    return {
      bars: new Map([[bar.key, bar]]),
      says: `${bar.item.title}, ${bar.group.name}: ${drag.field} ${says}${fault}`,
    };
  }
  const days = daysMoved(drag, timeZone);
  const bars = new Map(drag.bars.map((bar) => [bar.key, moved(bar, days * day)]));
  const one =
    drag.bars.length === 1 ? `${drag.grabbed.item.title}, ${drag.grabbed.group.name}` : `${drag.bars.length} bars`;
  return { bars, says: `${one}: ${days > 0 ? "+" : ""}${days} ${Math.abs(days) === 1 ? "day" : "days"}` };
}

/** What letting go drafts. */
export function dropped(drag: Drag, view: View, reach: Reach): NewCommand[] {
  const { timeZone } = reach.plan.course;
  if (drag.kind === "edge") {
    const { bar, field } = drag;
    const { at, given } = snapTo(drag.at, drag.row, view, timeZone);
    if (at === bar.moments[field]) return [];
    return [
      {
        kind: "override.set",
        itemIds: [bar.item.id],
        target: { kind: "group", id: bar.group.id },
        dates: { [field]: given },
      },
    ];
  }
  const count = daysMoved(drag, timeZone);
  return count === 0 ? [] : moveCommands(movesOf(reach, drag.bars, { unit: "days", count }));
}
