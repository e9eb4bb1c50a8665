/** A small course with three columns, and what may be done in it: for the tests of the gradebook. */
import type { Plan } from "../plan/types.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, forOnly, group, instant } from "./fixture.ts";

export const hour = 3600_000;
export function course(): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "Banks", ["North", "South Bank"]);
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "ben", ["D1"], ["South Bank"]);
  addStudent(plan, "cas", ["EV"]);
  Object.assign(plan.people.ada as object, { attributes: { Year: "2" } });
  addItem(plan, "lab", {
    title: "Lab 1",
    kind: "assignment",
    points: 20,
    dates: { due: "2026-11-20T17:00" },
  });
  addItem(plan, "talk", {
    title: "Talk",
    kind: "discussion",
    points: 5,
    audience: forOnly(group("North")),
  });
  addItem(plan, "later", {
    title: "Later",
    kind: "quiz",
    points: 10,
    dates: { opens: "2026-12-01T09:00", due: "2026-12-04T09:00" },
  });
  return plan;
}
export const due = instant("2026-11-20T17:00:00Z");
export const handIn = (personId: string, at: number, itemId = "lab") => ({
  id: personId + itemId + at,
  personId,
  itemId,
  at,
});
export const mark = (personId: string, points: number | null, excused = false, itemId = "lab") => ({
  personId,
  itemId,
  points,
  excused,
  at: due + hour,
});
