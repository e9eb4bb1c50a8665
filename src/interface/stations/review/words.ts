/** Effects of a draft in words. */
import type { DateField, Plan } from "../../../core/plan/types.ts";
import { type Effect, isTighter, weightOf } from "../../../core/review/effects.ts";
import { sayWall } from "../../../core/timing/wall.ts";

const say = (value: Effect["from"]) =>
  value === null ? "not set" : /T/.test(String(value)) ? sayWall(String(value)) : String(value);
const fieldNames: Record<DateField, string> = {
  opens: "opens",
  due: "due",
  closes: "closes",
  attempts: "attempts",
  minutes: "minutes",
  accessWord: "access word",
};

/** One effect in words, with the plan that has what it names. */
export function effectWords(effect: Effect, plans: Plan[]): { says: string; warns: boolean } {
  const title = plans.map((plan) => plan.items[effect.itemId ?? ""]?.title).find(Boolean) ?? "";
  const group = plans.map((plan) => plan.groups[effect.groupId ?? ""]?.name).find(Boolean) ?? "";
  const field = effect.field as DateField;
  const says = {
    gains: () => `can open ${title}`,
    "gains later": () => `can open ${title} later in the term`,
    loses: () => `can no longer open ${title}`,
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
