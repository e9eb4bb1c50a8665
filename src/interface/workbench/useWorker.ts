/** A worker that is told the course once and then what changes in it, and is asked about a draft of it. */
import { useCallback, useEffect, useRef } from "react";
import { difference } from "../../core/plan/difference.ts";
import { marksSince } from "../../core/plan/progress.ts";
import type { Failed, News, Told } from "../../workers/told.ts";

/** What the worker does not know yet. Of a large course it is told what changed: all of it would be copied for it. */
function newsFor(known: Told | null, { plan, progress }: Told): News[] {
  const marks = known && marksSince(known.progress, progress);
  if (!known || !marks) return [{ kind: "plan", plan, progress }];
  const rows = difference(known.plan, plan);
  return [
    ...(rows.length > 0 ? [{ kind: "rows" as const, changes: rows }] : []),
    ...(marks.length > 0 ? [{ kind: "marks" as const, changes: marks }] : []),
  ];
}

export type Ask<Q, A> = (question: Q, course: Told) => Promise<A | Failed>;

/** `make` starts the worker at the first question, and stays the same function. Each question has an id of its own. */
export function useWorker<Q extends { id: number }, A extends { id: number }>(make: () => Worker): Ask<Q, A> {
  const worker = useRef<Worker>(null);
  const told = useRef<Told | null>(null);
  useEffect(
    () => () => {
      worker.current?.terminate();
      worker.current = null;
      told.current = null;
    },
    [],
  );
  return useCallback(
    (question, course) => {
      worker.current ??= make();
      const one = worker.current;
      if (told.current?.plan !== course.plan || told.current.progress !== course.progress) {
        for (const news of newsFor(told.current, course)) one.postMessage(news);
        told.current = course;
      }
      return new Promise((resolve) => {
        const end = (answer: A | Failed) => {
          one.removeEventListener("message", listen);
          one.removeEventListener("error", fail);
          resolve(answer);
        };
        const listen = ({ data }: MessageEvent<A | Failed>) => {
          if (data.id === question.id) end(data);
        };
        // It could not be loaded, or stopped; the next question starts another.
        const fail = () => {
          if (worker.current === one) {
            one.terminate();
            worker.current = null;
            told.current = null;
          }
          const sentence = "What the draft does could not be counted on this page. Load it again; nothing is lost.";
          end({ id: question.id, kind: "failed", sentence });
        };
        one.addEventListener("message", listen);
        one.addEventListener("error", fail);
        one.postMessage(question);
      });
    },
    [make],
  );
}
