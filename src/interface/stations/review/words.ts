/** Effects of a draft in words. */

import { sayWall } from "../../../core/clock/local-time.ts";
import type { DateField, Plan } from "../../../core/plan/types.ts";
import { type Effect, type EffectKind, isTighter, weightOf } from "../../../core/review/effect.ts";

const say = (value: Effect["from"]) =>
  value === null ? "not set" : /T/.test(String(value)) ? sayWall(String(value)) : String(value);
const fieldNames: Record<DateField, string> = {
  opens: "opens",
  due: "due",
  closes: "closes",
  attempts: "attempts",
  minutes: "minutes",
  accessWord: "password",
};

/** One effect in words, with the plan that has what it names. */
export function effectWords(effect: Effect, plans: Plan[]): { says: string; warns: boolean } {
  const title = plans.map((plan) => plan.items[effect.itemId ?? ""]?.title).find(Boolean) ?? "";
  const group = plans.map((plan) => plan.groups[effect.groupId ?? ""]?.name).find(Boolean) ?? "";
  const field = effect.field as DateField;
  const says: Record<EffectKind, () => string> = {
    gains: () => `can open ${title}`,
    "gains later": () => `can open ${title} later in the term`,
    loses: () => `can no longer open ${title}`,
    "loses later": () => `can no longer open ${title} later in the term`,
    announced: () => `is told of ${title} before it opens`,
    veiled: () => `is no longer told of ${title} before it opens`,
    "due passed": () => `${title}: the due has already passed, on ${say(effect.to)}`,
    "due near": () => `${title}: due within a day, on ${say(effect.to)}`,
    told: () => `${title}: what is said of its dates, or of what it needs, is otherwise`,
    text: () => `${title}: what its page says is otherwise`,
    "hand-in": () => `${title}: who hands in with whom, or how, is otherwise`,
    threads: () => `${title}: which threads they read or write in is otherwise`,
    order: () => (title ? `${title}: its contents stand in another order` : "the outline stands in another order"),
    group: () => "what their groups are called, or show, is otherwise",
    "group page": () => `the page of ${group} is otherwise`,
    "class list": () => "whom the class list names is otherwise",
    "self-placement": () => "where they can place themselves is otherwise",
    calendar: () => "class meetings in their calendar are otherwise",
    marks: () => "which marks they read, or their total, is otherwise",
    course: () => "what the course is called, or lists, is otherwise",
    enters: () => "comes into the course",
    exits: () => "goes out of the course",
    work: () => `what they handed in or were marked for in ${title} goes out of their sight`,
    joins: () => `joins ${group}`,
    leaves: () => `leaves ${group}`,
    leak: () => `can open ${title} and is not meant to`,
    "leak ends": () => `the leak of ${title} to them ends`,
    date: () =>
      `${title}: ${fieldNames[field]} ${say(effect.to)} instead of ${say(effect.from)}${
        isTighter(field, effect.from, effect.to) ? ", earlier" : ""
      }`,
  };
  return { says: says[effect.kind](), warns: weightOf(effect) < 9 };
}
