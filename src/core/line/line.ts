/** A typed line, read: what it would do, where it leads, or which word of it is not understood. */
import { apply, Command, type NewCommand, sayCommand } from "../commands.ts";
import { isRefusal } from "../plan/command.ts";
import type { Plan } from "../plan/types.ts";
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

interface Told {
  line: Line & { kind: "commands" };
  /** The plan after them; as it was before where one of them cannot be. */
  plan: Plan;
}
/** The changes in words, one after the other, and why one of them cannot be. */
function told({ plan, now }: LineContext, commands: NewCommand[], id: () => string): Told {
  const says: string[] = [];
  const named: NewCommand[] = [];
  let next = plan;
  const refuse = (refused: string): Told => ({ line: { kind: "commands", commands, says, refused }, plan });
  for (const command of commands) {
    const whole = { ...command, id: id() } as Command;
    says.push(sayCommand(next, whole));
    const parsed = Command.safeParse(whole);
    const after = parsed.success ? apply(next, parsed.data, { now }) : null;
    if (after === null) return refuse("It is too long, or not as it may be.");
    if (isRefusal(after)) return refuse(after.sentence);
    named.push(whole);
    next = after;
  }
  return { line: { kind: "commands", commands: named, says, refused: null }, plan: next };
}

/** Reads one line, and gives the plan as it would be after it. */
function readOne(text: string, context: LineContext, id: () => string): { line: Line; plan: Plan } {
  const asItWas = (line: Line) => ({ line, plan: context.plan });
  const typed = text.trim().replaceAll(/\s+/g, " ");
  if (typed === "") return asItWas({ kind: "none" });
  let first: NotUnderstood | null = null;
  for (const form of forms) {
    const meaning = form.read(typed, context, id);
    if (meaning === null) continue;
    if ("commands" in meaning) return told(context, meaning.commands, id);
    if ("way" in meaning) return asItWas({ kind: "way", way: meaning.way });
    first ??= meaning;
  }
  return asItWas(first ? { kind: "not understood", ...first } : { kind: "none" });
}

/** Reads one line. `id` makes an id for each change and each new row: it is asked for again at each reading. */
export const readLine = (text: string, context: LineContext, id: () => string): Line => readOne(text, context, id).line;

/** Reads several lines, each of which may name what those before it made or changed. */
export function readLines(texts: string[], context: LineContext, id: () => string): Line[] {
  let { plan } = context;
  return texts.map((text) => {
    const read = readOne(text, { ...context, plan }, id);
    plan = read.plan;
    return read.line;
  });
}

/** The forms that a text may be on the way to: those with a word that it has, or begins. */
export function formsFor(text: string): Form[] {
  const words = fold(text)
    .split(/[^a-z]+/)
    .filter(({ length }) => length > 1);
  return forms.filter((form) => form.words.some((word) => words.some((typed) => word.startsWith(typed))));
}
