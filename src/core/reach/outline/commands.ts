/** Commands on the outline: items one by one and many at once, and their entrances. Source: semantics.md section 4. */

import { z } from "zod";
import { defineCommand, drop, put, type Refusal, refuse } from "../../plan/command.ts";
import { lastPosition, lookup } from "../../plan/lookup.ts";
import { type Quiz, questionsOf } from "../../plan/questions.ts";
import { Entrance, Id, Item, type Plan } from "../../plan/types.ts";
import { plural } from "../../text/plural.ts";
import { cut } from "../../text/shorten.ts";
import { sayAudience } from "../explain.ts";
import { beneath, checkItem, gone, splitKinds, titleOf, titlesOf } from "./check.ts";
import { copyItems } from "./copy.ts";

const Items = z.array(Id).min(1).max(2000);
/** What several items can be given at once. */
const Shared = Item.pick({
  published: true,
  seals: true,
  audience: true,
  condition: true,
  variants: true,
  announced: true,
  readableAfterClose: true,
  split: true,
}).partial();

/** What is said of conditions and splits, of one item or of several. */
function sayShared(plan: Plan, names: string, { condition, variants, split }: z.infer<typeof Shared>): string {
  if (condition !== undefined || variants)
    return condition || variants?.length ? `Condition of ${names}` : `${names} without condition`;
  if (split === undefined) return `Change ${names}`;
  return split
    ? `Split ${names} along ${plan.layers[split.layerId]?.name ?? "a removed layer"}, ${split.between}`
    : `${names} no longer split`;
}

/** What changes of questions: how many there are, or what is said of them. */
function sayQuiz(name: string, before: Quiz | null, after: Quiz | null): string {
  const count = (quiz: Quiz | null) => (quiz ? questionsOf(quiz).length : 0);
  const [was, is] = [count(before), count(after)];
  if (was !== is) return `${name} asks ${plural(is, "question")}${was > 0 ? ` (${was} before)` : ""}`;
  if (before && after && before.released !== after.released)
    return after.released
      ? `Marks and right answers of ${name} are shown`
      : `Marks and right answers of ${name} are not shown`;
  return `Questions of ${name}`;
}

/** Moves items into a folder, each a step after the one before. */
function move(plan: Plan, itemIds: string[], parentId: string | null, position: number, step = 1): Plan | Refusal {
  const moved: Item[] = [];
  for (const [place, itemId] of itemIds.entries()) {
    const item = plan.items[itemId];
    if (!item) return gone();
    if (parentId && beneath(plan, itemId).includes(parentId))
      return refuse("folder.circle", `${item.title} cannot be moved into itself or into a folder inside it.`);
    const next = { ...item, parentId, position: position + place * step };
    const refused = checkItem(plan, next);
    if (refused) return refused;
    moved.push(next);
  }
  return put(plan, "items", moved);
}
const sayMove = (plan: Plan, itemIds: string[], parentId: string | null): string =>
  `Move ${titlesOf(plan, itemIds)} to ${parentId ? titleOf(plan, parentId) : "the top of the outline"}`;

/** The plan without an item, all beneath it, and their dates and entrances. */
function without(plan: Plan, itemId: string): Plan {
  const ids = new Set(beneath(plan, itemId));
  const of = (rows: Record<string, { id: string; itemId: string }>) =>
    Object.values(rows)
      .filter((row) => ids.has(row.itemId))
      .map(({ id }) => id);
  const doors = Object.values(plan.entrances)
    .filter(({ folderId }) => folderId && ids.has(folderId))
    .map(({ id }) => id);
  const cleared = drop(drop(plan, "overrides", of(plan.overrides)), "entrances", [...of(plan.entrances), ...doors]);
  return drop(cleared, "items", [...ids]);
}

export const outlineCommands = [
  defineCommand(
    "item.add",
    { item: Item },
    {
      apply(plan, { item }) {
        if (plan.items[item.id]) return refuse("item.there", "This item is there already.");
        return checkItem(plan, item) ?? put(plan, "items", [item]);
      },
      describe: (plan, { item }) => `New ${item.kind} ${item.title}, for ${sayAudience(plan, item.audience)}`,
    },
  ),
  defineCommand(
    "item.change",
    {
      itemId: Id,
      fields: Item.omit({
        id: true,
        parentId: true,
        position: true,
        kind: true,
        dates: true,
      }).partial(),
    },
    {
      apply(plan, { itemId, fields }) {
        const item = plan.items[itemId];
        if (!item) return gone();
        const changed = { ...item, ...fields };
        return checkItem(plan, changed) ?? put(plan, "items", [changed]);
      },
      describe(plan, { itemId, fields }) {
        const name = titleOf(plan, itemId);
        if (fields.audience) return `${name} for ${sayAudience(plan, fields.audience)}`;
        if (fields.published !== undefined) return fields.published ? `Publish ${name}` : `Unpublish ${name}`;
        if (fields.seals !== undefined)
          return `${name} ${fields.seals ? "seals its contents" : "does not seal its contents"}`;
        if (fields.quiz !== undefined) return sayQuiz(name, plan.items[itemId]?.quiz ?? null, fields.quiz);
        if (fields.title && fields.title !== name) return `Rename ${name} to ${fields.title}`;
        return sayShared(plan, name, fields);
      },
    },
  ),
  defineCommand(
    "items.change",
    { itemIds: Items, fields: Shared },
    {
      apply(plan, { itemIds, fields }) {
        const changed: Item[] = [];
        for (const itemId of itemIds) {
          const item = plan.items[itemId];
          if (!item) return gone();
          // A field that means nothing for a kind is left as it is: folders are not split, pages seal nothing.
          const { seals, split, ...others } = fields;
          const next = {
            ...item,
            ...others,
            ...(seals !== undefined && item.kind === "folder" ? { seals } : {}),
            ...(split !== undefined && (split === null || splitKinds.has(item.kind)) ? { split } : {}),
          };
          const refused = checkItem(plan, next);
          if (refused) return refused;
          changed.push(next);
        }
        return put(plan, "items", changed);
      },
      describe(plan, { itemIds, fields }) {
        const names = titlesOf(plan, itemIds);
        if (fields.audience) return `${names} for ${sayAudience(plan, fields.audience)}`;
        if (fields.published !== undefined) return `${fields.published ? "Publish" : "Unpublish"} ${names}`;
        return sayShared(plan, names, fields);
      },
    },
  ),
  defineCommand(
    "item.move",
    { itemId: Id, parentId: Id.nullable(), position: z.number() },
    {
      apply: (plan, { itemId, parentId, position }) => move(plan, [itemId], parentId, position),
      describe: (plan, { itemId, parentId }) => sayMove(plan, [itemId], parentId),
    },
  ),
  defineCommand(
    "items.move",
    /** Before an item of that folder; null: after its last. */
    { itemIds: Items, parentId: Id.nullable(), before: Id.nullable() },
    {
      apply(plan, { itemIds, parentId, before }) {
        const siblings = (lookup(plan).children.get(parentId) ?? []).filter(({ id }) => !itemIds.includes(id));
        const at = before === null ? -1 : siblings.findIndex(({ id }) => id === before);
        const next = at < 0 ? null : (siblings[at] as Item).position;
        const last = at < 0 ? siblings.at(-1)?.position : siblings[at - 1]?.position;
        // Between the two it falls between, however many there are.
        const from = last ?? (next ?? 1) - 1;
        const step = next === null ? 1 : (next - from) / (itemIds.length + 1);
        return move(plan, itemIds, parentId, from + step, step);
      },
      describe: (plan, { itemIds, parentId }) => sayMove(plan, itemIds, parentId),
    },
  ),
  defineCommand(
    "items.copy",
    { itemIds: Items, parentId: Id.nullable() },
    {
      apply(plan, { id, itemIds, parentId }) {
        if (itemIds.some((itemId) => !plan.items[itemId])) return gone();
        const position = lastPosition(plan, parentId);
        const retitled = (item: Item) => ({ ...item, title: cut(`${item.title}, copy`, 200) });
        return copyItems(plan, id, itemIds, parentId, position, retitled);
      },
      describe: (plan, { itemIds }) => `Copy ${titlesOf(plan, itemIds)}`,
    },
  ),
  defineCommand(
    "items.remove",
    { itemIds: Items },
    {
      apply(plan, { itemIds }) {
        if (itemIds.some((itemId) => !plan.items[itemId])) return gone();
        return itemIds.reduce((left, itemId) => (left.items[itemId] ? without(left, itemId) : left), plan);
      },
      describe: (plan, { itemIds }) => `Remove ${titlesOf(plan, itemIds)}`,
    },
  ),
  defineCommand(
    "item.remove",
    { itemId: Id },
    {
      apply(plan, { itemId }) {
        if (!plan.items[itemId]) return gone();
        return without(plan, itemId);
      },
      describe: (plan, { itemId }) => {
        const more = beneath(plan, itemId).length - 1;
        return `Remove ${titleOf(plan, itemId)}${more > 0 ? ` and the ${more} beneath it` : ""}`;
      },
    },
  ),
  defineCommand(
    "entrance.add",
    { entrance: Entrance },
    {
      apply(plan, { entrance }) {
        const folder = entrance.folderId === null || plan.items[entrance.folderId]?.kind === "folder";
        return plan.items[entrance.itemId] && folder ? put(plan, "entrances", [entrance]) : gone();
      },
      describe: (plan, { entrance }) => `Extra entrance to ${titleOf(plan, entrance.itemId)}`,
    },
  ),
  defineCommand(
    "entrance.remove",
    { entranceId: Id },
    {
      apply: (plan, { entranceId }) => (plan.entrances[entranceId] ? drop(plan, "entrances", [entranceId]) : gone()),
      describe: (plan, { entranceId }) =>
        `Remove an entrance to ${titleOf(plan, plan.entrances[entranceId]?.itemId ?? "")}`,
    },
  ),
] as const;
