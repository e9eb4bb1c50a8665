/** Forms that say for whom: of what is there, of what is new, and one for each group. */
import { usualPattern } from "../reach/outline/for-each.ts";
import { readAudience } from "./audience.ts";
import { after, done, type Form, idsOf } from "./form.ts";
import { isNotUnderstood, itemsAtStart, itemsNamed, layerNamed } from "./names.ts";
import { readNewItem } from "./new-item.ts";

export const audienceForm: Form = {
  example: "Kit list for Evening, not 00240037",
  says: "for whom an item is",
  words: ["for", "only", "assign", "audience", "restrict"],
  read(text, context) {
    const known = itemsAtStart(context, text);
    const behind = known && /^\s+for\s+(.+)$/i.exec(known.rest)?.[1];
    const both = behind ? null : /^(.+?)\s+for\s+(.+)$/i.exec(text);
    if (!behind && !both) return null;
    const items = behind ? known.items : itemsNamed(context, both?.[1] as string);
    if (isNotUnderstood(items)) return items;
    const audience = readAudience(context, behind ?? (both?.[2] as string));
    return isNotUnderstood(audience)
      ? audience
      : done({ kind: "items.change", itemIds: idsOf(items), fields: { audience } });
  },
};

export const newForm: Form = {
  example: "new discussion Field notes in Readings, for Evening, due fri 5pm, a thread each of Teams",
  says: "an item, for everyone where nobody is named",
  words: ["new", "add", "create", "make"],
  read(text, context, id) {
    const rest = after(text, "new", "add", "create");
    if (rest === null) return null;
    const read = readNewItem(rest, context, id);
    if (isNotUnderstood(read)) return read;
    const { item, eachOf } = read;
    return done(eachOf === null ? { kind: "item.add", item } : { kind: "item.addForEach", item, layerId: eachOf });
  },
};

export const eachForm: Form = {
  example: "Readings: one for each group of Sections",
  says: "what is there, once for each group, for it alone",
  words: ["each", "every", "per"],
  read(text, context) {
    const both = /^(.+?):?\s+one (?:for )?each group of (.+)$/i.exec(text);
    if (!both) return null;
    const items = itemsNamed(context, both[1] as string);
    if (isNotUnderstood(items)) return items;
    const layer = layerNamed(context, both[2] as string);
    if (isNotUnderstood(layer)) return layer;
    const titles = items.map(({ title }) => title);
    const pattern = usualPattern(context.plan, layer.id, titles);
    return done({ kind: "items.forEach", itemIds: idsOf(items), layerId: layer.id, pattern });
  },
};
