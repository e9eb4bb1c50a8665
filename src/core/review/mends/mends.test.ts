/** The mends of each kind of finding, on the smallest course that has it: what is offered, and that it mends. */
import { describe, expect, test } from "vitest";
import { noProgress } from "../../plan/progress.ts";
import type { Plan } from "../../plan/types.ts";
import { audit, findingsOf } from "../../reach/audit/audit.ts";
import { type Finding, type FindingKind, findingKinds } from "../../reach/audit/finding.ts";
import { reachAt } from "../../reach/reach.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, forOnly, group, t0 } from "../../tests/fixture.ts";
import { mendsOf, tryCommands } from "./mends.ts";

/** Ada in North, Ben in South, Cas in South and in Upper of a private layer. */
function course(): Plan {
  const plan = coursePlan();
  plan.course.classList = { to: "nobody" };
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South"]);
  addLayer(plan, "Helping hands", ["Upper"], { private: true });
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "ben", ["D1"], ["South"]);
  addStudent(plan, "cas", ["D1"], ["South", "Upper"]);
  return plan;
}
const found = (plan: Plan, kind: FindingKind): Finding => {
  const [one] = audit(plan, noProgress, t0, "Banks").findings.filter((finding) => finding.kind === kind);
  if (!one) throw new Error(`nothing of kind ${kind}`);
  return one;
};
/** What is offered; each is applied, and its finding is gone. */
function offered(plan: Plan, kind: FindingKind): string[] {
  const finding = found(plan, kind);
  const mends = mendsOf(plan, noProgress, t0, finding, "Banks");
  for (const { commands, effect } of mends) {
    const next = tryCommands(plan, commands, t0) as Plan;
    expect(audit(next, noProgress, t0, "Banks").findings.map(({ key }) => key)).not.toContain(finding.key);
    expect(effect).toMatch(/\.$/);
  }
  return mends.map(({ says }) => says);
}
const change = (plan: Plan, id: string, fields: Partial<Plan["items"][string]>) => {
  plan.items[id] = { ...(plan.items[id] as Plan["items"][string]), ...fields };
};

describe("leaks", () => {
  test("of two doorways one seal may be enough; where it is not, both are sealed", () => {
    const plan = course();
    addItem(plan, "outer", { kind: "folder", seals: false, audience: forOnly(group("North")) });
    addItem(plan, "inner", { kind: "folder", parentId: "outer", seals: false });
    addItem(plan, "page", { parentId: "inner" });
    plan.entrances.e = { id: "e", itemId: "page", folderId: null, position: 9 };
    expect(offered(plan, "leak")).toEqual([
      "Seal the folder outer",
      "Narrow page to whom outer is for",
      "Remove its entrance in the top of the outline",
    ]);
    change(plan, "inner", { audience: forOnly(group("South")) });
    change(plan, "outer", { audience: forOnly(group("North")) });
    expect(offered(plan, "leak")).toContain("Seal every folder above it");
  });
  test("what would have a leak begin sooner is not offered, though it would have come", () => {
    const plan = course();
    plan.course.indexes = { discussions: true, files: false, calendar: false, work: false };
    addItem(plan, "folder", { kind: "folder", seals: false, audience: { to: "everyone", minus: [group("Upper")] } });
    addItem(plan, "talk", { kind: "discussion", parentId: "folder", audience: forOnly(group("South")) });
    const dates = { opens: "2026-12-16T06:00" };
    plan.overrides.later = { id: "later", itemId: "talk", target: group("Upper"), dates };
    expect(found(plan, "leak").personIds).toEqual(["cas"]);
    expect(offered(plan, "vain override")).toEqual([]);
    // Where it leaks now as it is, the override may go.
    expect(
      offered(
        { ...plan, overrides: { later: { ...plan.overrides.later, dates: { due: "2026-12-16T06:00" } } } },
        "vain override",
      ),
    ).toEqual(["Remove the override"]);
  });
  test("an item of some within a folder of some is narrowed by whom the folder leaves out", () => {
    const plan = course();
    addItem(plan, "door", { kind: "folder", seals: false, audience: { to: "everyone", minus: [group("South")] } });
    addItem(plan, "page", { parentId: "door" });
    plan.entrances.e = { id: "e", itemId: "page", folderId: null, position: 9 };
    expect(offered(plan, "leak")).toContain("Narrow page to whom door is for");
  });
});

describe("stranded", () => {
  test("by a folder's condition: the folder's is removed", () => {
    const plan = course();
    addItem(plan, "folder", { kind: "folder", condition: { kind: "in", targets: [group("North")] } });
    addItem(plan, "page", { parentId: "folder" });
    const page = audit(plan, noProgress, t0).findings.find(({ key }) => key === "stranded/page") as Finding;
    expect(mendsOf(plan, noProgress, t0, page).map(({ says }) => says)).toEqual([
      "Remove the release condition of its folder folder",
      "Make it for North only",
      "Leave those students out of its audience",
    ]);
  });
  test("by a window that is gone: they alone get it at any time", () => {
    const plan = course();
    addItem(plan, "early", { dates: { closes: "2026-10-05T09:00" }, readableAfterClose: false });
    const late = plan.enrolments["ben in D1"] as Plan["enrolments"][string];
    plan.enrolments["ben in D1"] = { ...late, since: Date.parse("2026-10-12T09:00:00Z") };
    expect(offered(plan, "stranded")).toEqual([
      "Let them open it at any time",
      "Leave that student out of its audience",
    ]);
    expect(offered(plan, "no window")).toEqual([
      "Keep it readable after it closes",
      "Let it open and close at no given time",
    ]);
  });
});

describe("audiences and splits", () => {
  test("for nobody: for everyone, or unpublished", () => {
    const plan = course();
    addItem(plan, "empty", { audience: forOnly() });
    expect(offered(plan, "nobody")).toEqual(["Make it for everyone", "Unpublish it"]);
  });
  test("without a thread: split no longer", () => {
    const plan = course();
    addStudent(plan, "fay", ["D1"]);
    addItem(plan, "talk", { kind: "discussion", split: { layerId: "Banks", between: "sealed" } });
    expect(offered(plan, "outside")).toEqual(["Split it no longer"]);
  });
});

describe("conditions", () => {
  test("a circle is cut where a condition closes it; what is asked in vain is no longer asked", () => {
    const plan = course();
    addItem(plan, "a", { condition: { kind: "opened", itemId: "b" } });
    addItem(plan, "b", { condition: { kind: "opened", itemId: "a" } });
    expect(offered(plan, "circle")).toEqual(["Remove the release condition of a"]);
    const vain = course();
    addItem(vain, "check", { kind: "quiz", audience: forOnly(group("North")) });
    addItem(vain, "map", { audience: forOnly(group("South")), condition: { kind: "handedIn", itemId: "check" } });
    expect(offered(vain, "unreachable")).toEqual(["Remove the release condition of map"]);
  });
  test("a part that never or always holds is taken out, wherever it stands", () => {
    const plan = course();
    addItem(plan, "page", {
      variants: [
        {
          targets: [group("North")],
          condition: {
            kind: "anyOf",
            of: [
              { kind: "in", targets: [group("South")] },
              { kind: "from", moment: "2026-11-01T09:00" },
            ],
          },
        },
      ],
      condition: { kind: "from", moment: "2026-01-01T09:00" },
    });
    const never = found(plan, "never");
    const [mend] = mendsOf(plan, noProgress, t0, never);
    expect(tryCommands(plan, mend?.commands ?? [], t0)?.items.page?.variants[0]?.condition).toEqual({
      kind: "anyOf",
      of: [{ kind: "from", moment: "2026-11-01T09:00" }],
    });
    const [other] = mendsOf(plan, noProgress, t0, found(plan, "always"));
    expect(tryCommands(plan, other?.commands ?? [], t0)?.items.page?.condition).toBeNull();
  });
});

describe("labels", () => {
  test("a private name is taken out of a title and of a group's label; where nothing is left, none is offered", () => {
    const plan = course();
    addItem(plan, "Helping hands: maps");
    expect(offered(plan, "private name")).toEqual(['Call it "Maps"']);
    const label = course();
    label.groups.North = { ...(label.groups.North as Plan["groups"][string]), label: "Gifted northerners" };
    expect(offered(label, "telling")).toEqual(['Call it "Northerners"']);
    const bare = course();
    addItem(bare, "Helping hands");
    expect(offered(bare, "private name")).toEqual([]);
  });
});

describe("sightlines", () => {
  test("the class list, a thread for all, a split of another layer, and names to choose a group by", () => {
    const plan = course();
    plan.course.classList = { to: "everyone" };
    expect(offered(plan, "sightline")).toEqual([
      "Show on the class list only those who share a group of Banks",
      "Show nobody on the class list",
    ]);
    const talk = course();
    addItem(talk, "talk", { kind: "discussion" });
    expect(offered(talk, "sightline")).toEqual(["Split it along Banks, sealed"]);
    const names = course();
    const self = { opens: null, closes: null, by: "choice" as const, help: "", showNames: true };
    addLayer(names, "Boats", ["Otter"], { selfPlacement: self });
    expect(offered(names, "sightline")).toEqual(["Hide the names in Boats"]);
  });
});

test("whose minutes do not fit has the item close later: for everybody, or for those alone", () => {
  const plan = course();
  const dates = { opens: "2026-11-27T09:00", closes: "2026-11-27T09:30", minutes: 20 };
  addItem(plan, "quiz", { kind: "quiz", dates });
  const allowance = { id: "more", minutesFactor: "2", extraDays: null, extraAttempts: null };
  plan.allowances.more = { ...allowance, target: { kind: "group", id: "Upper" } };
  expect(offered(plan, "too little time")).toEqual([
    "Let it close Fri 27 Nov, 09:40 for everybody",
    "Let it close Fri 27 Nov, 09:40 for them alone",
  ]);
  // An override decides for some of them: closing later for everybody would not help those.
  delete plan.allowances.more;
  change(plan, "quiz", { dates: { ...dates, minutes: 25 } });
  plan.overrides.south = { id: "south", itemId: "quiz", target: group("South"), dates: { closes: "2026-11-27T09:20" } };
  expect(offered(structuredClone(plan), "too little time")).toEqual(["Let it close later for each of them"]);
});

describe("what is asked about", () => {
  test("a copy is made for the group that is left out, an item narrowed to whom its title or its neighbours say", () => {
    const plan = course();
    addLayer(plan, "Days", ["Monday", "Friday", "Sunday"]);
    for (const [person, day] of [
      ["ada", "Monday"],
      ["ben", "Friday"],
      ["cas", "Sunday"],
    ] as const)
      plan.placements[person + day] = {
        id: person + day,
        groupId: day,
        personId: person,
        since: 0,
        until: null,
        held: false,
      };
    addItem(plan, "Map for Monday", { audience: forOnly(group("Monday")) });
    addItem(plan, "Map for Friday", { audience: forOnly(group("Friday")) });
    expect(offered(plan, "left out")).toEqual(["Make Map for Monday for Sunday too"]);
    const titled = course();
    addItem(titled, "Route of the North");
    expect(offered(titled, "one group")).toEqual(["Make it for North only"]);
    const beside = course();
    addItem(beside, "one", { audience: forOnly(group("North")) });
    addItem(beside, "two", { audience: forOnly(group("South")) });
    addItem(beside, "three");
    expect(offered(beside, "neighbours")).toEqual(["Make it for those whom its neighbours are for"]);
  });
});

test("findings of some kinds alone are those of the whole audit", () => {
  const plan = course();
  plan.course.classList = { to: "everyone" };
  addItem(plan, "door", { kind: "folder", seals: false, audience: forOnly(group("North")) });
  addItem(plan, "Basic talk", { kind: "discussion", parentId: "door", split: { layerId: "Banks", between: "shared" } });
  plan.entrances.e = { id: "e", itemId: "Basic talk", folderId: null, position: 9 };
  const reach = reachAt(plan, noProgress, t0);
  const all = audit(plan, noProgress, t0, "Banks").findings;
  expect(new Set(all.map(({ kind }) => kind)).size).toBeGreaterThan(2);
  for (const kind of findingKinds) {
    const alone = findingsOf(reach, new Set([kind]), "Banks").filter((one) => one.kind === kind);
    expect(alone.map(({ key }) => key).sort()).toEqual(
      all
        .filter((one) => one.kind === kind)
        .map(({ key }) => key)
        .sort(),
    );
  }
});
