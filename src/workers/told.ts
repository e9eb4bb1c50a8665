/** What a worker knows of the course: told the published plan once, then only what changed in it. */
import { type Piece, planReader, progressReader } from "../core/plan/columns.ts";
import { applyDifference, type RowAfter } from "../core/plan/difference.ts";
import { type MarkChange, type Progress, withMarks } from "../core/plan/progress.ts";
import type { Course, Plan } from "../core/plan/types.ts";

export interface Told {
  plan: Plan;
  progress: Progress;
}
export type News =
  | { kind: "columns"; course: Course; plan: readonly Piece[]; progress: readonly Piece[] }
  | { kind: "plan"; plan: Plan; progress: Progress }
  | { kind: "rows"; changes: RowAfter[] }
  | { kind: "marks"; changes: MarkChange[] };

/** Of every worker that is told the course. */
export interface CourseWorker {
  hear(news: News): void;
}

/** The course out of its columns. */
function readColumns({ course, plan, progress }: Extract<News, { kind: "columns" }>): Told {
  const plans = planReader(course);
  const done = progressReader();
  plan.forEach(plans.add);
  progress.forEach(done.add);
  return { plan: plans.made(), progress: done.made() };
}

export type ToldCourse = ReturnType<typeof createTold>;

export function createTold() {
  let told: Told | null = null;
  return {
    /** Takes in what is told. */
    hear(news: News): void {
      if (news.kind === "columns") told = readColumns(news);
      else if (news.kind === "plan") told = { plan: news.plan, progress: news.progress };
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
