/** What the draft does to people: counted in a worker, so that no press waits for it. */

import { useEffect, useMemo, useRef, useState } from "react";
import type { Command } from "../../core/commands.ts";
import type { Plan } from "../../core/plan/types.ts";
import type { Cause } from "../../core/review/causes.ts";
import { nothingFound, type Review } from "../../core/review/effects.ts";
import type { Parted } from "../../core/review/leaving.ts";
import type { CourseFunctions } from "../../workers/course.ts";
import CourseWorker from "../../workers/course.ts?sharing";
import { useEffectWhen } from "../kit/when.ts";
import type { CountedState } from "./state.ts";
import { type AskOfCourse, hasFailed, useCourseWorker } from "./useCourseWorker.ts";

export interface ReviewState extends Review {
  /** Whether it is of what is drafted now. Until then it is that of the draft before, and no number of it is said. */
  isKnown: boolean;
  failure: string | null;
  /** By command what each change does by itself, as far as that is counted; asked while the review is looked at. */
  causes: ReadonlyMap<string, Cause>;
  /** What that which is being written would do; null where nothing is, and until it is counted. */
  tried: Tried | null;
}
export interface Tried extends Pick<Review, "touched" | "losing"> {
  /** Whether it is counted together with what is drafted. */
  withDraft: boolean;
}

interface Found {
  /** The question that it answers. */
  id: number;
  /** What it was counted of. */
  published: Plan | null;
  key: string;
  review: Review;
  failure: string | null;
}
const none: Found = { id: 0, published: null, key: "", review: nothingFound, failure: null };
const noCauses: ReadonlyMap<string, Cause> = new Map();

export function useReview(state: CountedState, parted: Parted): ReviewState {
  const { published, progress, now, station } = state;
  const ask = useCourseWorker<CourseFunctions>(CourseWorker, "The review");
  const { applied } = parted.taken;
  const commands = useMemo(() => applied.map(({ command }) => command), [applied]);
  // The server gives back the draft that was sent to it: the same commands are the same question.
  const key = useMemo(() => commands.map(({ id }) => id).join(" "), [commands]);
  const [found, setFound] = useState(none);
  const lastId = useRef(0);
  const lastReview = useRef(0);
  const turn = useRef(Promise.resolve());
  const isLookedAt = station === "review";
  // The clock goes on by itself: only a new hour, a look at the review, another plan or draft is another question.
  const hour = Math.floor(now / 3600_000);
  const latest = useRef({ now, commands });
  latest.current = { now, commands };

  // Now counts by the hour, and anew when the review is opened; the key stands for the commands.
  useEffectWhen([published, progress, key, hour, isLookedAt, ask], () => {
    const id = ++lastId.current;
    lastReview.current = id;
    if (key === "") return;
    const count = async () => {
      // Of several drafts that wait for the worker only the last is counted.
      if (id !== lastReview.current) return;
      const question = { id, ...latest.current };
      const answer = await ask({ plan: published, progress }, (worker) => worker.review(question));
      if (id !== lastReview.current) return;
      const found = hasFailed(answer)
        ? { review: nothingFound, failure: answer.failed }
        : { review: answer, failure: null };
      setFound({ id, published, key, ...found });
    };
    // Typing and dragging go on meanwhile: the question is asked when they pause.
    const timer = setTimeout(() => {
      turn.current = turn.current.then(count);
    }, 60);
    return () => clearTimeout(timer);
  });

  const isOf = found.published === published && found.key === key;
  const isAsked = isLookedAt && isOf && found.failure === null;
  const causes = useCauses({ ask, found, isAsked, published, progress });
  const tried = useTried({ ask, nextId: () => ++lastId.current, state, commands });
  const isEmpty = commands.length === 0;
  return useMemo(
    () => ({
      ...(isEmpty ? nothingFound : found.review),
      isKnown: isEmpty || (isOf && found.failure === null),
      failure: isOf && !isEmpty ? found.failure : null,
      causes,
      tried,
    }),
    [isEmpty, isOf, found, causes, tried],
  );
}

interface TriedAsked {
  ask: AskOfCourse<CourseFunctions>;
  nextId(): number;
  state: CountedState;
  /** What is drafted and published next. */
  commands: Command[];
}

/** What is being written, counted with the draft a moment after the last key. */
function useTried({ ask, nextId, state, commands }: TriedAsked): Tried | null {
  const [found, setFound] = useState<{ of: CountedState["tried"]; tried: Tried } | null>(null);
  const { published, progress, tried } = state;
  const latest = useRef({ nextId, commands, now: state.now });
  latest.current = { nextId, commands, now: state.now };
  useEffect(() => {
    if (tried.length === 0) return;
    let isOver = false;
    const count = async () => {
      const { nextId: next, commands: drafted, now } = latest.current;
      const question = {
        id: next(),
        now,
        commands: [...drafted, ...tried.map(({ command }) => command)],
      };
      const answer = await ask({ plan: published, progress }, (worker) => worker.review(question));
      if (isOver || hasFailed(answer)) return;
      const { touched, losing } = answer;
      setFound({ of: tried, tried: { touched, losing, withDraft: drafted.length > 0 } });
    };
    const timer = setTimeout(() => void count(), 250);
    return () => {
      isOver = true;
      clearTimeout(timer);
    };
  }, [tried, published, progress, ask]);
  return found?.of === tried ? found.tried : null;
}

interface CausesAsked extends Pick<CountedState, "published" | "progress"> {
  ask: AskOfCourse<CourseFunctions>;
  found: Found;
  /** Whether somebody looks at the review, and it is that of the draft. */
  isAsked: boolean;
}

/** What each change of a review does by itself, one after another while somebody looks at it. */
function useCauses({ ask, found, isAsked, published, progress }: CausesAsked): ReviewState["causes"] {
  const [causes, setCauses] = useState({ of: none, known: noCauses });
  useEffect(() => {
    if (!isAsked) return;
    let isOver = false;
    const count = async () => {
      while (!isOver) {
        const cause = await ask({ plan: published, progress }, (worker) => worker.nextCause(found.id));
        if (cause === null || hasFailed(cause)) return;
        setCauses((before) => {
          // A newer review may have begun to count meanwhile.
          if (isOver && before.of !== found) return before;
          const known = before.of === found ? before.known : noCauses;
          return { of: found, known: new Map(known).set(cause.commandId, cause) };
        });
      }
    };
    void count();
    return () => {
      isOver = true;
    };
  }, [found, isAsked, published, progress, ask]);
  return causes.of === found ? causes.known : noCauses;
}
