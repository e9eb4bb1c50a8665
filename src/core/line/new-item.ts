/** A new item, said in one line: "discussion Reading circle for Day 1 and Evening, due fri 5pm, a thread each of Teams". */
import { lastPosition } from "../plan/lookup.ts";
import { Between, blankItem, type DateFields, type Item, ItemKind } from "../plan/types.ts";
import { splitKinds } from "../reach/outline/check.ts";
import { readAudience } from "./audience.ts";
import { beginsLikeDates, readDates, settingBegins } from "./dates.ts";
import { folderNamed, isNotUnderstood, type LineContext, layerNamed, type NotUnderstood } from "./names.ts";

export interface NewItem {
  item: Item;
  /** The layer for each group of which one is made; null for one alone. */
  eachOf: string | null;
}

const end = "(?=\\s*(?:[,;]|$))";
/** What may stand behind the title, each after a comma. */
const clause = new RegExp(
  `[,;]\\s*(?=(?:${settingBegins}|points \\d|\\d+(?:\\.\\d+)? points?${end}|(?:a|one) (?:thread|hand-in) (?:each|a group)|split along|for\\s|(?:un|not )published${end}))`,
  "i",
);
const address = /(?:,|\s+at)?\s+(https?:\/\/\S*[^\s,;])/i;

/** The thread or hand-in of each group of a layer: "a thread each of Teams, sealed". */
function readSplit(context: LineContext, text: string): Item["split"] | NotUnderstood | undefined {
  const found = /^(?:(?:a|one) (?:thread|hand-in) (?:each|a group)(?: of)?|split along)\s*(.*?)(?:,\s*(\w+))?$/i.exec(
    text,
  );
  if (!found) return undefined;
  const layer = layerNamed(context, found[1] as string);
  if (isNotUnderstood(layer)) return layer;
  const between = Between.safeParse((found[2] ?? "sealed").toLowerCase());
  return between.success
    ? { layerId: layer.id, between: between.data }
    : { word: found[2] as string, says: "How do groups stand to each other?", could: [...Between.options] };
}

/** Reads what stands behind the title into an item; null where all of it was understood. */
function readClause(context: LineContext, item: Item, text: string): NotUnderstood | null {
  if (beginsLikeDates(text)) {
    const dates = readDates(context, item, null, text);
    if (isNotUnderstood(dates)) return dates;
    item.dates = { ...item.dates, ...(dates as DateFields) };
    return null;
  }
  if (/^(?:un|not )published$/i.test(text)) {
    item.published = false;
    return null;
  }
  const points = /^points (\d+(?:\.\d+)?)$|^(\d+(?:\.\d+)?) points?$/i.exec(text);
  if (points) {
    item.points = Number(points[1] ?? points[2]);
    return null;
  }
  const split = readSplit(context, text);
  if (split === undefined)
    return { word: text, says: "This is not understood here.", could: ["due fri 5pm", "points 10"] };
  if (split && isNotUnderstood(split)) return split;
  if (!splitKinds.has(item.kind))
    return { word: text, says: `A ${item.kind} has no thread and no hand-in.`, could: [...splitKinds] };
  item.split = split;
  return null;
}

/** Its kind, its title and the folder that it is in. */
function readHead(context: LineContext, text: string): Pick<Item, "kind" | "title" | "parentId"> | NotUnderstood {
  const kind = ItemKind.safeParse(text.split(/\s/)[0]?.toLowerCase());
  if (!kind.success) return { word: text, says: "Which kind of item?", could: [...ItemKind.options] };
  const called = text.slice(kind.data.length).trim().replace(/,$/, "");
  if (called === "") return { word: "", says: `What is the ${kind.data} called?`, could: [] };
  const [, title = called, within] = /^(.+?)\s+in\s+(.+)$/i.exec(called) ?? [];
  const folder = within === undefined ? null : folderNamed(context, within);
  // A title may hold "in" itself.
  return folder === null || isNotUnderstood(folder)
    ? { kind: kind.data, title: called, parentId: null }
    : { kind: kind.data, title: title.replace(/,$/, ""), parentId: folder.id };
}

/** Reads a new item; what is not said is as a new item begins. `id` makes its id. */
export function readNewItem(text: string, context: LineContext, id: () => string): NewItem | NotUnderstood {
  const found = address.exec(text);
  const parts = text
    .replace(address, "")
    .split(clause)
    .map((part) => part.trim());
  const [, first = parts[0] as string, said] = /^(.+?),?\s+for\s+(.+)$/i.exec(parts[0] as string) ?? [];
  const later = parts.slice(1);
  const forWhom = said ?? later.find((part) => /^for\s/i.test(part))?.replace(/^for\s+/i, "");
  const head = readHead(context, first.trim());
  if (isNotUnderstood(head)) return head;
  const each = /^each group of (.+)$/i.exec(forWhom ?? "")?.[1];
  const audience = forWhom && !each ? readAudience(context, forWhom) : blankItem.audience;
  if (isNotUnderstood(audience)) return audience;
  const position = lastPosition(context.plan, head.parentId);
  const item: Item = { ...blankItem, ...head, id: id(), position, audience, body: found?.[1] ?? blankItem.body };
  for (const part of later.filter((one) => !/^for\s/i.test(one))) {
    const wrong = readClause(context, item, part);
    if (wrong) return wrong;
  }
  if (!each) return { item, eachOf: null };
  const layer = layerNamed(context, each);
  return isNotUnderstood(layer) ? layer : { item, eachOf: layer.id };
}
