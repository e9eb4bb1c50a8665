/** Commands on the outline: items, audiences, conditions, entrances, indexes. Source: semantics.md section 4. */
import { z } from "zod";
import { defineCommand, drop, put, type Refusal, refuse } from "../plan/command.ts";
import { lookup } from "../plan/lookup.ts";
import { Course, Entrance, Id, Item, type Plan, type Target } from "../plan/types.ts";
import { sayAudience } from "./explain.ts";

const missing = (plan: Plan, { kind, id }: Target): boolean =>
  !{ group: plan.groups, section: plan.sections, person: plan.people, set: plan.sets }[kind][id];

function checkItem(plan: Plan, item: Item): Refusal | null {
  const named = [...(item.audience.to === "everyone" ? [] : item.audience.to), ...item.audience.minus];
  if (named.some((target) => missing(plan, target))) {
    return refuse(
      "audience.gone",
      `${item.title} names a group, section or person that is no longer there. Choose whom it is for again.`,
    );
  }
  if (item.parentId && plan.items[item.parentId]?.kind !== "folder") {
    return refuse("folder.gone", `The folder for ${item.title} is no longer there.`);
  }
  const layer = item.split && plan.layers[item.split.layerId];
  if (item.split && !layer)
    return refuse("layer.gone", `The layer along which ${item.title} is split is no longer there.`);
  if (layer?.private)
    return refuse("split.private", "A private layer cannot split items: students would learn that it exists.");
  if (item.split && !["discussion", "assignment", "quiz"].includes(item.kind)) {
    return refuse("split.kind", "Only discussions, assignments and quizzes can be split.");
  }
  return null;
}

/** Everything beneath a folder, itself first. */
function beneath(plan: Plan, itemId: string): string[] {
  const ids = [itemId];
  for (let at = 0; at < ids.length; at++) {
    for (const child of lookup(plan).children.get(ids[at] as string) ?? []) ids.push(child.id);
  }
  return ids;
}

const title = (plan: Plan, itemId: string) => plan.items[itemId]?.title ?? "a removed item";
const gone = () => refuse("item.gone", "The item is no longer there.");

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
        const name = title(plan, itemId);
        if (fields.audience) return `${name} for ${sayAudience(plan, fields.audience)}`;
        if (fields.published !== undefined) return fields.published ? `Publish ${name}` : `Unpublish ${name}`;
        if (fields.seals !== undefined) return `${name} ${fields.seals ? "seals its contents" : "is only a doorway"}`;
        if (fields.title) return `Rename ${name} to ${fields.title}`;
        return `Change ${name}`;
      },
    },
  ),
  defineCommand(
    "item.move",
    { itemId: Id, parentId: Id.nullable(), position: z.number() },
    {
      apply(plan, { itemId, parentId, position }) {
        const item = plan.items[itemId];
        if (!item) return gone();
        if (parentId && beneath(plan, itemId).includes(parentId)) {
          return refuse("folder.circle", `${item.title} cannot be moved into itself or into a folder inside it.`);
        }
        const moved = { ...item, parentId, position };
        return checkItem(plan, moved) ?? put(plan, "items", [moved]);
      },
      describe: (plan, { itemId, parentId }) =>
        `Move ${title(plan, itemId)} to ${parentId ? title(plan, parentId) : "the top of the outline"}`,
    },
  ),
  defineCommand(
    "item.remove",
    { itemId: Id },
    {
      apply(plan, { itemId }) {
        if (!plan.items[itemId]) return gone();
        const ids = new Set(beneath(plan, itemId));
        const of = (rows: Record<string, { id: string; itemId: string }>) =>
          Object.values(rows)
            .filter((row) => ids.has(row.itemId))
            .map(({ id }) => id);
        const doors = Object.values(plan.entrances)
          .filter(({ folderId }) => folderId && ids.has(folderId))
          .map(({ id }) => id);
        const cleared = drop(drop(plan, "overrides", of(plan.overrides)), "entrances", [
          ...of(plan.entrances),
          ...doors,
        ]);
        return drop(cleared, "items", [...ids]);
      },
      describe: (plan, { itemId }) => {
        const more = beneath(plan, itemId).length - 1;
        return `Remove ${title(plan, itemId)}${more > 0 ? ` and the ${more} beneath it` : ""}`;
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
      describe: (plan, { entrance }) => `Extra entrance to ${title(plan, entrance.itemId)}`,
    },
  ),
  defineCommand(
    "entrance.remove",
    { entranceId: Id },
    {
      apply: (plan, { entranceId }) => (plan.entrances[entranceId] ? drop(plan, "entrances", [entranceId]) : gone()),
      describe: (plan, { entranceId }) =>
        `Remove an entrance to ${title(plan, plan.entrances[entranceId]?.itemId ?? "")}`,
    },
  ),
  defineCommand(
    "course.indexes",
    { indexes: Course.shape.indexes },
    {
      apply: (plan, { indexes }) => ({ ...plan, course: { ...plan.course, indexes } }),
      describe: (plan, { indexes }) => {
        const names = {
          discussions: "all discussions",
          files: "all files",
          calendar: "the calendar",
          work: "the list of work",
        };
        const moved = (Object.keys(names) as (keyof typeof names)[]).filter(
          (key) => plan.course.indexes[key] !== indexes[key],
        );
        return (
          moved.map((key) => `Index ${names[key]} ${indexes[key] ? "on" : "off"}`).join(", ") || "Indexes as they are"
        );
      },
    },
  ),
] as const;
