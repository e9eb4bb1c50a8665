/** The intake's worker: asked one thing at a time, told the plan once a revision, and ended when work is cancelled. */
import { proxy, type Remote } from "comlink";
import { useCallback, useEffect, useRef, useState } from "react";
import type { Plan } from "../../../core/plan/types.ts";
import type { IntakeWorker as Functions, IntakeProgress } from "../../../workers/intake.ts";
import IntakeWorker from "../../../workers/intake.ts?worker";
import { type OpenWorker, openWorker, WorkerLost } from "../../kit/worker.ts";

/** Null where a later question overtook this one, or the work was cancelled. */
export type Asked<Answer> = { answer: Answer } | { failed: string } | null;
type OnProgress = (progress: IntakeProgress) => void;
export type AskIntake = <Answer>(
  plan: Plan,
  call: (worker: Remote<Functions>, onProgress: OnProgress) => Promise<Answer>,
) => Promise<Asked<Answer>>;

export function useIntakeWorker() {
  const open = useRef<{ worker: OpenWorker<Functions>; plan: Plan | null }>(null);
  const lastId = useRef(0);
  const [under, setUnder] = useState<IntakeProgress | null>(null);
  const end = useCallback(() => {
    open.current?.worker.end();
    open.current = null;
    lastId.current++;
    setUnder(null);
  }, []);
  useEffect(() => end, [end]);

  const ask: AskIntake = useCallback(async (plan, call) => {
    open.current ??= { worker: openWorker<Functions>(IntakeWorker), plan: null };
    const one = open.current;
    if (one.plan !== plan) {
      one.plan = plan;
      void one.worker.ask((worker) => worker.setPlan(plan)).catch(() => {});
    }
    const id = ++lastId.current;
    const isLast = () => id === lastId.current;
    // What is told on the way may come after the end.
    let isOver = false;
    const onProgress = proxy((progress: IntakeProgress) => {
      if (isLast() && !isOver) setUnder(progress);
    });
    const asked = await one.worker
      .ask((worker) => call(worker, onProgress))
      .then(
        (answer) => ({ answer }),
        (error: Error) => {
          // The next question starts another.
          if (error instanceof WorkerLost && open.current === one) open.current = null;
          return { failed: `This could not be read: ${error.message}. Nothing was changed.` };
        },
      );
    isOver = true;
    if (!isLast()) return null;
    setUnder(null);
    return asked;
  }, []);
  return { ask, cancel: end, under };
}
