/** What a worker knows of the course: told the published plan once, then only what changed in it. */
import { applyDifference, type RowAfter } from "../core/plan/difference.ts";
import { type MarkChange, type Progress, withMarks } from "../core/plan/progress.ts";
import type { Plan } from "../core/plan/types.ts";

export interface Told {
  plan: Plan;
  progress: Progress;
}
export type News =
  | { kind: "plan"; plan: Plan; progress: Progress }
  | { kind: "rows"; changes: RowAfter[] }
  | { kind: "marks"; changes: MarkChange[] };

/** Of every worker that is told the course. */
export interface CourseWorker {
  hear(news: News): void;
}

export type ToldCourse = ReturnType<typeof createTold>;

export function createTold() {
  let told: Told | null = null;
  return {
    /** Takes in what is told. */
    hear(news: News): void {
      if (news.kind === "plan") told = { plan: news.plan, progress: news.progress };
      else if (told && news.kind === "rows") told = { ...told, plan: applyDifference(told.plan, news.changes) };
      else if (told && news.kind === "marks") told = { ...told, progress: withMarks(told.progress, news.changes) };
    },
    /** The course as it is known by now. Throws before it was told. */
    course(): Told {
      if (told === null) throw new Error("no course has come yet");
      return told;
    },
  };
}
