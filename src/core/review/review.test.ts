import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { noProgress } from "../plan/progress.ts";
import type { Group, Layer, Plan } from "../plan/types.ts";
import { visibilityOf } from "../reach/explain.ts";
import { reachAt } from "../reach/reach.ts";
import { studentIndex, studentItem, studentOutline, studentPage } from "../reach/student-page.ts";
import { hasBit } from "../sets/bits.ts";
import { addItem, addLayer, addStudent, coursePlan, forOnly, group, meetingAnchor, t0 } from "../tests/fixture.ts";
import { randomCourse } from "../tests/random-course.ts";
import { dateFields, resolveField } from "../timing/resolving/resolve.ts";
import { isTighter } from "./effect.ts";
import { review } from "./effects.ts";

function course(): Plan {
  const plan = coursePlan();
  addLayer(plan, "Banks", ["North", "South"]);
  for (const id of ["ada", "ben"]) addStudent(plan, id, [], ["North"]);
  addStudent(plan, "cas", [], ["South"]);
  addItem(plan, "page");
  addItem(plan, "lab", { kind: "assignment", dates: { due: "2026-12-01T17:00" } });
  return plan;
}
const withItem = (plan: Plan, id: string, fields: object): Plan => ({
  ...plan,
  items: { ...plan.items, [id]: { ...plan.items[id], ...fields } as never },
});

describe("what a draft does to people", () => {
  test("nothing drafted touches nobody", () => {
    expect(review(course(), course(), noProgress, t0)).toMatchObject({ lines: [], touched: 0 });
  });
  test("students with the same effect are one line", () => {
    const before = course();
    const found = review(before, withItem(before, "page", { audience: forOnly(group("South")) }), noProgress, t0);
    expect(found.lines).toHaveLength(1);
    expect(found.lines[0]).toMatchObject({
      personIds: ["ada", "ben"],
      effects: [{ kind: "loses", itemId: "page" }],
    });
    expect(found.losing).toBe(2);
  });
  test("a date for a group moves for its members only, and earlier is a warning", () => {
    const before = course();
    const overrides = {
      o: { id: "o", itemId: "lab", target: group("North"), dates: { due: "2026-11-30T17:00" } },
    };
    const found = review(before, { ...before, overrides }, noProgress, t0);
    expect(found.lines).toEqual([
      {
        personIds: ["ada", "ben"],
        effects: [
          {
            kind: "date",
            itemId: "lab",
            groupId: null,
            field: "due",
            from: "2026-12-01T17:00",
            to: "2026-11-30T17:00",
          },
        ],
      },
    ]);
    expect(found.earlier).toBe(2);
    expect([
      isTighter("due", "2026-12-01T17:00", "none"),
      isTighter("attempts", 3, 2),
      isTighter("opens", "2026-12-01T17:00", "2026-11-01T17:00"),
    ]).toEqual([false, true, false]);
    // A limit where there was none is one.
    for (const from of [null, "none"] as const)
      expect([isTighter("due", from, "2026-12-01T17:00"), isTighter("minutes", from, 90)]).toEqual([true, true]);
    expect([isTighter("due", null, "none"), isTighter("attempts", 2, 2)]).toEqual([false, false]);
  });
  test("a meeting day of a group moves the dates that go by its meetings, of its members alone", () => {
    const plan = course();
    plan.course.meetingLayerId = "Banks";
    const slot = { start: "09:00", end: "10:00", place: "" };
    for (const id of ["North", "South"])
      plan.groups[id] = { ...(plan.groups[id] as Group), pattern: [{ weekday: 1, ...slot }] };
    addItem(plan, "met", { kind: "assignment", dates: { due: meetingAnchor(10) } });
    const north = { ...(plan.groups.North as Group), pattern: [{ weekday: 3, ...slot }] };
    const found = review(plan, { ...plan, groups: { ...plan.groups, North: north } }, noProgress, t0);
    expect(found.lines).toMatchObject([
      {
        personIds: ["ada", "ben"],
        effects: [
          { kind: "date", itemId: "met", from: "2026-11-30T09:00", to: "2026-12-02T09:00" },
          { kind: "calendar" },
        ],
      },
    ]);
  });
  test("what opens later in the term is gained later", () => {
    const before = course();
    const found = review(
      before,
      withItem(before, "new", {
        ...before.items.page,
        id: "new",
        dates: { opens: "2026-12-05T09:00" },
      }),
      noProgress,
      t0,
    );
    expect(found.lines[0]?.effects).toMatchObject([{ kind: "gains later", itemId: "new" }]);
  });
  test("who is placed in a layer that becomes private by the same draft has nothing otherwise", () => {
    const before = course();
    addStudent(before, "dee", []);
    const placements = {
      ...before.placements,
      new: { ...Object.values(before.placements)[0], id: "new", personId: "dee" },
    };
    const layers = { ...before.layers, Banks: { ...before.layers.Banks, private: true } as Layer };
    const touched = (after: Partial<Plan>) => [
      ...review(before, { ...before, ...after } as Plan, noProgress, t0).touchedIds,
    ];
    expect(touched({ placements } as Partial<Plan>)).toContain("dee");
    expect(touched({ placements, layers } as Partial<Plan>)).not.toContain("dee");
  });
  test("who is in a group twice and leaves it once stays in it", () => {
    const before = course();
    const one = before.placements["cas in South"] as NonNullable<Plan["placements"][string]>;
    before.placements = { ...before.placements, twice: { ...one, id: "twice" } };
    const after = { ...before, placements: { ...before.placements, twice: { ...one, id: "twice", until: t0 } } };
    expect([...review(before, after, noProgress, t0).touchedIds]).toEqual([]);
    expect([...review(after, before, noProgress, t0).touchedIds]).toEqual([]);
  });
  test("who changes group joins and leaves, and a new leak is counted", () => {
    const before = course();
    before.course.indexes.discussions = true;
    const placements = {
      ...before.placements,
      "cas in South": { ...before.placements["cas in South"], until: t0 } as never,
      moved: { id: "moved", personId: "cas", groupId: "North", since: t0, until: null, held: true },
    };
    expect(
      review(before, { ...before, placements }, noProgress, t0).lines[0]?.effects.map(({ kind, groupId }) => [
        kind,
        groupId,
      ]),
    ).toEqual([
      ["leaves", "South"],
      ["joins", "North"],
    ]);
    const door = {
      ...before.items.page,
      id: "door",
      kind: "folder",
      seals: false,
      audience: forOnly(group("North")),
    };
    const talk = { ...before.items.page, id: "talk", kind: "discussion", parentId: "door" };
    const found = review(before, { ...before, items: { ...before.items, door, talk } as never }, noProgress, t0);
    expect(found.leaksAdded).toBe(1);
  });
  test("gained and lost are exactly the difference of what is seen, on random courses", () => {
    fc.assert(
      fc.property(randomCourse, randomCourse, ({ plan: before, progress }, { plan: other }) => {
        const after = { ...before, items: other.items, entrances: other.entrances };
        const [old, now] = [reachAt(before, progress, t0), reachAt(after, progress, t0)];
        const wanted: string[] = [];
        old.students.forEach((personId, index) => {
          for (const id of new Set([...Object.keys(before.items), ...Object.keys(after.items)])) {
            const saw = before.items[id] !== undefined && hasBit(old.sees(before.items[id]), index);
            const sees = after.items[id] !== undefined && hasBit(now.sees(after.items[id]), index);
            if (saw !== sees) wanted.push(`${personId} ${sees ? "gains" : "loses"} ${id}`);
          }
        });
        const found = review(before, after, progress, t0).lines.flatMap(({ effects, personIds }) =>
          personIds.flatMap((personId) =>
            effects
              .filter(({ kind }) => kind === "gains" || kind === "loses")
              .map(({ kind, itemId }) => `${personId} ${kind} ${itemId}`),
          ),
        );
        expect(found.sort()).toEqual(wanted.sort());
      }),
      { numRuns: 100 },
    );
  });
});

describe("the student's page", () => {
  test("outline, indexes and item pages show what is seen and nothing else, on random courses", () => {
    fc.assert(
      fc.property(randomCourse, fc.nat(5), ({ plan, progress, students }, which) => {
        const page = studentPage(plan, progress, students[which] as string, t0);
        if (!page) throw new Error("enrolled");
        const sees = (id: string) => hasBit(page.reach.sees(plan.items[id] as never), 0);
        const indexes = (["discussions", "files", "calendar", "work"] as const).flatMap(
          (kind) => studentIndex(page, kind) ?? [],
        );
        const listed = [...studentOutline(page), ...indexes];
        for (const { id, visibility } of listed) expect(sees(id)).toBe(visibility === "open");
        for (const id of Object.keys(plan.items)) {
          expect(studentItem(page, id) !== null).toBe(sees(id));
          // Whatever can be opened can also be found.
          if (sees(id)) expect(listed.some((entry) => entry.id === id)).toBe(true);
        }
      }),
      { numRuns: 200 },
    );
  });
});

test("dates that move are those that come out otherwise for each student asked alone, whatever rule was changed", () => {
  fc.assert(
    fc.property(randomCourse, fc.constantFrom("policy", "section", "override"), fc.nat(8), ({ plan }, what, place) => {
      const after = structuredClone(plan);
      const item = after.items[`item ${place}`];
      if (what === "policy")
        after.course.datePolicy = plan.course.datePolicy === "layer order" ? "most generous" : "layer order";
      if (what === "section")
        for (const section of Object.values(after.sections)) section.noClassDays = ["2026-11-11", "2026-10-07"];
      if (what === "override" && item)
        after.overrides.more = {
          id: "more",
          itemId: item.id,
          target: group("North"),
          dates: { due: "2026-11-30T12:00" },
        };
      const [old, now] = [reachAt(plan, noProgress, t0), reachAt(after, noProgress, t0)];
      /** Only what somebody has in sight is otherwise for them; what comes into sight later is asked of in touched.test.ts. */
      const isInSight = (personId: string, id: string | null) =>
        [old, now].every((reach) => {
          const [index, one] = [reach.indexOf.get(personId), reach.plan.items[id ?? ""]];
          return index !== undefined && one !== undefined && visibilityOf(reach, one, index).visibility !== "hidden";
        });
      const found = review(plan, after, noProgress, t0).lines.flatMap(({ effects, personIds }) =>
        effects
          .filter(({ kind }) => kind === "date")
          .flatMap(({ itemId, field, from, to }) =>
            personIds.flatMap((id) => (isInSight(id, itemId) ? [[id, itemId, field, from, to].join(" ")] : [])),
          ),
      );
      const expected = Object.values(after.items).flatMap((one) =>
        now.students.flatMap((id, index) => {
          const then = old.indexOf.get(id);
          const was = plan.items[one.id];
          if (then === undefined || !was || !isInSight(id, one.id)) return [];
          return dateFields.flatMap((field) => {
            const from = resolveField(plan, was, old.memberships(then), field).value;
            const to = resolveField(after, one, now.memberships(index), field).value;
            return from === to ? [] : [[id, one.id, field, from, to].join(" ")];
          });
        }),
      );
      // Dates of later moments, at which somebody is in other groups, may stand among them too.
      expect(found).toEqual(expect.arrayContaining(expected));
    }),
    { numRuns: 150 },
  );
});
