/** A worker thread: what it is asked to do by name, with its arguments. Its bundle stands beside the server's. */
import { askLocaleBy, type LocaleSetting } from "../../core/text/locale.ts";
import * as work from "./work.ts";

// A thread does one thing at a time: whoever asked for that reads it.
let reader: LocaleSetting | null = null;
askLocaleBy(() => reader);

const byName: Record<string, (...args: never[]) => Promise<unknown>> = { ...work };

export interface Task {
  name: keyof typeof work;
  args: unknown[];
  /** Of whoever reads what comes of it. */
  locale: LocaleSetting;
}
/** An error does not come over with all it knows: what decides on the answer is told beside it. */
export type Outcome = { value: unknown } | { error: { message: string; stack: string; code: unknown } };

export default async function run({ name, args, locale }: Task): Promise<Outcome> {
  reader = locale;
  try {
    return { value: await (byName[name] as (...given: unknown[]) => Promise<unknown>)(...args) };
  } catch (error) {
    const { message, stack, code } = error as Error & { code?: unknown };
    return { error: { message: String(message), stack: String(stack), code } };
  }
}
