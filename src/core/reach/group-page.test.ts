/** Who meets on a group's page, what stands there, and what members may do. */
import { describe, expect, test } from "vitest";
import { apply, Command } from "../commands.ts";
import { renameByMember } from "../placement/groups/page.ts";
import { isRefusal } from "../plan/command.ts";
import { noProgress } from "../plan/progress.ts";
import type { GroupPage, Plan } from "../plan/types.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, group, t0 } from "../tests/fixture.ts";
import { surfacesOf } from "./audit/surfaces.ts";
import { groupView, itemsOfGroup } from "./group-page.ts";
import { reachAt } from "./reach.ts";
import { studentGroups, studentPage } from "./student-page.ts";

const all: GroupPage = { has: ["members", "items", "thread"], may: ["rename"] };
const day = 24 * 3600_000;

function course(page: GroupPage | null = all): Plan {
  const plan = coursePlan();
  plan.course.classList = { to: "nobody" };
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "Teams", ["Heron", "Otter"]);
  addLayer(plan, "Access plans", ["Extra time"], { private: true, rule: "any number" });
  addStudent(plan, "ada", ["D1"], ["Heron", "Extra time"]);
  addStudent(plan, "ben", ["EV"], ["Heron"]);
  addStudent(plan, "cas", ["EV"], ["Otter"]);
  plan.groups.Heron = { ...(plan.groups.Heron as Plan["groups"][string]), page, leads: ["ben"] };
  return plan;
}
function viewOf(plan: Plan, personId: string, groupId: string, t = t0) {
  const page = studentPage(plan, noProgress, personId, t);
  if (!page) throw new Error(`${personId} is no student`);
  return groupView(page, groupId);
}
function drafted(plan: Plan, fields: object): Plan | string {
  const next = apply(plan, Command.parse({ id: "command", ...fields }), { now: t0 });
  return isRefusal(next) ? next.code : next;
}

describe("a group's page", () => {
  test("is there for its members alone, as long as they are in it", () => {
    const plan = course();
    expect(viewOf(plan, "ada", "Heron")?.members?.map(({ id, isLead, isSelf }) => [id, isLead, isSelf])).toEqual([
      ["ada", false, true],
      ["ben", true, false],
    ]);
    expect(viewOf(plan, "cas", "Heron")).toBeNull();
    const placements = Object.fromEntries(
      Object.entries(plan.placements).map(([id, row]) => [id, row.personId === "ben" ? { ...row, until: t0 } : row]),
    );
    expect(viewOf({ ...plan, placements }, "ben", "Heron")).toBeNull();
    expect(viewOf({ ...plan, placements }, "ben", "Heron", t0 - day)).not.toBeNull();
  });
  test("shows no more than the coordinator chose", () => {
    expect(viewOf(course({ has: ["note"], may: [] }), "ada", "Heron")).toMatchObject({ members: null, items: null });
    expect(viewOf(course(null), "ada", "Heron")).toBeNull();
  });
  test("a private group has none, whatever is asked", () => {
    const plan = course();
    expect(drafted(plan, { kind: "group.page", groupIds: ["Heron", "Extra time"], page: all })).toBe("page.private");
    expect(drafted(plan, { kind: "group.change", groupId: "Extra time", fields: { page: all } })).toBe("page.private");
    plan.groups["Extra time"] = { ...(plan.groups["Extra time"] as Plan["groups"][string]), page: all };
    expect(viewOf(plan, "ada", "Extra time")).toBeNull();
    const page = studentPage(plan, noProgress, "ada", t0);
    expect(page && studentGroups(page).map(({ group, hasPage }) => [group.id, hasPage])).toEqual([["Heron", true]]);
  });
  test("lists what is for the group by name, by a set, by its folder or by its threads, where the student sees it", () => {
    const plan = course();
    plan.sets.Both = { id: "Both", name: "Both", groupIds: ["Heron", "Otter"] };
    addItem(plan, "for all");
    addItem(plan, "named", { audience: { to: [group("Heron")], minus: [] } });
    addItem(plan, "by set", { audience: { to: [{ kind: "set", id: "Both" }], minus: [] } });
    addItem(plan, "folder", { kind: "folder", audience: { to: [group("Heron")], minus: [] } });
    addItem(plan, "inside", { parentId: "folder" });
    addItem(plan, "talk", { kind: "discussion", split: { layerId: "Teams", between: "sealed" } });
    addItem(plan, "hidden", { audience: { to: [group("Heron")], minus: [] }, published: false });
    addItem(plan, "other", { audience: { to: [group("Otter")], minus: [] } });
    expect(itemsOfGroup(plan, "Heron").map(({ id }) => id)).toEqual(["named", "by set", "inside", "talk", "hidden"]);
    expect(viewOf(plan, "ada", "Heron")?.items?.map(({ id }) => id)).toEqual(["named", "by set", "inside", "talk"]);
  });
  test("is a surface where members meet, unless it only lists items", () => {
    const keys = (page: GroupPage | null) => surfacesOf(reachAt(course(page), noProgress, t0)).map(({ key }) => key);
    expect(keys(all)).toEqual(["pages/Teams"]);
    expect(keys({ has: ["note"], may: [] })).toEqual(["pages/Teams"]);
    expect(keys({ has: [], may: ["threads"] })).toEqual(["pages/Teams"]);
    expect(keys({ has: ["items"], may: ["rename"] })).toEqual([]);
    expect(keys(null)).toEqual([]);
  });
});

describe("a member renames the group", () => {
  const rename = (plan: Plan, personId: string, label: string) => {
    const next = renameByMember(plan, personId, "Heron", label, t0);
    return isRefusal(next) ? next.code : next.groups.Heron?.label;
  };
  test("for students, where that is allowed; staff keep their name for it", () => {
    const plan = course();
    expect(rename(plan, "ada", "  Grey herons ")).toBe("Grey herons");
    const next = renameByMember(plan, "ada", "Heron", "Grey herons", t0);
    expect(!isRefusal(next) && next.groups.Heron?.name).toBe("Heron");
  });
  test("not into another group's name, nothing, or a text without end; not from outside", () => {
    const plan = course();
    expect(rename(plan, "ada", "otter")).toBe("page.twin");
    expect(rename(plan, "ada", "   ")).toBe("page.label");
    expect(rename(plan, "ada", "h".repeat(61))).toBe("page.label");
    expect(rename(plan, "cas", "Mine now")).toBe("page.gone");
    expect(rename(course({ has: ["members"], may: [] }), "ada", "Mine now")).toBe("page.gone");
  });
});
