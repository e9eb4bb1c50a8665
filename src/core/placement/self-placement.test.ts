import { describe, expect, test } from "vitest";
import { apply } from "../commands.ts";
import { isRefusal } from "../plan/command.ts";
import type { Group, Layer, Plan } from "../plan/types.ts";
import { addLayer, addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { countLayer } from "./membership.ts";
import { chooseGroup, codesFor, leaveGroup, readTypedCodes, selfPlacementOf, takeCode } from "./self-placement.ts";

const id = "11111111-1111-4111-8111-111111111111";
let used = 0;
const fresh = () => id.slice(0, -4) + String(++used).padStart(4, "0");
const open = { opens: null, closes: null, by: "choice", help: "", showNames: false } as const;

function course(self: Partial<Layer["selfPlacement"] & object> = {}, fields: Partial<Layer> = {}): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "Kits", ["A", "B"], { rule: "at most one", selfPlacement: { ...open, ...self }, ...fields });
  plan.groups.A = { ...plan.groups.A, max: 2, code: "kit-a" } as Group;
  for (const person of ["ada", "ben", "cy"]) addStudent(plan, person, ["D1"]);
  return plan;
}
const members = (plan: Plan, t = t0) => countLayer(plan, "Kits", t).groups.map(({ personIds }) => personIds);
const must = (value: Plan | object): Plan => {
  if (isRefusal(value)) throw new Error(value.sentence);
  return value as Plan;
};
const code = (value: object) => (isRefusal(value) ? value.code : null);
const stranger = { sourcedId: "0099", username: "new", givenName: "Ngozi", familyName: "Okafor" };
const take = (plan: Plan, typed: string, who = stranger, t = t0) => {
  const taken = takeCode(plan, fresh(), who, typed, t);
  return isRefusal(taken) ? taken : taken.plan;
};

describe("choosing", () => {
  test("a seat is taken, changed and given back, and a full group says so", () => {
    const one = must(chooseGroup(course(), fresh(), "ada", "A", t0));
    const two = must(chooseGroup(one, fresh(), "ben", "A", t0 + 1));
    expect(members(two, t0 + 1)).toEqual([["ada", "ben"], []]);
    expect(code(chooseGroup(two, fresh(), "cy", "A", t0 + 2))).toBe("self.full");
    const changed = must(chooseGroup(two, fresh(), "ada", "B", t0 + 2));
    expect(members(changed, t0 + 2)).toEqual([["ben"], ["ada"]]);
    expect(members(must(leaveGroup(changed, "ada", "B", t0 + 3)), t0 + 3)).toEqual([["ben"], []]);
    expect(members(changed, t0 + 1)).toEqual([["ada", "ben"], []]);
  });
  test("taking the seat that one has changes nothing, even in a group that is full", () => {
    const full = must(chooseGroup(must(chooseGroup(course(), fresh(), "ada", "A", t0)), fresh(), "ben", "A", t0));
    expect(chooseGroup(full, fresh(), "ada", "A", t0)).toBe(full);
  });
  test("the window is half-open: at its end it is closed", () => {
    const plan = course({ opens: "2026-11-25T10:00", closes: "2026-11-25T11:00" });
    const at = (minutes: number) => code(chooseGroup(plan, fresh(), "ada", "A", t0 + minutes * 60_000));
    expect([-1, 0, 59, 60].map(at)).toEqual(["self.before", null, null, "self.closed"]);
  });
  test("private layers, layers with codes, archived groups and who is no student are refused", () => {
    expect(code(chooseGroup(course({}, { private: true }), fresh(), "ada", "A", t0))).toBe("self.gone");
    expect(code(chooseGroup(course({ by: "code" }), fresh(), "ada", "A", t0))).toBe("self.gone");
    expect(code(chooseGroup(course(), fresh(), "nobody", "A", t0))).toBe("self.stranger");
    const plan = course();
    plan.groups.A = { ...plan.groups.A, archivedAt: t0 } as Group;
    expect(code(chooseGroup(plan, fresh(), "ada", "A", t0))).toBe("self.gone");
  });
});

describe("what a student sees", () => {
  test("groups with room left, names only where they may show, and nothing of private layers", () => {
    const plan = must(chooseGroup(course(), fresh(), "ada", "A", t0));
    addLayer(plan, "Support", ["Red"], { private: true, selfPlacement: open });
    expect(selfPlacementOf(plan, "ben", t0)).toMatchObject([
      {
        name: "Kits",
        window: "open",
        groups: [{ label: "A", count: 1, max: 2, isMine: false, names: [] }, { label: "B" }],
      },
    ]);
    expect(JSON.stringify(selfPlacementOf(plan, "ben", t0))).not.toMatch(/Support|Red/);
    const named = must(chooseGroup(course({ showNames: true }), fresh(), "ada", "A", t0));
    expect(selfPlacementOf(named, "ben", t0)[0]?.groups[0]?.names).toEqual(["ada Test"]);
  });
  test("of a layer with codes only one's own group, and never a code", () => {
    const plan = must(take(course({ by: "code" }), "KIT-A", { ...stranger, sourcedId: "ada" }));
    const person = Object.values(plan.people).find(({ sourcedId }) => sourcedId === "ada")?.id ?? "";
    expect(selfPlacementOf(plan, "ben", t0)[0]?.groups).toEqual([]);
    expect(selfPlacementOf(plan, person, t0)[0]?.groups).toMatchObject([{ label: "A", isMine: true }]);
    expect(JSON.stringify(selfPlacementOf(plan, person, t0))).not.toContain("kit-a");
  });
});

describe("codes", () => {
  test("trimmed and without case; a wrong one changes nothing", () => {
    const plan = course({ by: "code" });
    expect(members(must(take(plan, "  Kit-A ")))[0]).toHaveLength(1);
    expect(code(take(plan, "kit-b"))).toBe("self.code");
    expect(code(take(plan, ""))).toBe("self.code");
  });
  test("who is not in the course is enrolled: into the group's one section, or the course", () => {
    const sectionOf = (plan: Plan) => {
      const person = Object.values(plan.people).find(({ sourcedId }) => sourcedId === "0099");
      return Object.values(plan.enrolments).find(({ personId }) => personId === person?.id);
    };
    const rule = (...sectionIds: string[]) => ({ sectionIds, attribute: null, groupId: "A" });
    const follows = (...rules: ReturnType<typeof rule>[]) => {
      const plan = course({ by: "code" }, { following: rules });
      plan.groups.A = { ...plan.groups.A, max: null } as Group;
      return must(take(plan, "kit-a"));
    };
    expect(sectionOf(follows(rule("EV")))).toMatchObject({ sectionId: "EV", role: "student", origin: "code" });
    expect(sectionOf(follows(rule("EV"), rule("D1")))?.sectionId).toBeNull();
    expect(sectionOf(must(take(course({ by: "code" }), "kit-a")))?.sectionId).toBeNull();
    // Following put them there; it was not against the rules, so that they are not held.
    expect(Object.values(follows(rule("EV")).placements)).toMatchObject([{ groupId: "A", held: false }]);
    expect(Object.values(must(take(course({ by: "code" }, { following: [] }), "kit-a")).placements)).toMatchObject([
      { held: true },
    ]);
  });
  test("a full group enrols nobody; a closed window neither", () => {
    const plan = course({ by: "code" });
    plan.groups.A = { ...plan.groups.A, max: 1 } as Group;
    const full = must(take(plan, "kit-a"));
    expect(code(take(full, "kit-a", { ...stranger, sourcedId: "0100" }))).toBe("self.full");
    expect(code(take(course({ by: "code", closes: "2026-11-25T09:00" }), "kit-a"))).toBe("self.closed");
  });
  test("a visitor's code enrols as a visitor, once; a student of the course stays one", () => {
    const plan = course();
    plan.course = { ...plan.course, visitorCode: "GUEST" };
    const visited = must(take(plan, "guest"));
    expect(Object.values(visited.enrolments).filter(({ role }) => role === "visitor")).toHaveLength(1);
    expect(take(visited, "guest")).toBe(visited);
    const ada = { ...stranger, sourcedId: Object.values(plan.people)[0]?.sourcedId ?? "" };
    expect(take(plan, "guest", ada)).toBe(plan);
    const student = must(take({ ...visited, layers: course({ by: "code" }).layers }, "kit-a", stranger, t0 + 1));
    expect(Object.values(student.enrolments).filter(({ until }) => until === t0 + 1)).toMatchObject([
      { role: "visitor" },
    ]);
  });
  test("are typed a group a line, by its name, label or mark; a line without a group or code is told", () => {
    const { A, B } = course().groups as Record<"A" | "B", Group>;
    const groups = [
      { ...A, name: "Day: early", label: "Otters" },
      { ...B, name: "Evening" },
    ];
    const { codes, unclear } = readTypedCodes(groups, "otters: KITE 1\n\n evening\tOWL=3 \nNight: X\nEvening\n");
    expect([...codes]).toEqual([
      ["A", "KITE 1"],
      ["B", "OWL=3"],
    ]);
    expect(unclear).toEqual(["Night: X", "Evening"]);
    expect(readTypedCodes(groups, `${A.stripe.mark} = K`).codes.get("A")).toBe("K");
    // A name may hold what stands between a group and its code elsewhere.
    expect(readTypedCodes(groups, "Day: early: KITE-2").codes.get("A")).toBe("KITE-2");
  });
  test("codes of a whole layer follow the pattern and differ from each other and from those taken", () => {
    const groups = Array.from(
      { length: 40 },
      (_, at) => ({ ...course().groups.A, id: `g${at}`, name: `Team ${at}` }) as Group,
    );
    const made = codesFor(groups, "WSH-??", new Set(["wsh-22"]), (below) => Math.floor(Math.random() * below));
    expect(new Set(made.map((one) => one.code.toLowerCase())).size).toBe(40);
    expect(made.every((one) => /^WSH-[A-Z2-9]{2}$/.test(one.code) && one.code !== "WSH-22")).toBe(true);
    expect(codesFor(groups.slice(0, 2), "K{n}-{mark}", new Set(["k1-a"]), () => 0)).toEqual([
      { groupId: "g0", code: "K1-A-2" },
      { groupId: "g1", code: "K2-A" },
    ]);
  });
  test("one code cannot lead to two groups, nor a private layer be opened or coded", () => {
    const run = (plan: Plan, command: object) => code(apply(plan, { id, ...command } as never, { now: t0 }));
    const codes = { kind: "group.codes", layerId: "Kits", codes: [{ groupId: "B", code: "KIT-A" }] };
    expect(run(course(), codes)).toBe("group.code");
    expect(run(course(), { kind: "group.change", groupId: "B", fields: { code: "kit-A" } })).toBe("group.code");
    expect(run(course(), { kind: "course.visitorCode", code: "kit-a" })).toBe("group.code");
    const secret = course({}, { private: true, selfPlacement: null });
    expect(run(secret, { kind: "layer.selfPlacement", layerId: "Kits", selfPlacement: open })).toBe("self.private");
    expect(run(secret, codes)).toBe("self.private");
    const backwards = { ...open, opens: "2026-12-02T09:00", closes: "2026-12-01T09:00" };
    expect(run(course(), { kind: "layer.selfPlacement", layerId: "Kits", selfPlacement: backwards })).toBe(
      "self.window",
    );
  });
});
