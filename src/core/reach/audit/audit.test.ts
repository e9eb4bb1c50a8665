/** The audit's findings, each on the smallest course that has it. */
import { describe, expect, test } from "vitest";
import { apply, Command } from "../../commands.ts";
import { noProgress } from "../../plan/progress.ts";
import type { Plan } from "../../plan/types.ts";
import { mendsOf } from "../../review/mends/mends.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, forOnly, group, t0 } from "../../tests/fixture.ts";
import { audit } from "./audit.ts";
import type { FindingKind } from "./finding.ts";

/** Ada and Eli in North, Ben in South, Cas in Upper of a private layer and in South. */
function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South", "West"]);
  addLayer(plan, "Helping hands", ["Upper"], { private: true });
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "eli", ["D1"], ["North"]);
  addStudent(plan, "ben", ["D1"], ["South"]);
  addStudent(plan, "cas", ["D1"], ["South", "Upper"]);
  return plan;
}
const found = (plan: Plan, kind: FindingKind) =>
  audit(plan, noProgress, t0).findings.filter((one) => one.kind === kind);
const saysOf = (plan: Plan, kind: FindingKind) => found(plan, kind).map(({ says }) => says);

describe("leaks", () => {
  const leaky = () => {
    const plan = course();
    plan.course.indexes = { discussions: true, files: false, calendar: false, work: false };
    addItem(plan, "North bank", { kind: "folder", seals: false, audience: forOnly(group("North")) });
    addItem(plan, "notes", { kind: "discussion", parentId: "North bank" });
    return plan;
  };
  test("the example: as many as are not in North, and three mends with their effect counted", () => {
    const plan = leaky();
    const [leak] = found(plan, "leak");
    expect(leak?.personIds.sort()).toEqual(["ben", "cas"]);
    expect(mendsOf(plan, noProgress, t0, leak as never).map(({ says, effect }) => [says, effect])).toEqual(
      [
        "Seal the folder North bank",
        "Narrow notes to whom North bank is for",
        "Switch off the index of all discussions",
      ].map((says) => [says, "2 students cease to reach it; nobody it is meant for loses it."]),
    );
  });
  test("says since when, and from when one that is to come", () => {
    const plan = leaky();
    const term = Date.parse("2026-09-27T23:00:00Z");
    expect(found(plan, "leak")[0]?.from).toBe(term);
    const opening = (opens: string) => ({ ...(plan.items.notes as Plan["items"][string]), dates: { opens } });
    const past = { ...plan, items: { ...plan.items, notes: opening("2026-11-20T09:00") } };
    expect(found(past, "leak")[0]?.from).toBe(Date.parse("2026-11-20T09:00:00Z"));
    const later = { ...plan, items: { ...plan.items, notes: opening("2026-12-01T09:00") } };
    expect(found(later, "leak")).toMatchObject([
      { from: Date.parse("2026-12-01T09:00:00Z"), says: "2 students will be able to open notes and are not meant to." },
    ]);
  });
  test("accepted with a reason it stays quiet until what it says changes", () => {
    const plan = leaky();
    const [leak] = found(plan, "leak");
    const accepted = apply(
      plan,
      Command.parse({
        kind: "finding.accept",
        id: "a",
        finding: leak?.key,
        state: leak?.state,
        reason: "They asked for it.",
      }),
      { now: t0 },
    ) as Plan;
    expect(found(accepted, "leak")[0]?.accepted?.reason).toBe("They asked for it.");
    // Another day, nothing else: still quiet. One more student: not.
    expect(
      audit(accepted, noProgress, t0 + 864e5).findings.find(({ kind }) => kind === "leak")?.accepted,
    ).not.toBeNull();
    const more = {
      ...accepted,
      people: { ...accepted.people },
      enrolments: { ...accepted.enrolments },
      placements: { ...accepted.placements },
    };
    addStudent(more, "fay", ["D1"], ["South"]);
    expect(found(more, "leak")[0]?.accepted).toBeNull();
    const reopened = apply(accepted, Command.parse({ kind: "finding.reopen", id: "b", finding: leak?.key }), {
      now: t0,
    }) as Plan;
    expect(found(reopened, "leak")[0]?.accepted).toBeNull();
  });
});

describe("stranded, and why", () => {
  test("a condition on what only others can do", () => {
    const plan = course();
    addItem(plan, "check", { kind: "quiz", points: 10, audience: forOnly(group("North")) });
    addItem(plan, "map", { condition: { kind: "atLeast", itemId: "check", percent: 70 } });
    const [one] = found(plan, "stranded");
    expect([one?.personIds.sort(), one?.why]).toEqual([
      ["ben", "cas"],
      "The release condition of map can never hold for them: it asks for check, which they can never reach.",
    ]);
    expect(mendsOf(plan, noProgress, t0, one as never).map(({ says }) => says)).toContain("Make it for North only");
  });
  test("a late arrival whose window has gone, and nobody else", () => {
    const plan = course();
    addItem(plan, "early", { dates: { closes: "2026-10-05T09:00" }, readableAfterClose: false });
    const late = plan.enrolments["ben in D1"] as Plan["enrolments"][string];
    plan.enrolments["ben in D1"] = { ...late, since: Date.parse("2026-10-12T09:00:00Z") };
    expect(found(plan, "stranded").map(({ personIds }) => personIds)).toEqual([["ben"]]);
    expect(found(plan, "no window").map(({ personIds }) => personIds)).toEqual([["ben"]]);
  });
  test("what is not published, or lies beneath what is not, is not asked about", () => {
    const plan = course();
    addItem(plan, "shut", { kind: "folder", published: false });
    addItem(plan, "within", { parentId: "shut", condition: { kind: "anyOf", of: [] } });
    expect(audit(plan, noProgress, t0).findings.filter(({ kind }) => kind === "stranded" || kind === "never")).toEqual(
      [],
    );
  });
});

describe("conditions", () => {
  test("circles, also through a folder that seals", () => {
    const plan = course();
    addItem(plan, "a", { condition: { kind: "opened", itemId: "b" } });
    addItem(plan, "b", { condition: { kind: "opened", itemId: "a" } });
    addItem(plan, "folder", { kind: "folder", condition: { kind: "handedIn", itemId: "inner" } });
    addItem(plan, "inner", { kind: "assignment", parentId: "folder" });
    expect(saysOf(plan, "circle")).toEqual(["a and b wait for each other.", "folder and inner wait for each other."]);
    plan.items.folder = { ...(plan.items.folder as Plan["items"][string]), seals: false };
    expect(saysOf(plan, "circle")).toEqual(["a and b wait for each other."]);
  });
  test("branches that never or always hold, each node; an empty any-of is told of", () => {
    const plan = course();
    addItem(plan, "page", {
      condition: {
        kind: "anyOf",
        of: [
          { kind: "in", targets: [group("West")] },
          { kind: "from", moment: "2026-01-01T09:00" },
        ],
      },
    });
    addItem(plan, "empty", { condition: { kind: "anyOf", of: [] } });
    expect(saysOf(plan, "never")).toEqual([
      'In page, "in West" can never hold.',
      'In empty, "any of nothing" can never hold.',
    ]);
    expect(saysOf(plan, "always")).toEqual([
      'In page, "from Thu 1 Jan, 09:00" always holds.',
      'In page, "in West or from Thu 1 Jan, 09:00" always holds.',
    ]);
    const [branch] = found(plan, "never");
    const [mend] = mendsOf(plan, noProgress, t0, branch as never);
    expect(mend?.commands[0]).toMatchObject({
      fields: { condition: { kind: "anyOf", of: [{ kind: "from" }] } },
    });
  });
  test("an item asked about that nobody of the audience can reach", () => {
    const plan = course();
    addItem(plan, "check", { kind: "quiz", audience: forOnly(group("North")) });
    addItem(plan, "map", { audience: forOnly(group("South")), condition: { kind: "handedIn", itemId: "check" } });
    expect(saysOf(plan, "unreachable")).toEqual(["map asks for check, which nobody it is meant for can ever reach."]);
  });
});

describe("labels", () => {
  test("telling words as whole words, and private names as whole phrases of four letters or more", () => {
    const plan = course();
    addItem(plan, "Basic units");
    addItem(plan, "Basics of rivers");
    addItem(plan, "Helping hands on the river");
    addItem(plan, "Helpinghands");
    addItem(plan, "Deaf studies and ADD");
    addLayer(plan, "Plans", ["Deaf", "ADD"], { private: true });
    plan.groups.North = { ...(plan.groups.North as Plan["groups"][string]), label: "The slow group" };
    expect(
      found(plan, "telling")
        .map(({ subject }) => subject)
        .sort(),
    ).toEqual(["Basic units", "The slow group"]);
    expect(found(plan, "private name").map(({ subject, why }) => [subject, /"ADD"/.test(why)])).toEqual([
      ["Helping hands on the river", false],
      ["Deaf studies and ADD", false],
    ]);
    const [label] = found(plan, "telling").filter(({ subject }) => subject === "Basic units");
    expect(mendsOf(plan, noProgress, t0, label as never).map(({ says }) => says)).toEqual(['Call it "Units"']);
  });
});

describe("who sees whom", () => {
  test("surfaces are named with the pairs they alone cause; mends keep groups apart", () => {
    const plan = course();
    plan.course.classList = { to: "nobody" };
    addItem(plan, "talk", { kind: "discussion" });
    addItem(plan, "teams", {
      kind: "discussion",
      split: { layerId: "Banks", between: "readable" },
      audience: forOnly(group("North"), group("South")),
    });
    const { sightlines: lines, findings } = audit(plan, noProgress, t0, "Banks");
    expect([lines?.pairs, lines?.possible]).toEqual([4, 4]);
    expect(lines?.surfaces.map(({ surface, pairs, alone }) => [surface.says, pairs, alone])).toEqual([
      ["talk", 4, 0],
      ["teams", 4, 0],
    ]);
    const threads = findings.find(({ subject, kind }) => kind === "sightline" && subject === "teams");
    expect(mendsOf(plan, noProgress, t0, threads as never, "Banks")[0]?.says).toBe("Seal its threads");
  });
  test("a student in none of a split item's groups is found before they miss it", () => {
    const plan = course();
    addStudent(plan, "fay", ["D1"]);
    addItem(plan, "teams", { kind: "discussion", split: { layerId: "Banks", between: "sealed" } });
    expect(found(plan, "outside").map(({ personIds }) => personIds)).toEqual([["fay"]]);
  });
});

describe("asked about rather than accused", () => {
  test("copies for some groups, and a group without one", () => {
    const plan = course();
    addStudent(plan, "gus", ["D1"], ["West"]);
    addItem(plan, "Route of the North", { audience: forOnly(group("North")) });
    addItem(plan, "Route of the South", { audience: forOnly(group("South")) });
    expect(found(plan, "left out")).toMatchObject([
      { asks: true, personIds: ["gus"], says: "West has no copy of Route of the North; 2 others do." },
    ]);
  });
  test("an item for everyone whose title names one group, or whose neighbours are all narrowed", () => {
    const plan = course();
    addItem(plan, "Maps for South");
    addItem(plan, "folder", { kind: "folder" });
    addItem(plan, "one", { parentId: "folder", audience: forOnly(group("North")) });
    addItem(plan, "two", { parentId: "folder", audience: forOnly(group("South")) });
    addItem(plan, "three", { parentId: "folder" });
    expect(saysOf(plan, "one group")).toEqual(["Maps for South is for everyone. Is it meant for South only?"]);
    expect(saysOf(plan, "neighbours")).toEqual([
      "three is for everyone, and everything beside it is for some. Is it meant to be?",
    ]);
  });
});
