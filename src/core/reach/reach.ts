/**
 * Who can open what at a moment, for all students at once: a set of bits an item, asked for lazily.
 * Cost grows with items × students / 32 and with the rows that differ by student. `reachAfter` carries the answers
 * over a change and asks again only for what the change touches.
 * Source: semantics.md section 4.
 */

import { foldersAbove } from "../plan/lookup.ts";
import { noProgress, type Progress } from "../plan/progress.ts";
import type { Audience, Condition, DateField, Item, Plan, Target } from "../plan/types.ts";
import { type Algebra, algebraOf, type Bits } from "../sets/bits.ts";
import { type Calendar, isAnchor } from "../timing/anchors.ts";
import { differingTargets, type Memberships } from "../timing/resolving/resolve.ts";
import { progressThrough } from "./combined.ts";
import { conditionBits } from "./condition-bits.ts";
import { folderSight, throughEntrances } from "./folders.ts";
import type { Verdicts } from "./judging.ts";
import {
  calendarsOf,
  type MembershipSets,
  membershipSetsAt,
  membershipSetsOfFew,
  membershipsOf,
  membersOf,
} from "./membership-sets.ts";
import { extensionsOf, type MomentTest, type MomentWorld, momentBits } from "./moments.ts";
import type { ProgressLeaf } from "./progress-leaf.ts";

/** The questions about an item whose answers are kept. */
export const questions = [
  "audience",
  "meant",
  "conditionHolds",
  "withinDates",
  "released",
  "unsealed",
  "indexed",
  "arrives",
  "sees",
  "leak",
] as const;
export type Question = (typeof questions)[number];
export type Answers = Record<Question, Map<string, Bits>> & { folders: Map<string, Bits> | null };

export interface Reach extends Record<Question, (item: Item) => Bits> {
  plan: Plan;
  /** As the plan reads it: what was done in a copy that became part of an item is done in that item. */
  progress: Progress;
  /** As it was given. */
  rawProgress: Progress;
  t: number;
  /** Person ids; the place in this list is the bit. */
  students: readonly string[];
  indexOf: Map<string, number>;
  everyone: Bits;
  sets: Algebra;
  memberships(index: number): Memberships;
  /** The students a target names. */
  members(target: Target): Bits;
  /** The students an audience names, wherever what it is of stands. */
  audienceBits(audience: Audience): Bits;
  /** Students by whose meetings they go by. */
  calendars(): { calendar: Calendar; bits: Bits }[];
  /** Whose value of a date or limit may differ from the item's own. */
  differing(item: Item, field: DateField): Bits;
  /** Of whom an item takes a hand-in at t, as far as kind, sight, opens and closes decide. */
  takesHandIn(item: Item): Bits;
  /** Whose value of a moment passes a test. */
  moment(item: Item, test: MomentTest): Bits;
  /** Whom a condition holds for. */
  holds(condition: Condition | null): Bits;
  /** For whom it may hold, and for whom it may not: as it is, unless asked otherwise. */
  verdicts(condition: Condition): Verdicts;
  membershipSets: MembershipSets;
  /** What was answered so far. */
  answers: Answers;
}

/** Whether a course-wide index that is switched on lists items of this kind for everyone. */
function listedForAll(plan: Plan, item: Item): boolean {
  const { indexes } = plan.course;
  return (
    (indexes.discussions && item.kind === "discussion") ||
    (indexes.files && item.kind === "file") ||
    (indexes.calendar && item.kind === "event") ||
    (indexes.work && isWork(item))
  );
}

/** Work: assignments and quizzes, with points or not, and discussions that carry points. */
export const isWork = (item: Item): boolean =>
  item.kind === "assignment" || item.kind === "quiz" || (item.kind === "discussion" && item.points !== null);

/** Assignments, quizzes and discussions take hand-ins; anything else that carries points is marked without one. */
export const takesHandIns = ({ kind }: Item): boolean => ["assignment", "quiz", "discussion"].includes(kind);

/** A folder that is not published hides all beneath it, whichever entrance is used. */
export const isPublished = (plan: Plan, item: Item): boolean =>
  item.published && foldersAbove(plan, item).every((folder) => folder.published);

const hasDue: MomentTest = { field: "due", passes: (due) => due !== null, ifAny: false };

export const noAnswers = (): Answers => ({
  ...(Object.fromEntries(questions.map((question) => [question, new Map()])) as Record<Question, Map<string, Bits>>),
  folders: null,
});

/**
 * Reach at t. `only` narrows the question to some students (a student's own page asks for one).
 */
export function reachAt(plan: Plan, progress: Progress = noProgress, t: number, only?: string[]): Reach {
  return reachOf(plan, progress, t, only ? membershipSetsOfFew(plan, only, t) : membershipSetsAt(plan, t), noAnswers());
}

/** How a reach is asked otherwise than of one moment and of what people did. */
export interface ReachOptions {
  /** For whom a leaf about progress may hold, and for whom it may not, instead of what people did. */
  mayHold?: (leaf: ProgressLeaf) => Verdicts;
  /** The moment at which a student's meetings are asked, where it is not t. */
  momentOf?: (index: number) => number;
}

/** Reach over a membershipSets, with what was answered before and still stands. */
export function reachOf(
  plan: Plan,
  given: Progress,
  t: number,
  membershipSets: MembershipSets,
  answers: Answers,
  { mayHold, momentOf }: ReachOptions = {},
): Reach {
  const { students, indexOf } = membershipSets;
  const progress = progressThrough(plan, given);
  const sets = algebraOf(students.length);
  const { everyone, nobody, both, either, without } = sets;
  const opened: MomentTest = { field: "opens", passes: (opens) => opens === null || t >= opens, ifAny: true };
  const notClosed: MomentTest = { field: "closes", passes: (closes) => closes === null || t < closes, ifAny: true };

  // A student's own memberships are put together only where a single one is asked about.
  const known: Memberships[] = [];
  const memberships = (index: number): Memberships => {
    known[index] ??= membershipsOf(plan, membershipSets, index, t);
    return known[index];
  };
  const named = new Map<string, Bits>();
  const members = (target: Target): Bits => {
    if (target.kind === "group") return membershipSets.groups.get(target.id) ?? nobody;
    const key = target.kind + target.id;
    const bits = named.get(key) ?? membersOf(plan, membershipSets, target);
    named.set(key, bits);
    return bits;
  };
  const anyOf = (targets: Target[]): Bits => targets.reduce((bits, target) => either(bits, members(target)), nobody);
  const audienceBits = ({ to, minus }: Audience): Bits => {
    const included = to === "everyone" ? everyone : anyOf(to);
    return minus.length === 0 ? included : without(included, anyOf(minus));
  };

  let calendarsKept: { calendar: Calendar; bits: Bits }[] | null = null;
  const calendars = () => {
    calendarsKept ??= calendarsOf(plan, membershipSets, momentOf ?? (() => t));
    return calendarsKept;
  };
  const { verdicts, holds } = conditionBits({ plan, progress, t, membershipSets, sets, anyOf, calendars, mayHold });

  let extensionsKept: { days: number; bits: Bits }[] | null = null;
  const world: MomentWorld = {
    plan,
    sets,
    members,
    extensions() {
      extensionsKept ??= extensionsOf(world);
      return extensionsKept;
    },
    calendars,
  };
  const moment = (item: Item, test: MomentTest) => momentBits(world, item, test);

  const remember = (question: Question, compute: (item: Item) => Bits) => {
    const answered = answers[question];
    return (item: Item): Bits => {
      let bits = answered.get(item.id);
      if (!bits) {
        bits = compute(item);
        answered.set(item.id, bits);
      }
      return bits;
    };
  };
  const audience = remember("audience", (item) => audienceBits(item.audience));
  const meant = remember("meant", (item) =>
    foldersAbove(plan, item).reduce((bits, folder) => both(bits, audience(folder)), audience(item)),
  );
  const conditionHolds = remember("conditionHolds", (item) => {
    if (item.variants.length === 0) return holds(item.condition);
    let left = everyone;
    let yes = nobody;
    for (const variant of item.variants) {
      const theirs = both(left, anyOf(variant.targets));
      yes = either(yes, both(theirs, holds(variant.condition)));
      left = without(left, theirs);
    }
    return either(yes, both(left, holds(item.condition)));
  });
  const withinDates = remember("withinDates", (item) => {
    const from = moment(item, opened);
    return item.readableAfterClose ? from : both(from, moment(item, notClosed));
  });
  const released = remember("released", (item) =>
    item.published ? both(both(audience(item), conditionHolds(item)), withinDates(item)) : nobody,
  );
  /** Every sealing folder above the home is released, and every folder above it is published. */
  const unsealed = remember("unsealed", (item) => {
    let bits = everyone;
    for (const folder of foldersAbove(plan, item)) {
      if (!folder.published) return nobody;
      if (folder.seals) bits = both(bits, released(folder));
    }
    return bits;
  });
  const indexed = remember("indexed", (item) => {
    if (listedForAll(plan, item)) return everyone;
    return plan.course.indexes.calendar ? moment(item, hasDue) : nobody;
  });

  const folders = (): Map<string, Bits> => {
    answers.folders ??= folderSight(plan, sets, {
      within: (folder) => both(released(folder), unsealed(folder)),
      // A folder that has a due is in the calendar too.
      indexed,
    });
    return answers.folders;
  };
  const arrives = remember("arrives", (item) => {
    // What an index lists for everyone is reached whatever the folders are.
    const listed = indexed(item);
    return listed === everyone ? everyone : either(throughEntrances(plan, sets, item, folders()), listed);
  });
  const sees = remember("sees", (item) => both(both(released(item), unsealed(item)), arrives(item)));
  const takesHandIn = (item: Item): Bits => (takesHandIns(item) ? both(sees(item), moment(item, notClosed)) : nobody);
  const leak = remember("leak", (item) => without(sees(item), meant(item)));

  return {
    plan,
    progress,
    rawProgress: given,
    t,
    students,
    indexOf,
    everyone,
    sets,
    memberships,
    members,
    calendars,
    // What is anchored is another date for each section.
    differing: (item, field) => (isAnchor(item.dates[field]) ? everyone : anyOf(differingTargets(plan, item, field))),
    takesHandIn,
    moment,
    holds,
    verdicts,
    audience,
    audienceBits,
    meant,
    conditionHolds,
    withinDates,
    released,
    unsealed,
    indexed,
    arrives,
    sees,
    leak,
    membershipSets,
    answers,
  };
}
