/**
 * Which drafted change does what: each is reviewed by itself, over the plan as the changes before it leave it.
 * Source: semantics.md section 8.
 */
import { apply, type Command } from "../commands.ts";
import { type Context, isRefusal } from "../plan/command.ts";
import type { Progress } from "../plan/progress.ts";
import type { Plan } from "../plan/types.ts";
import type { Effect } from "./effect.ts";
import { type Review, review } from "./effects.ts";

export interface Cause {
  commandId: string;
  /** Students who have something otherwise with the change than just before it. */
  personIds: ReadonlySet<string>;
  /** Places in the whole review's lines that it has a part in. */
  lines: Set<number>;
}

const keyOf = ({ kind, itemId, groupId, field }: Effect) => [kind, itemId, groupId, field].join("/");

/** For each drafted command, one after another, whom it touches, and in which lines of the whole draft's review. */
export function* causesOf(
  published: Plan,
  commands: Command[],
  progress: Progress,
  whole: Review,
  context: Context,
): Generator<Cause, undefined> {
  const { lines } = whole;
  // Lines by what they hold, so that each change looks only at those that it may have a part in.
  const linesOf = new Map<string, Set<number>>();
  for (const [at, { effects }] of lines.entries())
    for (const effect of effects) {
      const key = keyOf(effect);
      linesOf.set(key, (linesOf.get(key) ?? new Set()).add(at));
    }
  const people = lines.map(({ personIds }) => new Set(personIds));
  let plan = published;
  for (const command of commands) {
    const next = apply(plan, command, context);
    if (isRefusal(next)) continue;
    const own = commands.length === 1 ? whole : review(plan, next, progress, context.now);
    const cause: Cause = { commandId: command.id, personIds: own.touchedIds, lines: new Set() };
    for (const { effects, personIds } of own.lines)
      for (const effect of effects)
        for (const at of linesOf.get(keyOf(effect)) ?? [])
          if (!cause.lines.has(at) && personIds.some((id) => people[at]?.has(id))) cause.lines.add(at);
    yield cause;
    plan = next;
  }
}
