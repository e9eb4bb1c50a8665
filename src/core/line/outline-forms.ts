/** Forms that change items where they stand: shown, split, renamed, moved, copied, removed. */
import { Between } from "../plan/types.ts";
import { after, done, type Form, idsOf } from "./form.ts";
import { folderNamed, groupNamed, isNotUnderstood, itemNamed, itemsNamed, layerNamed } from "./names.ts";

export const publishForm: Form = {
  example: "publish Quiz 1",
  says: "shows an item, or with unpublish hides it from everyone",
  words: ["publish", "unpublish", "release", "show", "hide"],
  read(text, context) {
    const shown = after(text, "publish", "show", "release");
    const hidden = after(text, "unpublish", "hide");
    const name = shown ?? hidden;
    if (name === null) return null;
    const items = itemsNamed(context, name);
    return isNotUnderstood(items)
      ? items
      : done({ kind: "items.change", itemIds: idsOf(items), fields: { published: shown !== null } });
  },
};

export const splitForm: Form = {
  example: "split Field journal along Teams, sealed",
  says: "a thread or hand-in for each group of a layer",
  words: ["split", "threads"],
  read(text, context) {
    const no = /^(.+?)\s+(?:no longer|not)\s+split$/i.exec(text);
    if (no) {
      const items = itemsNamed(context, no[1] as string);
      return isNotUnderstood(items)
        ? items
        : done({ kind: "items.change", itemIds: idsOf(items), fields: { split: null } });
    }
    const name = after(text, "split");
    if (name === null) return null;
    const [, what = name, along = "", how = "sealed"] = /^(.+?)\s+along\s+(.*?)(?:,\s*(\w+))?$/i.exec(name) ?? [];
    const items = itemsNamed(context, what);
    if (isNotUnderstood(items)) return items;
    const layer = layerNamed(context, along);
    if (isNotUnderstood(layer)) return layer;
    const between = Between.safeParse(how.toLowerCase());
    return between.success
      ? done({
          kind: "items.change",
          itemIds: idsOf(items),
          fields: { split: { layerId: layer.id, between: between.data } },
        })
      : { word: how, says: "How do groups stand to each other?", could: [...Between.options] };
  },
};

export const renameForm: Form = {
  example: "rename Quiz 1 to Quiz 1: Rivers",
  says: "another title or name",
  words: ["rename", "title", "name"],
  read(text, context) {
    const both = /^rename\s+(.+?)\s+to\s+(.+)$/i.exec(text);
    if (!both) return null;
    const [, from = "", to = ""] = both;
    const group = groupNamed(context, from);
    const item = itemNamed(context, from);
    if (!isNotUnderstood(item)) return done({ kind: "item.change", itemId: item.id, fields: { title: to } });
    return isNotUnderstood(group) ? item : done({ kind: "group.change", groupId: group.id, fields: { name: to } });
  },
};

export const moveForm: Form = {
  example: "move Kit list to Readings",
  says: "into a folder, or to the top of the outline",
  words: ["move", "folder"],
  read(text, context) {
    const both = /^move\s+(.+)\s+to\s+(.+)$/i.exec(text);
    if (!both) return null;
    const items = itemsNamed(context, both[1] as string);
    if (isNotUnderstood(items)) return items;
    const itemIds = idsOf(items);
    if (/^(the )?top( of the outline)?$/i.test(both[2] as string))
      return done({ kind: "items.move", itemIds, parentId: null, before: null });
    const folder = folderNamed(context, both[2] as string);
    return isNotUnderstood(folder) ? folder : done({ kind: "items.move", itemIds, parentId: folder.id, before: null });
  },
};

export const copyForm: Form = {
  example: "copy Kit list",
  says: "a copy beside it, with all beneath",
  words: ["copy", "duplicate"],
  read(text, context) {
    const name = after(text, "copy", "duplicate");
    if (name === null) return null;
    const items = itemsNamed(context, name);
    return isNotUnderstood(items)
      ? items
      : done({ kind: "items.copy", itemIds: idsOf(items), parentId: items[0]?.parentId ?? null });
  },
};

export const removeForm: Form = {
  example: "remove Kit list",
  says: "takes an item away, with all beneath",
  words: ["remove", "delete"],
  read(text, context) {
    const name = after(text, "remove", "delete")?.replace(/ and the \d+ beneath it$/i, "");
    if (name === undefined) return null;
    const items = itemsNamed(context, name);
    return isNotUnderstood(items) ? items : done({ kind: "items.remove", itemIds: idsOf(items) });
  },
};
