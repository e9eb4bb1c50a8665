/** How far a new course is: what is done at each station, in the order of the work, and what comes next. */

import type { Plan } from "../../core/plan/types.ts";
import { isWork } from "../../core/reach/reach.ts";

export interface FirstStep {
  station: "intake" | "placement" | "reach" | "timing" | "gradebook";
  isDone: boolean;
  /** What the station is for, and what to do there first. */
  says: string;
}

/** The five steps; none once all are done, or where people already work in the course. */
export function firstSteps(plan: Plan, isWorkedIn: boolean): FirstStep[] {
  const items = Object.values(plan.items);
  const steps: FirstStep[] = [
    {
      station: "intake",
      isDone: Object.keys(plan.sections).length > 0,
      says: "Take the registrar's rosters in: people and sections come from them. Drop the lists here; nothing changes until you have looked.",
    },
    {
      station: "placement",
      isDone: Object.keys(plan.groups).length > 0,
      says: "Map people into groups: one press makes a group for each section; teams and support plans are layers of their own.",
    },
    {
      station: "reach",
      isDone: items.some(({ kind }) => kind !== "folder"),
      says: "Make the outline, and say whom each item is for. Every crossing of an item with a group shows who can open what.",
    },
    {
      station: "timing",
      isDone: items.some(({ dates }) => Object.keys(dates).length > 0) || Object.keys(plan.overrides).length > 0,
      says: "Say when things open and are due, once for all and otherwise for a group, a section or a person.",
    },
    {
      station: "gradebook",
      isDone: items.some((item) => isWork(item) && item.points !== null),
      says: "Every item that carries points is a column here. Read and mark a group at a time once work comes in.",
    },
  ];
  return isWorkedIn || steps.every(({ isDone }) => isDone) ? [] : steps;
}
