/** A typed line, read: what it would do, where it leads, or which word of it is not understood. */
import { apply, Command, type NewCommand, sayCommand } from "../commands.ts";
import { isRefusal } from "../plan/command.ts";
import { fold } from "../text/caseless.ts";
import type { Form, Way } from "./form.ts";
import { forms } from "./forms.ts";
import type { LineContext, NotUnderstood } from "./names.ts";

export type { LineContext, NotUnderstood, Way };
export { forms };
export type Line =
  /** `says`: each change as the tray says it. `refused`: why it cannot be done as things are. */
  | { kind: "commands"; commands: NewCommand[]; says: string[]; refused: string | null }
  | { kind: "way"; way: Way }
  | ({ kind: "not understood" } & NotUnderstood)
  /** It is of no form: a name to be found, or nothing yet. */
  | { kind: "none" };

/** The changes in words, one after the other, and why one of them cannot be. */
function told({ plan, now }: LineContext, commands: NewCommand[], id: () => string): Line {
  const says: string[] = [];
  let next = plan;
  for (const command of commands) {
    const named = { ...command, id: id() } as Command;
    says.push(sayCommand(next, named));
    const parsed = Command.safeParse(named);
    const after = parsed.success ? apply(next, parsed.data, { now }) : null;
    if (after === null) return { kind: "commands", commands, says, refused: "It is too long, or not as it may be." };
    if (isRefusal(after)) return { kind: "commands", commands, says, refused: after.sentence };
    next = after;
  }
  return { kind: "commands", commands, says, refused: null };
}

/** Reads one line. `id` makes an id for each new row: it is asked for again at each reading. */
export function readLine(text: string, context: LineContext, id: () => string): Line {
  const line = text.trim().replaceAll(/\s+/g, " ");
  if (line === "") return { kind: "none" };
  let first: NotUnderstood | null = null;
  for (const form of forms) {
    const meaning = form.read(line, context, id);
    if (meaning === null) continue;
    if ("commands" in meaning) return told(context, meaning.commands, id);
    if ("way" in meaning) return { kind: "way", way: meaning.way };
    first ??= meaning;
  }
  return first ? { kind: "not understood", ...first } : { kind: "none" };
}

/** The forms that a text may be on the way to: those with a word that it has, or begins. */
export function formsFor(text: string): Form[] {
  const words = fold(text)
    .split(/[^a-z]+/)
    .filter(({ length }) => length > 1);
  return forms.filter((form) => form.words.some((word) => words.some((typed) => word.startsWith(typed))));
}
