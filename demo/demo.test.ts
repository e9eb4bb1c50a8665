import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, test } from "vitest";
import { pointsOf, scoreOf } from "../src/core/attempts/marking.ts";
import { daysBetween } from "../src/core/clock/local-time.ts";
import { readTable } from "../src/core/formats/text.ts";
import type { TextTable } from "../src/core/formats/text-table.ts";
import { cellsOf, columnsOf } from "../src/core/gradebook/cells.ts";
import { matchColumns } from "../src/core/intake/columns.ts";
import { reconcile } from "../src/core/intake/reconcile.ts";
import { rosterRows } from "../src/core/intake/rows.ts";
import { takeIn } from "../src/core/intake/take-in.ts";
import { wholeRoster } from "../src/core/intake/verdict.ts";
import { countLayer, doubleEnrolled, studentsOf } from "../src/core/placement/membership.ts";
import { studentsAt } from "../src/core/plan/lookup.ts";
import {
  Allowance,
  Enrolment,
  Group,
  Item,
  Layer,
  Override,
  Person,
  Placement,
  type Plan,
  Section,
} from "../src/core/plan/types.ts";
import { audit } from "../src/core/reach/audit/audit.ts";
import type { FindingKind } from "../src/core/reach/audit/finding.ts";
import { reachAt } from "../src/core/reach/reach.ts";
import { countBits } from "../src/core/sets/bits.ts";
import { makeLargeCourse } from "./large.ts";
import { rosterFiles } from "./rosters.ts";
import { makeScenario } from "./scenario.ts";
import { makeTerm } from "./term.ts";

const now = Date.UTC(2026, 10, 25, 10);
const namespace = "6f0e3a52-4a53-4c5c-9a52-0f7f3a1d2b4c";
const { plan, activity, attempts, emptyCourse } = makeScenario(now, namespace);
const layer = (name: string) => Object.values(plan.layers).find((one) => one.name === name) as Layer;
const item = (title: string) => Object.values(plan.items).find((one) => one.title === title) as Item;

describe("the demo course", () => {
  test("falls in its ninth week, whenever it is first started", () => {
    for (const moment of [now, Date.UTC(2027, 0, 3, 23, 30), Date.UTC(2027, 2, 28, 0, 30)]) {
      const term = makeTerm(moment);
      const days = daysBetween(term.start, new Date(moment + 3600_000).toISOString().slice(0, 10));
      expect(days).toBeGreaterThanOrEqual(55);
      expect(days).toBeLessThanOrEqual(63);
      expect(daysBetween(term.start, term.day(9, 1))).toBe(56);
    }
  });
  test("has 104 students in four sections, of the sizes of the registrar", () => {
    expect(studentsAt(plan, now)).toHaveLength(104);
    const { groups, unplaced } = countLayer(plan, layer("Sections").id, now);
    expect(groups.map(({ group, personIds }) => [group.name, personIds.length])).toEqual([
      ["Day 1", 34],
      ["Day 2", 31],
      ["Evening", 22],
      ["Distance", 17],
    ]);
    expect(unplaced).toEqual([]);
  });
  test("every row is what the schemas of the plan say", () => {
    const schemas = {
      sections: Section,
      people: Person,
      enrolments: Enrolment,
      layers: Layer,
      groups: Group,
      placements: Placement,
      items: Item,
      overrides: Override,
      allowances: Allowance,
    };
    for (const course of [plan, emptyCourse]) {
      for (const [table, schema] of Object.entries(schemas)) {
        for (const row of Object.values(course[table as keyof Plan] as Record<string, unknown>))
          expect(schema.safeParse(row).error?.message).toBeUndefined();
      }
    }
  });
  test("names are diverse and nobody's name stands twice", () => {
    const names = Object.values(plan.people).map(({ givenName, familyName }) => `${givenName} ${familyName}`);
    expect(new Set(names).size).toBe(names.length);
    expect(new Set(Object.values(plan.people).map(({ familyName }) => familyName)).size).toBeGreaterThan(60);
  });
  test("river teams are fours and fives within a section", () => {
    for (const { personIds, group } of countLayer(plan, layer("River teams").id, now).groups) {
      expect([group.name, personIds.length >= 4 && personIds.length <= 5]).toEqual([group.name, true]);
      const sections = new Set(
        personIds.flatMap((id) =>
          Object.values(plan.enrolments)
            .filter((row) => row.personId === id && row.until === null)
            .map((row) => row.sectionId),
        ),
      );
      // The double-enrolled student brings a second section into one team.
      expect(sections.size).toBeLessThanOrEqual(2);
    }
  });
  test("the same moment and namespace make the same course, another namespace other ids", () => {
    expect(makeScenario(now, namespace).plan).toEqual(plan);
    const other = makeScenario(now, "0d0e3a52-4a53-4c5c-9a52-0f7f3a1d2b4c").plan;
    expect(Object.keys(other.people).some((id) => id in plan.people)).toBe(false);
    expect(Object.values(other.people).map(({ sourcedId }) => sourcedId)).toEqual(
      Object.values(plan.people).map(({ sourcedId }) => sourcedId),
    );
  });
});

describe("its honest mistakes", () => {
  const reach = reachAt(plan, activity, now);
  const { findings } = audit(plan, activity, now);
  const found = (kind: FindingKind) =>
    findings.filter((one) => one.kind === kind).map((one) => [one.subject, one.personIds.length]);
  test("a leak through an index, of as many as are not on the north bank", () => {
    expect(found("leak")).toEqual([["North bank notes", 39]]);
    expect(found("nobody")).toEqual([]);
  });
  test("a stranded item: only the pilots can ever earn what it needs", () => {
    const pilots = countBits(
      reach.members({
        kind: "group",
        id: countLayer(plan, layer("Drone pilots").id, now).groups[0]?.group.id ?? "",
      }),
    );
    expect(countBits(reach.meant(item("Survey base map")))).toBe(104);
    expect(countBits(reach.sees(item("Survey base map")))).toBeLessThanOrEqual(pilots);
    expect(countBits(reach.meant(item("Pilot check")))).toBe(pilots);
  });
  test("a due before opens for one group", () => {
    expect(found("dates")).toEqual([["Lab 4: Rating the weir", 15]]);
  });
  test("a telling label, a section with two meeting times, and staff's private layers", () => {
    expect(item("Remedial maths for hydrology")).toBeDefined();
    const classes = Object.values(plan.people)
      .map(({ attributes }) => attributes.Class)
      .filter(Boolean);
    expect([...new Set(classes)].sort()).toEqual(["Tue Thu 13:30", "Tue Thu 16:00"]);
    expect(
      Object.values(plan.layers)
        .filter((one) => one.private)
        .map(({ name }) => name),
    ).toEqual(["Access plans", "Writing support"]);
  });
  test("a double-enrolled student, two late arrivals unplaced, a pair kept apart and together", () => {
    expect(doubleEnrolled(plan, now)).toHaveLength(1);
    const teams = countLayer(plan, layer("River teams").id, now);
    expect([teams.unplaced.length, teams.together.length]).toEqual([2, 1]);
  });
});

describe("its activity", () => {
  test("is of the past, by people who were there, on what was theirs", () => {
    const reach = reachAt(plan, activity, now);
    for (const { at, personId, itemId } of [
      ...activity.marks,
      ...activity.handIns,
      ...activity.openings,
      ...activity.posts,
    ]) {
      expect(at).toBeLessThan(now);
      expect(plan.people[personId]).toBeDefined();
      expect(plan.items[itemId]).toBeDefined();
    }
    const cells = cellsOf(reach);
    const states = columnsOf(plan).flatMap((column) =>
      reach.students.map((personId) => cells.cell(column, personId)?.state),
    );
    for (const state of ["marked", "handed in", "missing", "excused", "waiting", "not yet open", "not theirs"])
      expect([state, states.includes(state as never)]).toEqual([state, true]);
  });
  test("what teams keep on their pages is their members', on pages that have it", () => {
    expect(activity.entries.length).toBeGreaterThan(30);
    for (const { groupId, personId, kind } of activity.entries) {
      expect(studentsOf(plan, groupId, now)).toContain(personId);
      const { has = [], may = [] } = plan.groups[groupId]?.page ?? {};
      expect([...has, ...may]).toContain(kind === "notice" ? "notices" : kind);
    }
  });
  test("nobody has two marks on one item, nor more points than it carries", () => {
    const keys = activity.marks.map(({ personId, itemId }) => personId + itemId);
    expect(new Set(keys).size).toBe(keys.length);
    for (const { itemId, points } of activity.marks)
      expect(points ?? 0).toBeLessThanOrEqual(plan.items[itemId]?.points ?? 0);
  });
});

describe("the registrar's files", () => {
  const folder = join(import.meta.dirname, "rosters");
  const rowsOf = (name: string, section = "") => {
    const table = readTable(name, new Uint8Array(readFileSync(join(folder, name)))) as TextTable;
    return rosterRows(table, matchColumns(table), section);
  };
  test("stand in demo/rosters as the generator makes them", () => {
    const files = rosterFiles();
    expect(readdirSync(folder).sort()).toEqual(Object.keys(files).sort());
    for (const [name, content] of Object.entries(files))
      expect([name, readFileSync(join(folder, name), "utf8") === content]).toEqual([name, true]);
  });
  test("the merged list and a file a section say the same", () => {
    const merged = rowsOf("week-1-merged.csv");
    const apart = ["D1", "D2", "EV", "DL"].flatMap((code) => rowsOf(`week-1-${code}.csv`, code));
    const key = (row: (typeof merged)[number]) =>
      `${row.sourcedId} ${row.sectionCode} ${row.familyName} ${row.givenName} ${row.email} ${row.username}`;
    expect(apart.map(key).sort()).toEqual(merged.map(key).sort());
  });
  test("week 3 after week 1: arrivals, leavers, a switcher, a duplicate and two bad rows", () => {
    const options = { ...wholeRoster, now };
    const first = reconcile(emptyCourse, rowsOf("week-1-merged.csv"), options);
    expect(first.counts).toMatchObject({ new: 103, unreadable: 0 });
    const after = takeIn(emptyCourse, first, namespace, now - 1000, "Sections");
    expect(
      Object.values(after.sections)
        .map(({ code, pattern }) => [code, pattern.length])
        .sort(),
    ).toEqual([
      ["D1", 3],
      ["D2", 2],
      ["DL", 0],
      ["EV", 1],
    ]);
    const third = reconcile(after, rowsOf("week-3-merged.csv"), options);
    expect(third.counts).toEqual({
      unreadable: 2,
      duplicate: 1,
      clash: 0,
      returning: 0,
      moved: 1,
      new: 2,
      changed: 0,
      same: 98,
    });
    expect(third.missing).toHaveLength(3);
  });
});

describe("a large course", () => {
  test("has the sizes asked for, and the same sizes make the same course", () => {
    const sizes = { students: 60, items: 40, layers: 3, sections: 4 };
    const { plan: large, progress } = makeLargeCourse(sizes, now, namespace);
    expect([studentsAt(large, now).length, Object.keys(large.items).length, Object.keys(large.layers).length]).toEqual([
      60, 40, 3,
    ]);
    expect(Object.keys(large.placements)).toHaveLength(180);
    expect(progress.marks.length).toBeGreaterThan(0);
    expect(makeLargeCourse(sizes, now, namespace).plan).toEqual(large);
    const reach = reachAt(large, progress, now);
    const seen = Object.values(large.items).map((one) => countBits(reach.sees(one)));
    expect(Math.max(...seen)).toBe(60);
    expect(new Set(seen).size).toBeGreaterThan(3);
  });
});

describe("attempts", () => {
  test("of weeks past earned the marks that the gradebook holds; what is not marked yet waits for a person", () => {
    const ended = attempts.filter(({ endedAt }) => endedAt !== null);
    expect(ended.length).toBeGreaterThan(150);
    for (const one of ended) {
      const given = new Map(one.answers.map(({ questionId, answer, points }) => [questionId, { answer, points }]));
      const score = scoreOf(one.paper, given);
      expect([one.id, pointsOf(score, 10)]).toEqual([one.id, one.points]);
      expect(one.points === null).toBe(score.toMark.length > 0);
    }
  });
  test("run for some of Evening as the demo begins, with time left", () => {
    const running = attempts.filter(({ endedAt }) => endedAt === null);
    expect(running.length).toBeGreaterThan(0);
    const evening = Object.values(plan.groups).find(({ name }) => name === "Evening") as Group;
    for (const one of running) {
      expect(studentsOf(plan, evening.id, now)).toContain(one.personId);
      expect(one.begunAt < now && (one.endsAt ?? 0) > now).toBe(true);
    }
  });
});
