/** A small course for what is typed: two sections, two layers, two students and some items. */
import type { Plan } from "../plan/types.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, t0 } from "./fixture.ts";

function courseForLines(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addSection(plan, "D2");
  addLayer(plan, "Banks", ["North", "South"]);
  addLayer(plan, "Pace", ["Slow"], { private: true, rule: "any number" });
  const names: [string, string, string][] = [
    ["ada", "Ada", "Lovelace"],
    ["ben", "Ben", "Ode"],
  ];
  names.forEach(([id, givenName, familyName], at) => {
    addStudent(plan, id, ["D1"], [["North", "South"][at] as string]);
    Object.assign(plan.people[id] as object, { givenName, familyName, sourcedId: `0024003${at}` });
  });
  addItem(plan, "readings", { kind: "folder", title: "Readings" });
  addItem(plan, "kit", { title: "Kit list" });
  addItem(plan, "lab", { kind: "assignment", title: "Lab 1: Float gauging", dates: { due: "2026-11-27T17:00" } });
  addItem(plan, "lab2", { kind: "assignment", title: "Lab 1" });
  addItem(plan, "talk", { kind: "discussion", title: "Notes in the field, for all" });
  return plan;
}

/** What lines are read against there. */
export function lineContext() {
  const plan = courseForLines();
  return { plan, personIds: Object.keys(plan.people), now: t0 };
}
