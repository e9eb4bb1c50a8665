/** What a form of a typed line is, and what forms share. */
import type { NewCommand } from "../commands.ts";
import type { Item, Target } from "../plan/types.ts";
import type { LineContext, NotUnderstood } from "./names.ts";

/** Where a line leads that changes nothing. */
export type Way = { kind: "write"; to: Target[]; body: string } | { kind: "look"; personId: string; when: string };
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

/** Ids of items. */
export const idsOf = (items: Item[]): string[] => items.map(({ id }) => id);
/** Commands that a line means. */
export const done = (...commands: NewCommand[]): Meaning => ({ commands });
/** What stands behind a word at the beginning of a text; null where it does not begin so. */
export const after = (text: string, ...starts: string[]): string | null => {
  for (const start of starts) {
    const found = new RegExp(`^${start}\\s+`, "i").exec(`${text} `);
    if (found) return text.slice(found[0].length).trim();
  }
  return null;
};
