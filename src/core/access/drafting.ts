/**
 * What an instructor or support person may draft: items of their own for those they were given, dates for those, and,
 * where they may, who is in the groups they were given and what allowances their students have. Asked before each
 * command is kept. Source: semantics.md section 9.
 */
import type { Command } from "../commands.ts";
import { type Refusal, refuse } from "../plan/command.ts";
import { difference } from "../plan/difference.ts";
import { foldersAbove } from "../plan/lookup.ts";
import type { Audience, Condition, Item, Plan, StaffMay, Target } from "../plan/types.ts";
import { beneath, gone } from "../reach/outline/check.ts";
import type { Scope } from "./scope.ts";

export interface Drafter {
  personId: string;
  scope: Scope;
  may: readonly StaffMay[];
  /** Whether an item of the course as it is published is theirs to know of. */
  knows(itemId: string): boolean;
}

const onlyTheirs = () =>
  refuse("scope.else", "That lies outside the sections and groups you were given. Ask the coordinator for it.");
/** Said alike of what is not theirs and of what does not exist. */
const notOwned = () =>
  refuse("scope.owner", "That is not yours to change: its owners and the coordinator may. Write to them.");
const coordinatorsToDo = {
  "change members": () =>
    refuse("scope.members", "Who is in this group is the coordinator's to change. Ask them for it."),
  "set allowances": () =>
    refuse(
      "scope.allowances",
      "Allowances are the coordinator's to set. Ask them for it, or give more time on one item.",
    ),
};
const onlyCoordinator = () =>
  refuse(
    "scope.kind",
    "Only the coordinator changes this. You may draft items of your own for those you were given, and dates for them.",
  );

/** Staff who may change an item beside the coordinator. */
export const owns = (item: Pick<Item, "owners"> | undefined, personId: string): boolean =>
  item?.owners.includes(personId) ?? false;

/** What of an item is the coordinator's alone to say: it concerns more than whoever owns it. */
const coordinators = ["owners", "pageOf", "combines", "split"] as const;

/** What lies within a scope: whom is named, an audience, a condition, all that an item says of whom it is for. */
function within(scope: Scope) {
  const names = ({ kind, id }: Target): boolean =>
    kind === "group"
      ? scope.groupIds.has(id) || scope.own.has(id)
      : kind === "section"
        ? scope.sectionIds.has(id)
        : kind === "person" && scope.personIds.has(id);
  const audience = ({ to, minus }: Audience) => to !== "everyone" && to.every(names) && minus.every(names);
  const condition = (one: Condition | null): boolean =>
    one === null || ("of" in one ? one.of.every(condition) : one.kind !== "in" || one.targets.every(names));
  const variants = (list: Item["variants"]) =>
    list.every((one) => one.targets.every(names) && condition(one.condition));
  const item = (one: Item) => audience(one.audience) && condition(one.condition) && variants(one.variants);
  return { names, audience, condition, variants, item };
}

/** Why a command may not be drafted over a plan; null where it may. The plan holds what was drafted before it. */
export function whyNotDraft(plan: Plan, { personId, scope, may, knows }: Drafter, command: Command): Refusal | null {
  const fits = within(scope);
  const notTheirs = (itemIds: string[]): Refusal | null =>
    itemIds.every((id) => owns(plan.items[id], personId)) ? null : notOwned();
  const allowed = (what: keyof typeof coordinatorsToDo): Refusal | null =>
    may.includes(what) ? null : coordinatorsToDo[what]();
  /** Where an item may be put: at the top, or in a folder that is for everyone, or is their own. */
  const placeFits = (parentId: string | null): boolean => {
    if (parentId === null) return true;
    const folder = plan.items[parentId];
    return (
      folder !== undefined &&
      [folder, ...foldersAbove(plan, folder)].every(
        (one) => owns(one, personId) || one.audience.to === "everyone" || one.audience.to.some(fits.names),
      )
    );
  };
  const changed = (itemIds: string[], fields: Partial<Item>): Refusal | null => {
    const refused = notTheirs(itemIds);
    if (refused) return refused;
    if (coordinators.some((field) => fields[field] !== undefined)) return onlyCoordinator();
    const asks = fields.audience !== undefined || fields.condition !== undefined || fields.variants !== undefined;
    const changes = itemIds.map((id) => plan.items[id] as Item);
    return asks && !changes.every((item) => fits.item(item) && fits.item({ ...item, ...fields })) ? onlyTheirs() : null;
  };

  switch (command.kind) {
    case "item.add": {
      const { item } = command;
      if (!owns(item, personId) || item.owners.length > 1) return notOwned();
      if (item.pageOf !== null || item.combines.length > 0 || item.split !== null) return onlyCoordinator();
      return fits.item(item) && placeFits(item.parentId) ? null : onlyTheirs();
    }
    case "item.change":
      return changed([command.itemId], command.fields as Partial<Item>);
    case "items.change":
      return changed(command.itemIds, command.fields as Partial<Item>);
    case "item.move":
      return notTheirs([command.itemId]) ?? (placeFits(command.parentId) ? null : onlyTheirs());
    case "items.move":
      return notTheirs(command.itemIds) ?? (placeFits(command.parentId) ? null : onlyTheirs());
    case "item.remove":
      return notTheirs(beneath(plan, command.itemId));
    case "items.remove":
      return notTheirs(command.itemIds.flatMap((id) => beneath(plan, id)));
    case "dates.set":
      return notTheirs(command.itemIds);
    case "override.set":
      if (!command.itemIds.every((id) => knows(id) || owns(plan.items[id], personId))) return gone();
      return fits.names(command.target) ? null : onlyTheirs();
    case "overrides.remove":
      return command.overrideIds.every((id) => {
        const target = plan.overrides[id]?.target;
        return target && fits.names(target);
      })
        ? null
        : onlyTheirs();
    case "placement.place":
    case "placement.remove":
      return (
        allowed("change members") ??
        (scope.groupIds.has(command.groupId) && command.personIds.every((id) => scope.personIds.has(id))
          ? null
          : onlyTheirs())
      );
    case "allowance.set": {
      const { allowance } = command;
      // One that is there already is not turned into somebody else's.
      const before = plan.allowances[allowance.id]?.target ?? allowance.target;
      return allowed("set allowances") ?? ([before, allowance.target].every(fits.names) ? null : onlyTheirs());
    }
    case "allowance.remove": {
      const target = plan.allowances[command.allowanceId]?.target;
      return allowed("set allowances") ?? (target && fits.names(target) ? null : onlyTheirs());
    }
    default:
      return onlyCoordinator();
  }
}

/**
 * Whether a change may be published by whoever drafted it: all whom it touches are within the scope, and so are all whom
 * the items are for that it changes, since what an item says is an effect on whoever reads it.
 */
export const isAllTheirs = (before: Plan, after: Plan, lines: { personIds: string[] }[], scope: Scope): boolean =>
  lines.every((line) => line.personIds.every((id) => scope.personIds.has(id))) &&
  difference(before, after).every(
    ({ table, before: was, after: is }) =>
      table !== "items" || [was, is].every((row) => row === null || within(scope).item(row as unknown as Item)),
  );
