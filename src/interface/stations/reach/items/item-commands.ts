/** What an item's dialog makes of what was filled in: a new item, or the commands that change one. */

import { v7 } from "uuid";
import type { NewCommand } from "../../../../core/commands.ts";
import { same } from "../../../../core/plan/difference.ts";
import { lastPosition } from "../../../../core/plan/lookup.ts";
import type { DateField, DateFields, Item, ItemKind, Plan } from "../../../../core/plan/types.ts";
import { splitKinds } from "../../../../core/reach/outline/check.ts";
import { dateFields, type MomentField } from "../../../../core/timing/resolving/resolve.ts";

/** What a group hands in together, where it is split. */
export const workKinds = new Set<ItemKind>(["assignment", "quiz"]);
export const markableKinds = new Set<ItemKind>(["discussion", "assignment", "quiz"]);

/** The dates that mean something for a kind. An event starts at what others call due. */
export const momentsOf = (kind: ItemKind): MomentField[] =>
  kind === "event" ? ["due", "closes"] : markableKinds.has(kind) ? ["opens", "due", "closes"] : ["opens", "closes"];

/** The limits that mean something for a kind: an assignment with minutes is worked on in attempts, as a quiz is. */
export const limitsOf = (kind: ItemKind): DateField[] =>
  workKinds.has(kind) ? ["attempts", "minutes", "accessWord"] : [];

/** What of an item is changed by one command. */
const changeable = [
  "title",
  "body",
  "published",
  "seals",
  "audience",
  "condition",
  "variants",
  "announced",
  "readableAfterClose",
  "points",
  "split",
  "leadHandsIn",
  "quiz",
  "file",
  "owners",
] as const;

/** What is filled in: an item without its place. */
export type ItemFields = Omit<Item, "id" | "parentId" | "position">;

/** The fields without what means nothing for their kind: it may be left from a kind that was chosen before. */
const fitting = (fields: ItemFields): ItemFields => ({
  ...fields,
  title: fields.title.trim(),
  points: markableKinds.has(fields.kind) ? fields.points : null,
  split: splitKinds.has(fields.kind) ? fields.split : null,
  leadHandsIn: workKinds.has(fields.kind) && fields.split !== null && fields.leadHandsIn,
  quiz: fields.kind === "quiz" ? fields.quiz : null,
  file: fields.kind === "file" ? fields.file : null,
});

/** Of dates and limits those that mean something for a kind. */
function datesOf(kind: ItemKind, dates: DateFields): DateFields {
  const wanted = new Set<string>([...momentsOf(kind), ...limitsOf(kind)]);
  return Object.fromEntries(Object.entries(dates).filter(([field]) => wanted.has(field))) as DateFields;
}

/** A new item at the end of a folder. */
export const newItem = (plan: Plan, fields: ItemFields, parentId: string | null): Item => ({
  ...fitting(fields),
  id: v7(),
  parentId,
  position: lastPosition(plan, parentId),
  dates: datesOf(fields.kind, fields.dates),
});

/** What leads from an item to what is filled in; none where nothing differs. Limits set elsewhere stay. */
export function changesOf(plan: Plan, item: Item, fields: ItemFields, parentId: string | null): NewCommand[] {
  const next = fitting(fields);
  const itemId = item.id;
  const commands: NewCommand[] = [];
  const changed = changeable.filter((name) => !same(item[name], next[name]));
  if (changed.length > 0)
    commands.push({
      kind: "item.change",
      itemId,
      fields: Object.fromEntries(changed.map((name) => [name, next[name]])),
    });
  const dates = dateFields.filter((field) => !same(item.dates[field], next.dates[field]));
  if (dates.length > 0)
    commands.push({
      kind: "dates.set",
      itemIds: [itemId],
      dates: Object.fromEntries(dates.map((field) => [field, next.dates[field] ?? null])),
    });
  if (parentId !== item.parentId)
    commands.push({ kind: "item.move", itemId, parentId, position: lastPosition(plan, parentId) });
  return commands;
}
