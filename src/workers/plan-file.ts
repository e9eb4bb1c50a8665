/** Reads a plan's file away from the page. No logic of its own. */
import "./page-locale.ts";
import { expose } from "comlink";
import type { Plan } from "../core/plan/types.ts";
import { readPlanFile } from "../core/rolling/portable.ts";

export type PlanFileAnswer = { plan: Plan } | { wrong: string };

const functions = { read: (text: string): PlanFileAnswer => readPlanFile(text) };
export type PlanFileWorker = typeof functions;
expose(functions);
