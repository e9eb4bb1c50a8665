/** What somebody with a part of the course may draft and publish of it, seen over the whole draft. Source: semantics.md section 9. */
import { type Drafter, isAllTheirs, whyNotDraft } from "../access/drafting.ts";
import { apply, type Command } from "../commands.ts";
import { isRefusal, type Refusal, refuse } from "../plan/command.ts";
import type { Progress } from "../plan/progress.ts";
import type { Plan } from "../plan/types.ts";
import { review } from "./effects.ts";

/** Why commands may not be drafted over a plan, one after another; null where they may. `now`: epoch milliseconds. */
export function whyNotDraftAll(plan: Plan, drafter: Drafter, commands: Command[], now: number): Refusal | null {
  let next = plan;
  for (const command of commands) {
    const refused = whyNotDraft(next, drafter, command);
    if (refused) return refused;
    const after = apply(next, command, { now });
    // What no longer applies changes nothing; it is told where it is looked at.
    if (!isRefusal(after)) next = after;
  }
  return null;
}

interface Publishing {
  before: Plan;
  after: Plan;
  commands: Command[];
  progress: Progress;
  /** Epoch milliseconds. */
  now: number;
}

/** Why a draft may not be published by whoever drafted it: not allowed, or somebody outside is touched. */
export function whyNotPublish(
  drafter: Drafter,
  { before, after, commands, progress, now }: Publishing,
): Refusal | null {
  if (!drafter.may.includes("publish"))
    return refuse("scope.publish", "The coordinator publishes in this course. Propose it to them.");
  const refused = whyNotDraftAll(before, drafter, commands, now);
  if (refused) return refused;
  return isAllTheirs(before, after, review(before, after, progress, now).lines, drafter.scope)
    ? null
    : refuse(
        "scope.effect",
        "It touches students outside the sections and groups you were given. Propose it to the coordinator.",
      );
}
