/** The form that sets dates and limits: "Quiz 1, 00240037: due +1d". */
import type { NewCommand } from "../commands.ts";
import type { Item, Target } from "../plan/types.ts";
import { beginsLikeDates, readDates } from "./dates.ts";
import type { Form, Meaning } from "./form.ts";
import {
  isNotUnderstood,
  itemsAtStart,
  itemsNamed,
  type LineContext,
  type NotUnderstood,
  targetsNamed,
} from "./names.ts";

export const datesForm: Form = {
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

/**
 * What of an item is otherwise for somebody: "Day 2: due +1d, attempts 2", several with semicolons or line ends between.
 * Each that is counted from what holds is counted from what held before the line.
 */
export function otherwiseFor(
  context: LineContext,
  item: Item,
  text: string,
): { commands: NewCommand[] } | NotUnderstood {
  const commands: NewCommand[] = [];
  for (const part of text.split(/[;\n]/).map((one) => one.trim())) {
    if (part === "") continue;
    const [, names = "", settings = ""] = /^(.+?):\s*(.+)$/.exec(part) ?? [];
    if (settings === "") return { word: part, says: "Who, and what they have?", could: ["Day 2: due +1d, attempts 2"] };
    const targets = targetsNamed(context, names);
    if (isNotUnderstood(targets)) return targets;
    const meaning = datesFor(context, [item], targets, settings);
    if (!("commands" in meaning)) return meaning as NotUnderstood;
    commands.push(...meaning.commands);
  }
  return { commands };
}

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

/**
 * The commands for settings such as "due +1d, 3 attempts": one for each item and target, since what is typed is counted from
 * what holds for it. `targets` null: what the items have for everybody.
 */
export function datesFor(context: LineContext, items: Item[], targets: Target[] | null, settings: string): Meaning {
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
