/** When a student's reach changes by the clock alone. Source: semantics.md section 5, nextChange. */
import { once } from "../memo.ts";
import { type Progress, progressByItem } from "../plan/progress.ts";
import type { Plan } from "../plan/types.ts";
import { hasBit } from "../sets/bits.ts";
import type { Calendar } from "../timing/anchors.ts";
import { instantsOf, instantsOfPerson } from "../timing/instants.ts";
import { membershipsAt } from "../timing/resolving/resolve.ts";
import { reachAt } from "./reach.ts";

/** When the last of all that people did was done. */
const latestOf = once((progress: Progress) => {
  const { marks, handIns, openings, groupMarks } = progressByItem(progress);
  let latest = Number.NEGATIVE_INFINITY;
  const note = (at: number | null) => {
    if (at !== null && at > latest) latest = at;
  };
  for (const kind of [marks, handIns, openings, groupMarks])
    for (const rows of kind.values()) for (const { at } of rows) note(at);
  for (const rows of openings.values()) for (const { readAt } of rows) note(readAt);
  return latest;
});

/** Progress as it was at t: what came later had not happened. */
export function progressAt(progress: Progress, t: number): Progress {
  if (latestOf(progress) <= t) return progress;
  const was = <Row extends { at: number }>(rows: Row[]) => rows.filter(({ at }) => at <= t);
  return {
    marks: was(progress.marks),
    handIns: was(progress.handIns),
    openings: was(progress.openings).map((row) =>
      row.readAt !== null && row.readAt > t ? { ...row, readAt: null } : row,
    ),
    groupMarks: was(progress.groupMarks),
  };
}

/** The items that a student can open at a moment, and only those; null where they are no student then. */
export function openTo(plan: Plan, progress: Progress, personId: string, t: number): Set<string> | null {
  const reach = reachAt(plan, progress, t, [personId]);
  if (reach.students.length === 0) return null;
  return new Set(
    Object.values(plan.items)
      .filter((item) => hasBit(reach.sees(item), 0))
      .map(({ id }) => id),
  );
}

/** Every moment at which a student's reach might change, ascending. */
export function momentsOf(plan: Plan, personId: string): number[] {
  const own = instantsOfPerson(plan, personId);
  // A meeting anchor goes by whatever group or section the student is in at the time.
  const calendars = new Map<string, Calendar>();
  for (const t of own.length > 0 ? own : [0]) {
    const { calendar } = membershipsAt(plan, personId, t);
    calendars.set(calendar.key, calendar);
  }
  return [...new Set([...own, ...instantsOf(plan, [...calendars.values()])])].sort((a, b) => a - b);
}

const sameSet = (a: Set<string> | null, b: Set<string> | null): boolean =>
  a === b || (a !== null && b !== null && a.size === b.size && [...a].every((id) => b.has(id)));

/** The next moment after t at which what a student can open changes, progress as at t; null where it never does. */
export function nextChange(plan: Plan, progress: Progress, personId: string, t: number): number | null {
  const then = progressAt(progress, t);
  const now = openTo(plan, then, personId, t);
  return momentsOf(plan, personId).find((at) => at > t && !sameSet(openTo(plan, then, personId, at), now)) ?? null;
}

/** The last moment up to and before t at which what a student can open became what it was until then; null where none. */
export function lastChange(plan: Plan, progress: Progress, personId: string, t: number): number | null {
  const then = progressAt(progress, t);
  const now = openTo(plan, then, personId, t);
  const before = momentsOf(plan, personId).filter((at) => at <= t);
  for (let at = before.length - 1; at >= 0; at--) {
    const earlier = (before[at - 1] ?? (before[at] as number) - 60_000) as number;
    if (!sameSet(openTo(plan, then, personId, earlier), now)) return before[at] as number;
  }
  return null;
}

/** Every moment of the term at which a student's reach changes, progress as at t, ascending. */
export function changesOf(plan: Plan, progress: Progress, personId: string, t: number): number[] {
  const then = progressAt(progress, t);
  const found: number[] = [];
  let before: Set<string> | null | undefined;
  for (const at of momentsOf(plan, personId)) {
    const now = openTo(plan, then, personId, at);
    if (before === undefined ? now !== null && now.size > 0 : !sameSet(before, now)) found.push(at);
    before = now;
  }
  return found;
}
