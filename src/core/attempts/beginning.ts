/**
 * Whether somebody works on an item in attempts, and may begin one. Source: semantics.md section 7, attempts.
 */
import { sayInstant } from "../clock/local-time.ts";
import { lookup } from "../plan/lookup.ts";
import { questionsOf } from "../plan/questions.ts";
import type { Item, Plan } from "../plan/types.ts";
import { groupsThen, isGroupWork, membersThen, whyNotForGroup } from "../reach/group-work.ts";
import { plural } from "../text/plural.ts";
import type { Limits } from "./clock.ts";

/** Whether an item is worked on in attempts by somebody whose limits these are: a quiz with questions, or an assignment with minutes. */
export const isInAttempts = (item: Item, { minutes }: Pick<Limits, "minutes">): boolean =>
  item.kind === "quiz"
    ? item.quiz !== null && questionsOf(item.quiz).length > 0
    : item.kind === "assignment" && minutes !== null;

/** Whether an item is worked on in attempts by anybody: by its own minutes, or by those that an override gives. */
export const isInAttemptsForSome = (plan: Plan, item: Item): boolean =>
  [item, ...(lookup(plan).overridesOfItem.get(item.id) ?? [])].some(({ dates: { minutes } }) =>
    isInAttempts(item, { minutes: typeof minutes === "number" ? minutes : null }),
  );

/** Whose an attempt is: the student's, or their group's with all who are in it. */
export interface Holder {
  id: string;
  isGroup: boolean;
  /** Whoever may work on it. */
  personIds: string[];
}

/** Whose an attempt of somebody on an item is at t; null where a group works on it and they are in none. */
export function holderOf(plan: Plan, item: Item, personId: string, t: number): Holder | null {
  if (!isGroupWork(item)) return { id: personId, isGroup: false, personIds: [personId] };
  const [groupId] = groupsThen(plan, item.split?.layerId ?? "", personId, t);
  return groupId === undefined ? null : { id: groupId, isGroup: true, personIds: membersThen(plan, groupId, t) };
}

/** Access words are compared without blanks around them; case counts. */
export const isWord = (word: string, typed: string): boolean =>
  word.normalize("NFC").trim() === typed.normalize("NFC").trim();

export interface Begun {
  plan: Plan;
  item: Item;
  personId: string;
  t: number;
  limits: Limits;
  /** Attempts that were begun and stand: none that was made void. */
  count: number;
}

/** Why somebody who sees an item may not begin an attempt, the word aside; null where they may. */
export function whyNotBegin({ plan, item, personId, t, limits, count }: Begun): string | null {
  const forGroup = isGroupWork(item) ? whyNotForGroup(plan, item, personId, t) : null;
  if (forGroup) return forGroup;
  if (limits.closes !== null && t >= limits.closes)
    return `It closed on ${sayInstant(limits.closes, plan.course.timeZone)}.`;
  if (limits.attempts !== null && count >= limits.attempts)
    return `${isGroupWork(item) ? "Your group has" : "You have"} used ${count} of ${plural(limits.attempts, "attempt")}.`;
  return null;
}
