/**
 * When an attempt ends: at the earliest of begin + minutes and closes, by the limits of whoever works on it as they stand
 * at each moment. One that becomes longer lengthens it at once; one that becomes shorter does not cut it.
 * Source: semantics.md section 7, attempts. Instants are epoch milliseconds; null: no end by the clock.
 */
import type { Item, Plan } from "../plan/types.ts";
import {
  type Memberships,
  membershipsAt,
  resolveDates,
  resolvedInstant,
  type Value,
} from "../timing/resolving/resolve.ts";

export interface Limits {
  /** How long an attempt takes at most; null: any time. */
  minutes: number | null;
  closes: number | null;
  /** How many attempts; null: any number. */
  attempts: number | null;
  /** What has to be typed to begin; null: nothing. */
  accessWord: string | null;
}

const numberIn = (value: Value): number | null => (typeof value === "number" ? value : null);

/** The limits of somebody with some memberships. */
export function limitsIn(plan: Plan, item: Item, memberships: Memberships): Limits {
  const dates = resolveDates(plan, item, memberships);
  const word = dates.accessWord.value;
  return {
    minutes: numberIn(dates.minutes.value),
    closes: resolvedInstant(plan, dates, "closes"),
    attempts: numberIn(dates.attempts.value),
    accessWord: word === null || word === "none" ? null : String(word),
  };
}

/** The larger of two limits, of which none is the largest. */
export const larger = (one: number | null, other: number | null): number | null =>
  one === null || other === null ? null : Math.max(one, other);
const smaller = (one: number | null, other: number | null): number | null =>
  one === null ? other : other === null ? one : Math.min(one, other);

/**
 * The limits of whoever works on an attempt at t. One that is a group's has the most generous of its members', so that
 * nobody with more time is held to less.
 */
export function limitsOf(plan: Plan, item: Item, personIds: string[], t: number): Limits {
  const all = personIds.map((personId) => limitsIn(plan, item, membershipsAt(plan, personId, t)));
  const [first = { minutes: null, closes: null, attempts: null, accessWord: null }, ...others] = all;
  return others.reduce(
    (found, one) => ({
      minutes: larger(found.minutes, one.minutes),
      closes: larger(found.closes, one.closes),
      attempts: larger(found.attempts, one.attempts),
      accessWord: found.accessWord === null || one.accessWord === null ? null : found.accessWord,
    }),
    first,
  );
}

/** When an attempt that began then ends by some limits; `extra`: minutes that staff gave on the spot, beyond every limit. */
export function endBy(
  begunAt: number,
  { minutes, closes }: Pick<Limits, "minutes" | "closes">,
  extra = 0,
): number | null {
  const end = smaller(minutes === null ? null : begunAt + minutes * 60_000, closes);
  return end === null ? null : Math.max(end, begunAt) + extra * 60_000;
}

/** When an attempt ends that was known to end at `known`, by the limits of now: never sooner than it was known to. */
export const laterEnd = (known: number | null, now: number | null): number | null => larger(known, now);

/** Whether the time of an attempt is over at t; its end is not part of it. */
export const isOver = (endsAt: number | null, t: number): boolean => endsAt !== null && t >= endsAt;
