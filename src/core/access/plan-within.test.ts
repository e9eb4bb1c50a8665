/** What staff know of a course, on random courses: nothing of whom they were not given, and of their own what is so. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { sheetOf } from "../gradebook/sheet.ts";
import type { Condition, Item, Plan, Target } from "../plan/types.ts";
import { reachAt } from "../reach/reach.ts";
import { t0 } from "../tests/fixture.ts";
import { randomCourse } from "../tests/random-course.ts";
import { termOf } from "../timing/instants.ts";
import { planWithin } from "./plan-within.ts";
import { progressWithin, scopeOf } from "./scope.ts";

const groups = ["North", "South", "Upper", "Lower", "Quick", "Slow"];
/** When something was given: long over, over at this very moment, from it on, or still. */
const spans = [
  { since: 0, until: t0 - 1 },
  { since: 0, until: t0 },
  { since: t0, until: null },
  { since: t0 + 1, until: null },
  { since: 0, until: null },
] as const;
const spanOf = fc.constantFrom(...spans);

/** A random course with somebody on its staff, and settings that name what they may not know of. */
const staffed = fc
  .record({
    course: randomCourse,
    role: fc.constantFrom("instructor" as const, "support" as const),
    sections: fc.array(fc.record({ id: fc.constantFrom("D1", "D2"), span: spanOf }), { maxLength: 2 }),
    groups: fc.array(fc.record({ id: fc.constantFrom(...groups), span: spanOf }), { maxLength: 2 }),
    leads: fc.array(fc.constantFrom("ada", "ben", "fay"), { maxLength: 2 }),
    formedIn: fc.constantFrom(null, ...groups),
    owner: fc.constantFrom("tess", "uma", "ada"),
    splitting: fc.constantFrom(null, "Banks", "Pace", "Reaches"),
  })
  .map(({ course: { plan, progress }, ...drawn }) => {
    for (const id of ["tess", "uma"])
      plan.people[id] = {
        ...{ id, sourcedId: `00${id}`, username: id, email: `${id}@x.example`, givenName: id, familyName: "Staff" },
        attributes: { Room: id },
      };
    for (const [at, { id, span }] of drawn.sections.entries())
      plan.enrolments[`given ${at}`] = {
        ...{ id: `given ${at}`, personId: "tess", sectionId: id, role: drawn.role, ...span },
        ...{ origin: "hand", home: false },
      };
    for (const [at, { id, span }] of drawn.groups.entries())
      plan.placements[`given ${at}`] = { id: `given ${at}`, groupId: id, personId: "tess", held: true, ...span };
    for (const group of Object.values(plan.groups))
      Object.assign(group, { leads: drawn.leads, code: `code ${group.id}`, scopeGroupId: drawn.formedIn });
    for (const item of Object.values(plan.items)) item.owners = [drawn.owner];
    plan.course.visitorCode = "code of visitors";
    plan.course.layerOrder = ["Reaches", "sections", "Pace", "Banks"];
    plan.course.staffMay = { tess: ["mark"], uma: ["publish"] };
    plan.course.splitting =
      drawn.splitting === null ? null : { layerId: drawn.splitting, between: "sealed", locked: false };
    // Work of a group that another handed in, and a mark of each of two groups.
    const handIns = progress.handIns.map((row, at) => ({ ...row, by: ["ada", "ben", "fay"][at % 3] as string }));
    const groupMarks = ["North", "Upper"].map((groupId) => ({
      groupId,
      itemId: "item 0",
      points: 5,
      excused: false,
      at: 0,
    }));
    plan.acceptances.quiet = { id: "quiet", finding: "leak of North", state: "s", reason: "r", at: 0 };
    return { plan, progress: { ...progress, handIns, groupMarks } };
  });

const holds = ({ since, until }: { since: number; until: number | null }) =>
  since <= t0 && (until === null || t0 < until);

/** What somebody may know of, written down as the rules say it. */
function mayKnow(plan: Plan) {
  const enrolments = Object.values(plan.enrolments);
  const placements = Object.values(plan.placements);
  const given = {
    sections: enrolments.flatMap((row) => (row.personId === "tess" && holds(row) ? (row.sectionId ?? []) : [])),
    groups: placements.flatMap((row) => (row.personId === "tess" && holds(row) ? row.groupId : [])),
  };
  const isStudent = (id: string) =>
    enrolments.some((row) => row.personId === id && row.role === "student" && holds(row));
  const people = Object.keys(plan.people).filter(
    (id) =>
      isStudent(id) &&
      (enrolments.some(
        (row) =>
          row.personId === id && holds(row) && row.role === "student" && given.sections.includes(row.sectionId ?? ""),
      ) ||
        placements.some((row) => row.personId === id && holds(row) && given.groups.includes(row.groupId))),
  );
  const sections = Object.keys(plan.sections).filter(
    (id) =>
      given.sections.includes(id) ||
      enrolments.some((row) => (people.includes(row.personId) || row.personId === "tess") && row.sectionId === id),
  );
  const isPrivate = (groupId: string) => plan.layers[plan.groups[groupId]?.layerId ?? ""]?.private === true;
  const known = groups.filter(
    (id) =>
      given.groups.includes(id) ||
      (!isPrivate(id) && placements.some((row) => people.includes(row.personId) && row.groupId === id)),
  );
  const sets = Object.values(plan.sets).flatMap(({ id, groupIds }) =>
    groupIds.length > 0 && groupIds.every((one) => known.includes(one)) ? id : [],
  );
  const names = ({ kind, id }: Target) =>
    ({ person: people, group: known, section: sections, set: sets })[kind].includes(id);
  const isHidden = (id: string | null): boolean => {
    const item = plan.items[id ?? ""];
    if (!item) return false;
    const { to } = item.audience;
    return (
      (to !== "everyone" && !to.some(names)) ||
      (item.pageOf !== null && !known.includes(item.pageOf)) ||
      isHidden(item.parentId)
    );
  };
  const items = Object.keys(plan.items).filter((id) => !isHidden(id));
  return { people, sections, groups: known, sets, items };
}

/** Whether a condition asks about an item that the reader may not know of: they cannot be told whether it holds. */
const asks = (one: Condition | null, items: Plan["items"]): boolean =>
  one !== null && ("of" in one ? one.of.some((part) => asks(part, items)) : "itemId" in one && !items[one.itemId]);
function asksOfHidden(within: Plan, item: Item | undefined, walked: string[] = []): boolean {
  if (!item || walked.includes(item.id)) return false;
  const conditions = [item.condition, ...item.variants.map(({ condition }) => condition)];
  const folders = Object.values(within.entrances).flatMap(({ itemId, folderId }) =>
    itemId === item.id && folderId ? folderId : [],
  );
  return (
    conditions.some((one) => asks(one, within.items)) ||
    [item.parentId, ...folders].some(
      (id) => id !== null && asksOfHidden(within, within.items[id], [...walked, item.id]),
    )
  );
}

const narrowed = (plan: Plan) => {
  const scope = scopeOf(plan, "tess", t0);
  return { scope, within: planWithin(plan, "tess", scope, t0) };
};
const sorted = (ids: Iterable<string>) => [...ids].sort();

describe("the plan within a scope, on random courses", () => {
  test("holds whom they were given, the groups and sections of those, and the items that are for them: no more and no less", () => {
    fc.assert(
      fc.property(staffed, ({ plan }) => {
        const { scope, within } = narrowed(plan);
        const may = mayKnow(plan);
        expect(sorted(scope.personIds)).toEqual(sorted(may.people));
        const owners = Object.values(within.items).flatMap((item) => item.owners);
        expect(sorted(Object.keys(within.people))).toEqual(sorted(new Set([...may.people, "tess", ...owners])));
        expect(sorted(Object.keys(within.sections))).toEqual(sorted(may.sections));
        expect(sorted(Object.keys(within.groups))).toEqual(sorted(may.groups));
        expect(sorted(Object.keys(within.sets))).toEqual(sorted(may.sets));
        expect(sorted(Object.keys(within.items))).toEqual(sorted(may.items));
        const all = [...may.people, "tess"];
        const rows = <Row extends { personId: string }>(table: Record<string, Row>, keep: (row: Row) => boolean) =>
          sorted(Object.entries(table).flatMap(([id, row]) => (all.includes(row.personId) && keep(row) ? id : [])));
        expect(sorted(Object.keys(within.enrolments))).toEqual(rows(plan.enrolments, () => true));
        expect(sorted(Object.keys(within.placements))).toEqual(
          rows(plan.placements, ({ groupId }) => may.groups.includes(groupId)),
        );
        const inside = (id: string | null) => id === null || may.items.includes(id);
        expect(sorted(Object.keys(within.entrances))).toEqual(
          sorted(
            Object.values(plan.entrances).flatMap(({ id, itemId, folderId }) =>
              may.items.includes(itemId) && inside(folderId) ? id : [],
            ),
          ),
        );
        expect(within.acceptances).toEqual({});
        // Layers of known groups, and those along which something is split.
        const split = Object.values(plan.items).flatMap((item) => item.split?.layerId ?? []);
        const layers = [...may.groups.map((id) => plan.groups[id]?.layerId ?? ""), ...split];
        expect(sorted(Object.keys(within.layers))).toEqual(sorted(new Set(layers)));
        const { course } = within;
        expect(course.layerOrder).toEqual(
          plan.course.layerOrder.filter((id) => id === "sections" || layers.includes(id)),
        );
        expect(course.staffMay).toEqual({ tess: ["mark"] });
        const { classList, splitting, meetingLayerId } = plan.course;
        expect(course.classList).toEqual(
          classList.to === "layer" && !layers.includes(classList.layerId) ? { to: "nobody" } : classList,
        );
        expect(course.splitting).toEqual(splitting && layers.includes(splitting.layerId) ? splitting : null);
        expect(course.meetingLayerId).toEqual(
          meetingLayerId && layers.includes(meetingLayerId) ? meetingLayerId : null,
        );
      }),
      { numRuns: 400 },
    );
  });

  test("names nobody and nothing else, anywhere: no id, no login, no code", () => {
    fc.assert(
      fc.property(staffed, ({ plan, progress }) => {
        const { scope, within } = narrowed(plan);
        const may = mayKnow(plan);
        const text = JSON.stringify([within, progressWithin(plan, progress, within, scope)]);
        const owners = Object.values(within.items).flatMap((item) => item.owners);
        const others = Object.keys(plan.people).filter((id) => !may.people.includes(id) && id !== "tess");
        const words = others.flatMap((id) => [...(owners.includes(id) ? [] : [id]), `00${id}`, `${id}@x.example`]);
        expect(words.filter((word) => text.includes(`"${word}"`))).toEqual([]);
        for (const id of groups.filter((one) => !may.groups.includes(one)))
          expect([id, text.includes(`"${id}"`)]).toEqual([id, false]);
        for (const id of Object.keys(plan.sections).filter((one) => !may.sections.includes(one)))
          expect([id, text.includes(`"${id}"`)]).toEqual([id, false]);
        expect(text).not.toContain("code ");
      }),
      { numRuns: 400 },
    );
  });

  test("what was done is theirs of the items that are theirs; who handed in for others is named where they are theirs too", () => {
    fc.assert(
      fc.property(staffed, ({ plan, progress }) => {
        const { scope, within } = narrowed(plan);
        const may = mayKnow(plan);
        const found = progressWithin(plan, progress, within, scope);
        const theirs = <Row extends { personId: string; itemId: string }>(rows: Row[]) =>
          rows.filter(({ personId, itemId }) => may.people.includes(personId) && may.items.includes(itemId));
        const key = (rows: { personId: string; itemId: string; at: number | null }[]) =>
          rows.map(({ personId, itemId, at }) => `${personId} ${itemId} ${at}`).sort();
        expect(key(found.marks)).toEqual(key(theirs(progress.marks)));
        expect(key(found.openings)).toEqual(key(theirs(progress.openings)));
        // Group work counts for each of the group, so that there may be more than was handed in by each.
        expect(key(found.handIns)).toEqual(expect.arrayContaining(key(theirs(progress.handIns))));
        expect(theirs(found.handIns)).toHaveLength(found.handIns.length);
        const of = (id: string, personId: string) =>
          progress.handIns.find((row) => row.id === id && row.personId === personId)?.by ?? "";
        const known = (by: string | undefined) => by === undefined || may.people.includes(by);
        expect(found.handIns.filter(({ by }) => !known(by))).toEqual([]);
        const hidden = found.handIns.filter(({ id, personId, by }) => by === undefined && known(of(id, personId)));
        expect(hidden.filter(({ id, personId }) => of(id, personId) !== "")).toEqual([]);
        expect(found.groupMarks.map(({ groupId }) => groupId)).toEqual(
          may.items.includes("item 0") ? ["North", "Upper"].filter((id) => may.groups.includes(id)) : [],
        );
      }),
      { numRuns: 300 },
    );
  });

  // A target that staff may not know of names its students as of now: who came to it within the term, or left it, is not
  // told apart, however long ago.
  const isSteady = (plan: Plan, personId: string) =>
    Object.values(plan.placements).every(
      (row) => row.personId !== personId || (row.since <= termOf(plan).from && row.until === null),
    );
  test("every cell of theirs is what it is in the whole course", () => {
    fc.assert(
      fc.property(staffed, ({ plan, progress }) => {
        const { scope, within } = narrowed(plan);
        const [all, narrow] = [
          sheetOf(reachAt(plan, progress, t0)),
          sheetOf(reachAt(within, progressWithin(plan, progress, within, scope), t0)),
        ];
        expect(narrow.reach.students).toEqual(all.reach.students.filter((id) => scope.personIds.has(id)));
        for (const item of narrow.columns.filter((one) => !asksOfHidden(within, one)))
          for (const personId of narrow.reach.students.filter((id) => isSteady(plan, id)))
            expect([item.id, personId, narrow.cell(item, personId)]).toEqual([
              item.id,
              personId,
              all.cell(plan.items[item.id] as never, personId),
            ]);
      }),
      { numRuns: 300 },
    );
  });
});
