/** Forms that say for whom: of what is there, of what is new, and one for each group. */
import { type Audience, blankItem, type Item, ItemKind } from "../plan/types.ts";
import { lastPosition } from "../reach/outline/check.ts";
import { usualPattern } from "../reach/outline/for-each.ts";
import { after, done, type Form, idsOf } from "./form.ts";
import {
  folderNamed,
  isNotUnderstood,
  itemsAtStart,
  itemsNamed,
  type LineContext,
  layerNamed,
  type NotUnderstood,
  targetsNamed,
} from "./names.ts";

/** "everyone", "nobody", "Evening and Day 1", "Evening, not 00240037". */
function readAudience(context: LineContext, text: string): Audience | NotUnderstood {
  const [to = "", without] = text.split(/,?\s+not\s+/i);
  const minus = without === undefined ? [] : targetsNamed(context, without);
  if (isNotUnderstood(minus)) return minus;
  if (/^(everyone|everybody|all)$/i.test(to.trim())) return { to: "everyone", minus };
  if (/^nobody$/i.test(to.trim())) return { to: [], minus };
  const named = targetsNamed(context, to.replaceAll(/\s+and\s+/gi, ", "));
  return isNotUnderstood(named) ? named : { to: named, minus };
}

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
  example: "new page Field kit in Readings, for Evening",
  says: "an item, for everyone where nobody is named",
  words: ["new", "add", "create", "make"],
  read(text, context, id) {
    const rest = after(text, "new", "add", "create");
    const kind = ItemKind.safeParse(rest?.split(/\s/)[0]?.toLowerCase());
    if (rest === null) return null;
    if (!kind.success) return { word: rest, says: "Which kind of item?", could: [...ItemKind.options] };
    const named = rest.slice(kind.data.length).trim();
    const [, whole = named, forWhom] = /^(.+?),?\s+for\s+(.+)$/i.exec(named) ?? [];
    const [, title = whole, within] = /^(.+?)\s+in\s+(.+)$/i.exec(whole) ?? [];
    if (title.trim() === "") return { word: "", says: `What is the ${kind.data} called?`, could: [] };
    const each = /^each group of (.+)$/i.exec(forWhom ?? "")?.[1];
    const audience = forWhom && !each ? readAudience(context, forWhom) : blankItem.audience;
    if (isNotUnderstood(audience)) return audience;
    const folder = within === undefined ? null : folderNamed(context, within);
    // A title may hold "in" itself.
    const isFolder = folder !== null && !isNotUnderstood(folder);
    const parentId = isFolder ? folder.id : null;
    const position = lastPosition(context.plan, parentId);
    const called = (isFolder ? title : whole).trim().replace(/,$/, "");
    const item: Item = { ...blankItem, id: id(), kind: kind.data, title: called, parentId, position, audience };
    if (!each) return done({ kind: "item.add", item });
    const layer = layerNamed(context, each);
    return isNotUnderstood(layer) ? layer : done({ kind: "item.addForEach", item, layerId: layer.id });
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
