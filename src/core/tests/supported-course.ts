/** A course with somebody on its staff who was given a section and a private group, and items of theirs and of others. */
import type { Plan } from "../plan/types.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, group } from "./fixture.ts";

/** Who was given section D1 and the group Extra time. */
export const supporter = "sam";

export function supportedCourse(): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "Access plans", ["Extra time", "Breaks"], { private: true, rule: "any number" });
  addLayer(plan, "Teams", ["Upper", "Lower"]);
  addStudent(plan, "ada", ["D1"], ["Extra time", "Upper"]);
  addStudent(plan, "ben", ["D1"], ["Lower"]);
  addStudent(plan, "eve", ["EV"], ["Breaks", "Lower"]);
  plan.people[supporter] = { ...(plan.people.ada as Plan["people"][string]), id: supporter, sourcedId: supporter };
  const row = { id: "staff", personId: supporter, since: 0, until: null, home: false, origin: "hand" as const };
  plan.enrolments.staff = { ...row, sectionId: "D1", role: "support" };
  plan.placements.staff = {
    id: "staff",
    groupId: "Extra time",
    personId: supporter,
    since: 0,
    until: null,
    held: true,
  };
  const mine = { owners: [supporter], audience: { to: [group("Extra time")], minus: [] } };
  addItem(plan, "mine", mine);
  addItem(plan, "mine for all", { owners: [supporter] });
  addItem(plan, "theirs", { audience: { to: [group("Extra time")], minus: [] } });
  addItem(plan, "folder", { kind: "folder", ...mine });
  addItem(plan, "not mine in it", { parentId: "folder" });
  addItem(plan, "of others", { kind: "folder", audience: { to: [group("Breaks")], minus: [] } });
  addItem(plan, "for all", { kind: "folder" });
  addItem(plan, "for both", { kind: "folder", audience: { to: [group("Breaks"), group("Extra time")], minus: [] } });
  addItem(plan, "within others", { kind: "folder", parentId: "of others" });
  plan.overrides.own = { id: "own", itemId: "theirs", target: { kind: "section", id: "D1" }, dates: { attempts: 2 } };
  plan.overrides.other = {
    id: "other",
    itemId: "theirs",
    target: { kind: "section", id: "EV" },
    dates: { attempts: 2 },
  };
  const days = { minutesFactor: null, extraDays: 1, extraAttempts: null };
  plan.allowances.own = { id: "own", target: group("Extra time"), ...days };
  plan.allowances.other = { id: "other", target: group("Breaks"), ...days };
  return plan;
}
