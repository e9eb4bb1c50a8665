/** The review of the draft away from the page, and what each change of it does, one at a time. No logic of its own. */
import { type Command, replay } from "../core/commands.ts";
import { type Cause, causesOf } from "../core/review/causes.ts";
import { type Review, review } from "../core/review/effects.ts";
import { answerWith, type Failed } from "./told.ts";

export type ReviewQuestion =
  /** `now`: when the commands are applied, epoch milliseconds. */
  | { kind: "review"; id: number; commands: Command[]; now: number }
  /**
   * The next change of the draft that was reviewed last, which question `of` asked for; null where there is none, or a
   * newer review. Each is a question of its own, so that a newer draft waits for one at most.
   */
  | { kind: "cause"; id: number; of: number };
export type ReviewMessage =
  | { kind: "reviewed"; id: number; review: Review }
  | { kind: "cause"; id: number; cause: Cause | null }
  | Failed;

let going: { id: number; causes: Iterator<Cause> } | null = null;

answerWith<ReviewQuestion, ReviewMessage>("The review", ({ plan, progress }, asked) => {
  const { id } = asked;
  if (asked.kind === "cause") {
    const next = going?.id === asked.of ? going.causes.next() : null;
    return { id, kind: "cause", cause: next && !next.done ? next.value : null };
  }
  const { commands, now } = asked;
  const found = review(plan, replay(plan, commands, { now }).plan, progress, now);
  going = { id, causes: causesOf(plan, commands, progress, found, { now }) };
  return { id, kind: "reviewed", review: found };
});
