/** Work that would hold the page up, a few milliseconds at a time. */
import { useEffect, useReducer } from "react";
import { useMemoWhen } from "./when.ts";

/** Milliseconds of work at one time: no frame waits for more. */
const longest = 20;

interface Run<Result> {
  steps: Iterator<unknown, Result>;
  result: Result | null;
}
/** Goes on for a while; gives whether it is done. */
function goOn<Result>(run: Run<Result>): boolean {
  const begun = performance.now();
  while (run.result === null && performance.now() - begun < longest) {
    const step = run.steps.next();
    if (step.done) run.result = step.value;
  }
  return run.result !== null;
}

/**
 * What some steps come to; null until they are done. `on`: what it hangs on; it is begun anew when one of these changes.
 * What takes no longer than one turn is there at once.
 */
export function useSliced<Result>(on: readonly unknown[], begin: () => Iterator<unknown, Result>): Result | null {
  const [, drawAnew] = useReducer((times: number) => times + 1, 0);
  const run = useMemoWhen(on, (): Run<Result> => {
    const made: Run<Result> = { steps: begin(), result: null };
    goOn(made);
    return made;
  });
  useEffect(() => {
    if (run.result !== null) return;
    let timer = 0;
    const more = () => {
      if (goOn(run)) drawAnew();
      else timer = window.setTimeout(more);
    };
    timer = window.setTimeout(more);
    return () => clearTimeout(timer);
  }, [run]);
  return run.result;
}
