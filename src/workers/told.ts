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
interface Question {
  kind: string;
  id: number;
}
export interface Failed {
  id: number;
  kind: "failed";
  sentence: string;
}

let told: Told | null = null;

/** Takes in what is told, and gives what is known by then. */
function hear(news: News): Told | null {
  if (news.kind === "plan") return { plan: news.plan, progress: news.progress };
  if (told === null) return null;
  return news.kind === "rows"
    ? { ...told, plan: applyDifference(told.plan, news.changes) }
    : { ...told, progress: withMarks(told.progress, news.changes) };
}

const isNews = (message: News | Question): message is News => !("id" in message);

/** Answers every question with what is known of the course; `what`: what failed, where it does. */
export function answerWith<Q extends Question, A extends Question>(what: string, answer: (told: Told, asked: Q) => A) {
  addEventListener("message", ({ data }: MessageEvent<News | Q>) => {
    if (isNews(data)) {
      told = hear(data);
      return;
    }
    const fail = (why: string) =>
      postMessage({ id: data.id, kind: "failed", sentence: `${what} failed: ${why}. Nothing was changed.` });
    if (told === null) return fail("no course has come yet");
    try {
      postMessage(answer(told, data));
    } catch (error) {
      fail(error instanceof Error ? error.message : String(error));
    }
  });
}
