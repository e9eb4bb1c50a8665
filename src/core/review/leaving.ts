/**
 * A publication that leaves some of the draft out: what is taken, and what stays drafted with it because it needs what
 * was left out. Source: semantics.md section 8.
 */
import { type Command, type Replay, replay } from "../commands.ts";
import type { Context } from "../plan/command.ts";
import type { Plan } from "../plan/types.ts";

export interface Parted {
  /** The draft without what stays. */
  taken: Replay;
  /** Commands that stay drafted: left out by hand, and those that need one of them. */
  staying: Set<string>;
  /** Of those that stay because of others: which of the left-out commands each needs. */
  needs: Map<string, string[]>;
}

/** Past so many questions it is not asked which of several left-out commands one needs: all are named. */
const mostAsked = 300;

/** Parts a draft. Commands that apply to the plan as it is anyway are never dragged out with others. */
export function partDraft(plan: Plan, commands: Command[], leftOut: ReadonlySet<string>, context: Context): Parted {
  const whole = replay(plan, commands, context);
  const byHand = commands.filter(({ id }) => leftOut.has(id));
  if (byHand.length === 0) return { taken: whole, staying: new Set(), needs: new Map() };
  // What applies to nothing any more is no dependent of what is left out.
  const vain = new Set(whole.refused.map(({ command }) => command.id));
  const staying = new Set(byHand.map(({ id }) => id));
  const dependents: Command[] = [];
  let taken = whole;
  for (;;) {
    taken = replay(
      plan,
      commands.filter(({ id }) => !staying.has(id)),
      context,
    );
    const more = taken.refused.filter(({ command }) => !vain.has(command.id));
    if (more.length === 0) break;
    for (const { command } of more) {
      staying.add(command.id);
      dependents.push(command);
    }
  }
  const needs = new Map<string, string[]>();
  const asked = dependents.length * byHand.length;
  for (const dependent of dependents) {
    const needed =
      asked > mostAsked
        ? byHand
        : byHand.filter(({ id }) => {
            // Everything but this one is there: does the dependent then fail?
            const without = commands.filter((command) => command.id !== id);
            return replay(plan, without, context).refused.some(({ command }) => command.id === dependent.id);
          });
    needs.set(
      dependent.id,
      (needed.length > 0 ? needed : byHand).map(({ id }) => id),
    );
  }
  return { taken, staying, needs };
}
