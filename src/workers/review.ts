/** The review of the draft away from the page, and what each change of it does, one at a time. No logic of its own. */
import { type Command, replay } from "../core/commands.ts";
import { type Cause, causesOf } from "../core/review/causes.ts";
import { type Review, review } from "../core/review/effects.ts";
import type { ToldCourse } from "./told.ts";

export interface ReviewQuestion {
  /** By this id the causes of the same draft are asked for. */
  id: number;
  commands: Command[];
  /** When the commands are applied, epoch milliseconds. */
  now: number;
}

export function reviewFunctions({ course }: ToldCourse) {
  let last: { id: number; causes: Iterator<Cause> } | null = null;
  return {
    review({ id, commands, now }: ReviewQuestion): Review {
      const { plan, progress } = course();
      const found = review(plan, replay(plan, commands, { now }).plan, progress, now);
      last = { id, causes: causesOf(plan, commands, progress, found, { now }) };
      return found;
    },
    /**
     * The next change of the draft that was reviewed last, which question `of` asked for; null where there is none, or a
     * newer review. Each is a question of its own, so that a newer draft waits for one at most.
     */
    nextCause(of: number): Cause | null {
      const next = last?.id === of ? last.causes.next() : null;
      return next && !next.done ? next.value : null;
    },
  };
}
