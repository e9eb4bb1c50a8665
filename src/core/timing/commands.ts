/** Commands on dates and limits: base values, overrides, allowances. Source: semantics.md section 6. */
import { z } from "zod";
import { defineCommand, derivedId, drop, put, refuse } from "../plan/command.ts";
import { lookup, targetName } from "../plan/lookup.ts";
import {
  Allowance,
  type DateField,
  DateFields,
  Id,
  type Moment,
  type Override,
  type Plan,
  Target,
  Wall,
} from "../plan/types.ts";
import { isAnchor, sayMoment } from "./anchors.ts";
import type { GivenValue } from "./resolving/resolve.ts";

/** A field given as null becomes unset; a field left out stays. */
const Patch = z.object(
  Object.fromEntries(Object.entries(DateFields.shape).map(([field, schema]) => [field, schema.nullable()])) as {
    [Field in DateField]: z.ZodNullable<(typeof DateFields.shape)[Field]>;
  },
);
type Patch = z.infer<typeof Patch>;

function patch(dates: DateFields, changes: Patch): DateFields {
  const next: Record<string, unknown> = { ...dates };
  for (const [field, value] of Object.entries(changes)) {
    if (value === null) delete next[field];
    else if (value !== undefined) next[field] = value;
  }
  return next as DateFields;
}

const fieldNames: Record<DateField, string> = {
  opens: "opens",
  due: "due",
  closes: "closes",
  attempts: "attempts",
  minutes: "minutes",
  accessWord: "password",
};

const isWall = (value: GivenValue) => Wall.safeParse(value).success;
/** A date or limit in words, as it is given. */
export const sayGiven = (value: GivenValue): string =>
  isAnchor(value) || isWall(value) ? sayMoment(value as Moment) : String(value);

const sayPatch = (changes: Patch): string =>
  Object.entries(changes)
    .map(([field, value]) => {
      const said = value === null ? "unset" : sayGiven(value);
      return `${fieldNames[field as DateField]} ${said}`;
    })
    .join(", ");

const titles = (plan: Plan, itemIds: string[]) =>
  itemIds.length === 1 ? (plan.items[itemIds[0] as string]?.title ?? "a removed item") : `${itemIds.length} items`;

/** "half as much time again" is said as a factor: "minutes × 1.5, 2 days more". */
export const sayAllowance = ({ minutesFactor, extraDays, extraAttempts }: Allowance): string =>
  [
    minutesFactor !== null && `minutes × ${minutesFactor}`,
    extraDays !== null && `${extraDays} ${extraDays === 1 ? "day" : "days"} more`,
    extraAttempts !== null && `${extraAttempts} ${extraAttempts === 1 ? "attempt" : "attempts"} more`,
  ]
    .filter(Boolean)
    .join(", ");

const Items = z.array(Id).min(1).max(2000);

export const timingCommands = [
  defineCommand(
    "dates.set",
    { itemIds: Items, dates: Patch },
    {
      apply(plan, { itemIds, dates }) {
        const items = itemIds.map((id) => plan.items[id]).filter((item) => item !== undefined);
        if (items.length < itemIds.length) return refuse("item.gone", "The item is no longer there.");
        return put(
          plan,
          "items",
          items.map((item) => ({ ...item, dates: patch(item.dates, dates) })),
        );
      },
      describe: (plan, { itemIds, dates }) => `${titles(plan, itemIds)}: ${sayPatch(dates)}`,
    },
  ),
  defineCommand(
    "override.set",
    { itemIds: Items, target: Target, dates: Patch },
    {
      apply(plan, { id, itemIds, target, dates }) {
        const there = { group: plan.groups, section: plan.sections, person: plan.people, set: plan.sets }[target.kind][
          target.id
        ];
        if (!there) return refuse("target.gone", "Whom the dates are for is no longer there.");
        if (itemIds.some((itemId) => !plan.items[itemId])) return refuse("item.gone", "The item is no longer there.");
        const kept: Override[] = [];
        const emptied: string[] = [];
        for (const itemId of itemIds) {
          const now = (lookup(plan).overridesOfItem.get(itemId) ?? []).find(
            (override) => override.target.kind === target.kind && override.target.id === target.id,
          );
          const next = patch(now?.dates ?? {}, dates);
          if (Object.keys(next).length > 0)
            kept.push({ id: now?.id ?? derivedId(id, itemId), itemId, target, dates: next });
          else if (now) emptied.push(now.id);
        }
        return drop(put(plan, "overrides", kept), "overrides", emptied);
      },
      describe: (plan, { itemIds, target, dates }) =>
        `${titles(plan, itemIds)} for ${targetName(plan, target)}: ${sayPatch(dates)}`,
    },
  ),
  defineCommand(
    "overrides.remove",
    { overrideIds: z.array(Id).min(1).max(5000) },
    {
      apply: (plan, { overrideIds }) =>
        overrideIds.every((id) => plan.overrides[id])
          ? drop(plan, "overrides", overrideIds)
          : refuse("override.gone", "One of these overrides is no longer there."),
      describe(plan, { overrideIds }) {
        const [one] = overrideIds.map((id) => plan.overrides[id]);
        if (overrideIds.length > 1 || !one) return `Remove ${overrideIds.length} overrides`;
        return `${titles(plan, [one.itemId])} for ${targetName(plan, one.target)}: as for everyone`;
      },
    },
  ),
  defineCommand(
    "allowance.set",
    { allowance: Allowance },
    {
      apply(plan, { allowance }) {
        const { target, minutesFactor, extraDays, extraAttempts } = allowance;
        const there = { group: plan.groups, section: plan.sections, person: plan.people, set: plan.sets }[target.kind];
        if (!there[target.id]) return refuse("target.gone", "Whom the allowance is for is no longer there.");
        if (minutesFactor === null && extraDays === null && extraAttempts === null)
          return refuse("allowance.empty", "This allowance gives nothing. Say how much more time, days or attempts.");
        return put(plan, "allowances", [allowance]);
      },
      describe: (plan, { allowance }) =>
        `Allowance for ${targetName(plan, allowance.target)}: ${sayAllowance(allowance)}`,
    },
  ),
  defineCommand(
    "allowance.remove",
    { allowanceId: Id },
    {
      apply: (plan, { allowanceId }) =>
        plan.allowances[allowanceId]
          ? drop(plan, "allowances", [allowanceId])
          : refuse("allowance.gone", "The allowance is no longer there."),
      describe: (plan, { allowanceId }) => {
        const target = plan.allowances[allowanceId]?.target;
        return `Remove the allowance for ${target ? targetName(plan, target) : "a removed group"}`;
      },
    },
  ),
] as const;
