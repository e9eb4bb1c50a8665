/**
 * Reach as semantics.md sections 4 and 5 say it, one student, one item and one sentence at a time: slow and
 * obvious, written without a look at the engine. The engine is held to it.
 */

import { addDays, instantOf, wallOf } from "../clock/local-time.ts";
import { noProgress } from "../plan/progress.ts";
import type { Condition, Item, Moment, Plan, Target } from "../plan/types.ts";

import { holds, inAudience, isIn, isStudent, mayHold, momentOf, type World } from "./condition-oracle.ts";

/** Every moment at which something may change for a student by the clock, within the term, or whenever it is. */
function momentsOf(plan: Plan, s: string, whenever = false): number[] {
  const zone = plan.course.timeZone;
  const start = whenever ? 0 : instantOf(`${plan.course.termStart}T00:00`, zone);
  const end = whenever ? Number.POSITIVE_INFINITY : instantOf(addDays(`${plan.course.termEnd}T00:00`, 1), zone);
  const rows = [...Object.values(plan.placements), ...Object.values(plan.enrolments)].filter(
    (row) => row.personId === s,
  );
  const own = [start, ...rows.flatMap(({ since, until }) => [since, until ?? start])].filter((t) => t >= start);
  const days = [0, ...Object.values(plan.allowances).map(({ extraDays }) => extraDays ?? 0)];
  // More moments than there are do no harm: an event's are moved by allowances here too.
  const dates = [...Object.values(plan.items), ...Object.values(plan.overrides)]
    .flatMap((row) => [row.dates.opens, row.dates.closes])
    .filter((value): value is Moment => value !== undefined && value !== "none")
    .flatMap((value) => own.map((t) => momentOf({ plan, progress: noProgress, t }, s, value)))
    .filter((at) => at !== null)
    .flatMap((at) => days.map((more) => instantOf(addDays(wallOf(at, zone), more), zone)));
  const moments = (condition: Condition | null): number[] => {
    if (!condition) return [];
    if ("of" in condition) return condition.of.flatMap(moments);
    if (!("moment" in condition)) return [];
    return own.map((t) => momentOf({ plan, progress: noProgress, t }, s, condition.moment)).filter((at) => at !== null);
  };
  const conditions = Object.values(plan.items).flatMap((item) =>
    [item.condition, ...item.variants.map(({ condition }) => condition)].flatMap(moments),
  );
  return [...new Set([...own, ...dates, ...conditions])].filter((t) => t >= start && t < end).sort((a, b) => a - b);
}

/** Whether an item takes a hand-in at a moment at which its student sees it. */
function takes(world: World, s: string, item: Item): boolean {
  const closes = moment(world, s, item, "closes");
  return ["assignment", "quiz", "discussion"].includes(item.kind) && (closes === null || world.t < closes);
}

/** Moments one after another, each with what the student could have opened and handed in by then. */
function favourable(start: Omit<World, "t">, moments: number[], s: string): { ever: Set<string>; worlds: World[] } {
  const [ever, handedIn] = [new Set<string>(), new Set<string>()];
  const worlds: World[] = [];
  for (const t of moments) {
    const could = (itemId: string, act: "open" | "hand in") => (act === "open" ? ever : handedIn).has(itemId);
    const world: World = { ...start, t, could };
    if (!isStudent(world, s)) continue;
    for (let grew = true; grew; ) {
      const before = ever.size + handedIn.size;
      for (const item of Object.values(start.plan.items))
        if (sees(world, s, item)) {
          ever.add(item.id);
          if (takes(world, s, item)) handedIn.add(item.id);
        }
      grew = ever.size + handedIn.size > before;
    }
    const by = { open: new Set(ever), "hand in": new Set(handedIn) };
    worlds.push({ ...world, could: (itemId, act) => by[act].has(itemId) });
  }
  return { ever, worlds };
}

/** The whole term of a student: each moment, with what they could have opened by then. */
export const termOfStudent = (plan: Plan, s: string): { ever: Set<string>; worlds: World[] } =>
  favourable({ plan, progress: noProgress }, momentsOf(plan, s), s);

/** Section 5: while all but condition and opens is fulfilled, and as long as it can still come true. */
export function isAnnounced(world: World, s: string, item: Item): boolean {
  const { plan, progress, t } = world;
  const folders = above(plan, item);
  const closes = moment(world, s, item, "closes");
  const otherwise =
    item.announced &&
    !sees(world, s, item) &&
    [item, ...folders].every(({ published }) => published) &&
    inAudience(world, s, item.audience) &&
    folders.every((folder) => !folder.seals || released(world, s, folder)) &&
    (item.readableAfterClose || closes === null || t < closes) &&
    comesTo(world, s, item, []);
  if (!otherwise) return false;
  const moments = [t, ...momentsOf(plan, s, true).filter((at) => at > t)];
  return favourable({ plan, progress, from: t }, moments, s).ever.has(item.id);
}

/** The first layer in the order that has one: layers as they stand, sections last; a set by the student's first group. */
function rankOf(world: World, s: string, target: Target): number {
  const { plan } = world;
  if (target.kind === "section") return 1e9;
  const groups = target.kind === "set" ? (plan.sets[target.id]?.groupIds ?? []) : [target.id];
  const ranks = groups
    .filter((id) => isIn(world, s, { kind: "group", id }))
    .map((id) => plan.layers[plan.groups[id]?.layerId ?? ""]?.position ?? 1e8);
  return Math.min(...ranks);
}

/** Section 6, for moments: the person's override, then the most generous of the others, then the base, then days. */
function moment(world: World, s: string, item: Item, field: "opens" | "due" | "closes"): number | null {
  const { plan } = world;
  /** A wall-clock time, whatever it was given as; undefined where it sets nothing. */
  const wall = (given: Moment | "none" | undefined): string | undefined => {
    if (typeof given !== "object") return given;
    const instant = momentOf(world, s, given);
    return instant === null ? undefined : wallOf(instant, plan.course.timeZone);
  };
  const mine = Object.values(plan.overrides).filter(
    (o) => o.itemId === item.id && wall(o.dates[field]) !== undefined && isIn(world, s, o.target),
  );
  const at = (value: string) => instantOf(value, plan.course.timeZone);
  const own = mine.find((o) => o.target.kind === "person");
  if (own) return own.dates[field] === "none" ? null : at(wall(own.dates[field]) as string);
  let value: string | undefined;
  if (mine.length > 0) {
    const first = Math.min(...mine.map((o) => rankOf(world, s, o.target)));
    const decides =
      plan.course.datePolicy === "layer order" ? mine.filter((o) => rankOf(world, s, o.target) === first) : mine;
    const values = decides.map((o) => wall(o.dates[field]) as string);
    if (values.includes("none")) return null;
    values.sort((a, b) => at(a) - at(b));
    value = field === "opens" ? values[0] : values[values.length - 1];
  } else value = wall(item.dates[field]);
  if (value === undefined || value === "none") return null;
  if (item.kind === "event") return at(value);
  const days = Object.values(plan.allowances)
    .filter((a) => isIn(world, s, a.target))
    .map((a) => a.extraDays ?? 0);
  return at(field === "opens" ? value : addDays(value, Math.max(0, ...days)));
}

export function released(world: World, s: string, item: Item): boolean {
  if (!item.published || !inAudience(world, s, item.audience)) return false;
  const variant = item.variants.find((v) => v.targets.some((target) => isIn(world, s, target)));
  const condition = variant ? variant.condition : item.condition;
  if (condition && !(world.could ? mayHold(world, s, condition) : holds(world, s, condition))) return false;
  const opens = moment(world, s, item, "opens");
  if (opens !== null && world.t < opens) return false;
  const closes = moment(world, s, item, "closes");
  return item.readableAfterClose || closes === null || world.t < closes;
}

function above(plan: Plan, item: Item): Item[] {
  const parent = item.parentId ? plan.items[item.parentId] : undefined;
  return parent ? [parent, ...above(plan, parent)] : [];
}

function listed(world: World, s: string, item: Item): boolean {
  const { indexes } = world.plan.course;
  if (indexes.discussions && item.kind === "discussion") return true;
  if (indexes.files && item.kind === "file") return true;
  const work =
    item.kind === "assignment" || item.kind === "quiz" || (item.kind === "discussion" && item.points !== null);
  if (indexes.work && work) return true;
  return indexes.calendar && (item.kind === "event" || moment(world, s, item, "due") !== null);
}

/** `walked` are the folders on the way so far: a path that comes back to itself leads nowhere. */
export function sees(world: World, s: string, item: Item, walked: string[] = []): boolean {
  const { plan } = world;
  if (walked.includes(item.id) || !released(world, s, item)) return false;
  const folders = above(plan, item);
  if (folders.some((folder) => !folder.published)) return false;
  if (folders.some((folder) => folder.seals && !released(world, s, folder))) return false;
  return comesTo(world, s, item, walked);
}

/** Whether some entrance leads a student to an item. */
function comesTo(world: World, s: string, item: Item, walked: string[]): boolean {
  const { plan } = world;
  if (listed(world, s, item)) return true;
  const entrances = [
    item.parentId,
    ...Object.values(plan.entrances)
      .filter((e) => e.itemId === item.id)
      .map((e) => e.folderId),
  ];
  return entrances.some((folderId) => {
    if (folderId === null) return true;
    const folder = plan.items[folderId];
    return folder !== undefined && sees(world, s, folder, [...walked, item.id]);
  });
}

export const meant = (world: World, s: string, item: Item): boolean =>
  [item, ...above(world.plan, item)].every((one) => inAudience(world, s, one.audience));

/** Section 7: due has passed, or closes where there is no due, and at some moment up to it they could open it. */
export function isMissing(world: World, s: string, item: Item): boolean {
  const { plan, progress, t } = world;
  const [due, closes] = [moment(world, s, item, "due"), moment(world, s, item, "closes")];
  if (due === null && closes === null) return false;
  const hasPassed = due === null ? t >= (closes as number) : t > due;
  const upTo = (at: number) => (due === null ? at < (closes as number) : at <= due);
  const done = [...progress.marks, ...progress.handIns, ...progress.openings].map(({ at }) => at);
  const read = progress.openings.flatMap(({ readAt }) => (readAt === null ? [] : [readAt]));
  return (
    hasPassed &&
    [...momentsOf(plan, s, true), ...done, ...read].some((at) => {
      const then = { plan, progress, t: at };
      return upTo(at) && isStudent(then, s) && sees(then, s, item);
    })
  );
}

/** The condition that applies to a student: the first variant that holds them, otherwise the item's own. */
export function conditionOf(world: World, s: string, item: Item): Condition | null {
  const variant = item.variants.find((v) => v.targets.some((target) => isIn(world, s, target)));
  return variant ? variant.condition : item.condition;
}
