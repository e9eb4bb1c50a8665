/**
 * The forms of a typed line. Each reads a text into commands, says that a part of it is not understood, or leaves it to
 * the others. What the tray says of a change is in one of these forms, so that what one reads one can type.
 */
import type { NewCommand } from "../commands.ts";
import { type Audience, Between, blankItem, type Item, ItemKind, type Target } from "../plan/types.ts";
import { lastPosition } from "../reach/outline/check.ts";
import { beginsLikeDates, readDates } from "./dates.ts";
import {
  folderNamed,
  groupNamed,
  isNotUnderstood,
  itemNamed,
  itemsAtStart,
  itemsNamed,
  type LineContext,
  layerNamed,
  type NotUnderstood,
  targetsNamed,
} from "./names.ts";

/** Where a line leads that changes nothing. */
export type Way = { kind: "write"; to: Target[] } | { kind: "look"; personId: string; when: string };
export type Meaning = { commands: NewCommand[] } | { way: Way } | NotUnderstood;
export interface Form {
  /** As it is written, for the guide and as an example. */
  example: string;
  /** What it does, in a few words. */
  says: string;
  /** What people call it, in whole words. */
  words: string[];
  /** Null where the text is of another form. `id` makes the ids of new rows. */
  read(text: string, context: LineContext, id: () => string): Meaning | null;
}

const idsOf = (items: Item[]) => items.map(({ id }) => id);
const done = (...commands: NewCommand[]): Meaning => ({ commands });
/** What stands behind a word at the beginning of a text; null where it does not begin so. */
const after = (text: string, ...starts: string[]): string | null => {
  for (const start of starts) {
    const found = new RegExp(`^${start}\\s+`, "i").exec(`${text} `);
    if (found) return text.slice(found[0].length).trim();
  }
  return null;
};

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

const datesForm: Form = {
  example: "Quiz 1, 00240037: due +1d, 3 attempts",
  says: "dates and limits, for all or for somebody alone",
  words: ["due", "deadline", "extension", "extra", "exception", "override", "attempts", "minutes", "opens", "closes"],
  read(text, context) {
    for (let at = text.lastIndexOf(":"); at > 0; at = text.lastIndexOf(":", at - 1)) {
      const settings = text.slice(at + 1).trim();
      const of = beginsLikeDates(settings) ? datesOf(context, text.slice(0, at)) : null;
      if (of === null) continue;
      return isNotUnderstood(of) ? of : datesFor(context, of.items, of.targets, settings);
    }
    return null;
  },
};

interface DatesOf {
  items: Item[];
  /** Whose own they are; null: everybody's. */
  targets: Target[] | null;
}

/** What stands before the settings: items and, behind a comma or "for", whose own these are. */
function datesOf(context: LineContext, head: string): DatesOf | NotUnderstood | null {
  const known = itemsAtStart(context, head);
  const whose = known && /^\s*(?:,|for\b)\s*(.+)$/i.exec(known.rest)?.[1];
  if (known && !whose && known.rest.trim() !== "") return null;
  const split = known ? null : /^(.*?)(?:,\s*|\s+for\s+)(.+)$/i.exec(head);
  const items = known?.items ?? itemsNamed(context, split?.[1] ?? head);
  if (isNotUnderstood(items)) return items;
  const names = whose ?? split?.[2];
  if (!names) return { items, targets: null };
  const targets = targetsNamed(context, names);
  return isNotUnderstood(targets) ? targets : { items, targets };
}

/** The commands for settings: one for each item and target where what is typed is counted from what holds. */
function datesFor(context: LineContext, items: Item[], targets: Target[] | null, settings: string): Meaning {
  const commands: NewCommand[] = [];
  for (const target of targets ?? [null])
    for (const item of items) {
      const dates = readDates(context, item, target, settings);
      if (isNotUnderstood(dates)) return dates as NotUnderstood;
      const itemIds = [item.id];
      commands.push(
        (target
          ? { kind: "override.set", itemIds, target, dates }
          : { kind: "dates.set", itemIds, dates }) as NewCommand,
      );
    }
  return { commands };
}

const publishForm: Form = {
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

const splitForm: Form = {
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

const renameForm: Form = {
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

const moveForm: Form = {
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

const copyForm: Form = {
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

const removeForm: Form = {
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

const newForm: Form = {
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

const eachForm: Form = {
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
    const [first] = items as [Item];
    const pattern = items.length > 1 ? "{group}" : layer.private ? first.title : `{group} ${first.title}`;
    return done({ kind: "items.forEach", itemIds: idsOf(items), layerId: layer.id, pattern });
  },
};

const placeForm: Form = {
  example: "00240037 into Day 2",
  says: "into a group, or with out of from it",
  words: ["into", "place", "group"],
  read(text, context) {
    const both = /^(.+?)\s+(into|to|out of)\s+(.+)$/i.exec(text);
    if (!both || /^(write|message|rename|move|look)\b/i.test(text)) return null;
    const group = groupNamed(context, both[3] as string);
    const people = targetsNamed(context, both[1] as string);
    if (isNotUnderstood(people)) return isNotUnderstood(group) ? null : people;
    if (isNotUnderstood(group)) return group;
    const personIds = people.flatMap(({ kind, id }) => (kind === "person" ? [id] : []));
    if (personIds.length < people.length)
      return { word: both[1] as string, says: "Only people are placed by a line.", could: [] };
    const kind = both[2]?.toLowerCase() === "out of" ? "placement.remove" : "placement.place";
    return done({ kind, groupId: group.id, personIds });
  },
};

const writeForm: Form = {
  example: "write to Evening",
  says: "begins a message",
  words: ["write", "message", "mail", "email", "letter", "announce", "notify"],
  read(text, context) {
    const names = after(text, "write to", "message to", "message", "mail to", "e-?mail");
    if (names === null) return null;
    const to = targetsNamed(context, names.replaceAll(/\s+and\s+/gi, ", "));
    return isNotUnderstood(to) ? to : { way: { kind: "write", to } };
  },
};

const lookForm: Form = {
  example: "look as 00240037 on Friday",
  says: "the course through somebody's eyes",
  words: ["look", "view", "preview", "see", "as"],
  read(text, context) {
    const rest = after(text, "look as", "look through", "view as");
    if (rest === null) return null;
    const [, name = rest, when = ""] = /^(.+?)\s+(?:on|at)\s+(.+)$/i.exec(rest) ?? [];
    const found = targetsNamed(context, name);
    if (isNotUnderstood(found)) return found;
    const [one] = found;
    return one?.kind === "person"
      ? { way: { kind: "look", personId: one.id, when } }
      : { word: name, says: "One looks as one person.", could: [] };
  },
};

const audienceForm: Form = {
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

/** In the order in which they are tried: a form with a word of its own before one that is told by what stands in it. */
export const forms: Form[] = [
  publishForm,
  splitForm,
  renameForm,
  moveForm,
  copyForm,
  removeForm,
  newForm,
  writeForm,
  lookForm,
  datesForm,
  eachForm,
  audienceForm,
  placeForm,
];
