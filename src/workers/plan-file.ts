/** Reads a plan's file away from the page. No logic of its own. */
import type { Plan } from "../core/plan/types.ts";
import { readPlanFile } from "../core/rolling/portable.ts";

export type PlanFileAnswer = { plan: Plan } | { wrong: string };

addEventListener("message", ({ data }: MessageEvent<string>) => {
  postMessage(readPlanFile(data) satisfies PlanFileAnswer);
});
