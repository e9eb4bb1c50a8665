/** When a repeated entry of a calendar (RFC 5545, 3.8.5) takes place within some days, in its own zone's local time. */
import type ICAL from "ical.js";
import * as library from "rrule";

// One build of the library has the class as an export, the other within its default.
const { RRule } = "RRule" in library ? library : (library as { default: typeof library }).default;

/** However often something repeats within the days asked for, no more of it is read. */
const most = 2000;
const dayMs = 86_400_000;

/** Local times as the library reckons with them: as if they were UTC. */
export const asUtc = (wall: string): number => Date.parse(`${wall.length === 10 ? `${wall}T00:00` : wall}:00Z`);
const asWall = (moment: Date): string => moment.toISOString().slice(0, 16);

const steps: Partial<Record<string, number>> = {
  SECONDLY: 1000,
  MINUTELY: 60_000,
  HOURLY: 3_600_000,
  DAILY: dayMs,
  WEEKLY: 7 * dayMs,
};

/** A beginning of the same rhythm shortly before a moment, where nothing is counted from the first: years need not be walked. */
function startNear(start: number, before: number, rule: ICAL.Recur): number {
  const step = steps[rule.freq];
  if (step === undefined || rule.count || before <= start) return start;
  const stride = step * Math.max(1, rule.interval ?? 1);
  return start + Math.max(0, Math.floor((before - start) / stride) - 1) * stride;
}

/** The local times at which something takes place by a rule, from one moment to another (as `asUtc` has them), ascending. */
export function repeatedBetween(start: string, rule: ICAL.Recur, from: number, until: number): string[] {
  // The end of a rule may be in another zone, or a day: it is looked at where instants are known.
  const text = rule.toString().replace(/;?UNTIL=[^;]*/i, "");
  const dtstart = new Date(startNear(asUtc(start), from, rule));
  const found: string[] = [];
  new RRule({ ...RRule.parseString(text.replace(/^;/, "")), dtstart }).between(
    new Date(from),
    new Date(until),
    true,
    (moment, at) => {
      if (at >= most) return false;
      found.push(asWall(moment));
      return true;
    },
  );
  return found;
}
