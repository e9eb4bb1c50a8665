/** A worker that is told the course once and then what changes in it, and is asked about a draft of it. */
import type { Remote } from "comlink";
import { useCallback, useEffect, useRef } from "react";
import { difference } from "../../core/plan/difference.ts";
import { marksSince } from "../../core/plan/progress.ts";
import type { CourseWorker, News, Told } from "../../workers/told.ts";
import { type OpenWorker, openWorker, WorkerLost, type WorkerScript } from "../kit/worker.ts";
import { piecesFor } from "./columns.ts";

/** What the worker does not know yet. Of a large course it is told what changed: all of it would be copied for it. */
function newsFor(known: Told | null, { plan, progress }: Told): News[] {
  const marks = known && marksSince(known.progress, progress);
  if (!known || !marks) return [all({ plan, progress })];
  const rows = difference(known.plan, plan);
  return [
    ...(rows.length > 0 ? [{ kind: "rows" as const, changes: rows }] : []),
    ...(marks.length > 0 ? [{ kind: "marks" as const, changes: marks }] : []),
  ];
}

function all({ plan, progress }: Told): News {
  const [ofPlan, ofProgress] = [piecesFor(plan), piecesFor(progress)];
  if (!ofPlan || !ofProgress) return { kind: "plan", plan, progress };
  return { kind: "columns", course: plan.course, plan: ofPlan, progress: ofProgress };
}

export interface Failed {
  /** For a person. */
  failed: string;
}
export const hasFailed = (answer: unknown): answer is Failed =>
  typeof answer === "object" && answer !== null && "failed" in answer;

export type AskOfCourse<Functions> = <Answer>(
  course: Told,
  call: (worker: Remote<Functions>) => Promise<Answer>,
) => Promise<Answer | Failed>;

/**
 * `script` starts the worker at the first question, and stays the same function; `what` names the work in the sentence
 * of a failure.
 */
export function useCourseWorker<Functions extends CourseWorker>(
  script: WorkerScript,
  what: string,
): AskOfCourse<Functions> {
  const open = useRef<{ worker: OpenWorker<Functions>; told: Told | null }>(null);
  const end = useCallback(() => {
    open.current?.worker.end();
    open.current = null;
  }, []);
  useEffect(() => end, [end]);
  return useCallback(
    async (course, call) => {
      open.current ??= { worker: openWorker<Functions>(script), told: null };
      const one = open.current;
      try {
        if (one.told?.plan !== course.plan || one.told.progress !== course.progress) {
          const news = newsFor(one.told, course);
          one.told = course;
          for (const each of news) void one.worker.ask((worker) => hear(worker, each)).catch(() => {});
        }
        return await one.worker.ask(call);
      } catch (error) {
        if (!(error instanceof WorkerLost))
          return { failed: `${what} failed: ${(error as Error).message}. Nothing was changed.` };
        // The next question starts another.
        if (open.current === one) end();
        return { failed: "What the draft does could not be counted on this page. Load it again; nothing is lost." };
      }
    },
    [script, what, end],
  );
}

/** The types of a remote hide the functions that all such workers share. */
const hear = (worker: unknown, news: News) => (worker as Remote<CourseWorker>).hear(news);
