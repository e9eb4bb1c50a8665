/** Random courses for property tests: nesting, doorways, indexes, variants, extra entrances, moments exactly at t. */
import fc from "fast-check";
import { wallOf } from "../clock/local-time.ts";
import type { Progress } from "../plan/progress.ts";
import type {
  Audience,
  Between,
  Condition,
  DateFields,
  ItemKind,
  MemberPermission,
  Moment,
  PagePart,
  Plan,
  Target,
} from "../plan/types.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, t0, zone } from "./fixture.ts";

const hour = 3600_000;
const students = ["ada", "ben", "cas", "dee", "eli", "fay"];
const groups = ["North", "South", "Upper", "Lower", "Quick", "Slow"];
const targetOf = fc.oneof(
  fc.constantFrom(...groups).map((id): Target => ({ kind: "group", id })),
  fc.constantFrom("D1", "D2").map((id): Target => ({ kind: "section", id })),
  fc.constantFrom(...students).map((id): Target => ({ kind: "person", id })),
  fc.constantFrom("North or Upper", "Nobody").map((id): Target => ({ kind: "set", id })),
);
const audienceOf: fc.Arbitrary<Audience> = fc.record<Audience>({
  to: fc.oneof(
    { weight: 3, arbitrary: fc.constant<"everyone">("everyone") },
    { weight: 3, arbitrary: fc.array(targetOf, { maxLength: 3 }) },
  ),
  minus: fc.oneof(
    { weight: 4, arbitrary: fc.constant<Target[]>([]) },
    { weight: 1, arbitrary: fc.array(targetOf, { maxLength: 2 }) },
  ),
});
/** Moments at t exactly, a minute to either side, and far away. */
const wall = fc.constantFrom(-500 * hour, -60_000, 0, 60_000, 500 * hour).map((offset) => wallOf(t0 + offset, zone));
/** Meetings are an hour apart from t on the weekday of t, so that some fall exactly at it. */
const anchor: fc.Arbitrary<Moment> = fc.record({
  meeting: fc.oneof(fc.constantFrom(1, 8, 9, 10, 40), fc.constant({ lastBefore: "2026-11-26" })),
  edge: fc.constantFrom("start" as const, "end" as const),
  days: fc.constantFrom(-7, 0, 1),
  time: fc.constantFrom(null, "10:00"),
  fallback: fc.oneof(fc.constant(null), wall),
});
const itemIds = Array.from({ length: 9 }, (_, index) => `item ${index}`);
const leaf: fc.Arbitrary<Condition> = fc.oneof(
  fc.record({ kind: fc.constantFrom("from" as const, "before" as const), moment: fc.oneof(wall, anchor) }),
  fc.record({ kind: fc.constant("in" as const), targets: fc.array(targetOf, { maxLength: 2 }) }),
  fc.record({
    kind: fc.constantFrom("atLeast" as const, "lessThan" as const),
    itemId: fc.constantFrom(...itemIds),
    percent: fc.constantFrom(0, 50, 60, 100),
  }),
  fc.record({
    kind: fc.constantFrom("handedIn" as const, "opened" as const, "read" as const),
    itemId: fc.constantFrom(...itemIds),
  }),
);
export const conditionOf: fc.Arbitrary<Condition> = fc.letrec<{ node: Condition }>((tie) => ({
  node: fc.oneof(
    { weight: 3, arbitrary: leaf },
    {
      weight: 1,
      arbitrary: fc.record({
        kind: fc.constantFrom("allOf" as const, "anyOf" as const, "noneOf" as const),
        of: fc.array(tie("node"), { maxLength: 3 }),
      }),
    },
  ),
})).node;
const maybe = <Value>(arbitrary: fc.Arbitrary<Value>, weight = 2) =>
  fc.oneof({ weight, arbitrary: fc.constant(null) }, { weight: 1, arbitrary });
const value = fc.oneof(
  { weight: 5, arbitrary: wall },
  { weight: 2, arbitrary: anchor },
  { weight: 1, arbitrary: fc.constant("none" as const) },
);
const datesOf: fc.Arbitrary<DateFields> = fc.record({ opens: value, due: value, closes: value }, { requiredKeys: [] });

const itemOf = fc.record({
  parent: fc.nat(9),
  kind: fc.constantFrom<ItemKind>("folder", "folder", "page", "file", "discussion", "assignment", "event"),
  published: fc.boolean().chain((one) => fc.boolean().map((two) => one || two)),
  seals: fc.boolean(),
  audience: audienceOf,
  condition: maybe(conditionOf),
  variants: fc.array(fc.record({ targets: fc.array(targetOf, { maxLength: 2 }), condition: maybe(conditionOf) }), {
    maxLength: 2,
  }),
  readableAfterClose: fc.boolean(),
  points: fc.constantFrom(null, 10, 50),
  dates: fc.oneof({ weight: 2, arbitrary: fc.constant({}) }, { weight: 1, arbitrary: datesOf }),
});

/** Long before, about the moment itself, and late. */
const happened = fc.constantFrom(-600 * hour, -hour, 0, hour, 600 * hour).map((offset) => t0 + offset);

export const randomCourse: fc.Arbitrary<{ plan: Plan; progress: Progress; students: string[] }> = fc
  .record({
    items: fc.array(itemOf, { minLength: 1, maxLength: itemIds.length }),
    places: fc.array(
      fc.record({
        group: fc.constantFrom(...groups),
        student: fc.constantFrom(...students),
        since: happened,
        until: maybe(happened),
      }),
      { maxLength: 14 },
    ),
    classList: fc.constantFrom<Plan["course"]["classList"]>(
      { to: "everyone" },
      { to: "nobody" },
      { to: "layer", layerId: "Banks" },
      { to: "layer", layerId: "Pace" },
    ),
    splits: fc.array(
      fc.record({
        layerId: fc.constantFrom("Banks", "Pace"),
        between: fc.constantFrom<Between>("sealed", "readable", "shared"),
      }),
      { maxLength: 9 },
    ),
    names: fc.boolean(),
    pages: fc.array(
      fc.record({
        group: fc.constantFrom("North", "South", "Quick", "Slow"),
        has: fc.subarray<PagePart>(["members", "items"]),
        may: fc.subarray<MemberPermission>(["rename", "threads"]),
      }),
      { maxLength: 2 },
    ),
    meets: fc.record({
      layer: fc.constantFrom(null, "Banks"),
      section: fc.boolean(),
      group: fc.boolean(),
      /** Of the group's own meetings one may be lost, moved, or added. */
      lost: fc.boolean(),
      moved: fc.boolean(),
      added: fc.boolean(),
    }),
    /** A label that names a private group, where students may read it. */
    told: fc.boolean(),
    policy: fc.constantFrom("most generous" as const, "layer order" as const),
    sections: fc.array(fc.subarray(["D1", "D2"]), {
      minLength: students.length,
      maxLength: students.length,
    }),
    entrances: fc.array(fc.record({ item: fc.nat(8), folder: fc.nat(9) }), { maxLength: 4 }),
    overrides: fc.array(fc.record({ item: fc.nat(8), target: targetOf, dates: datesOf }), {
      maxLength: 5,
    }),
    allowances: fc.array(fc.record({ target: targetOf, extraDays: fc.constantFrom(0, 1, 30) }), {
      maxLength: 2,
    }),
    indexes: fc.record({
      discussions: fc.boolean(),
      files: fc.boolean(),
      calendar: fc.boolean(),
      work: fc.boolean(),
    }),
    marks: fc.array(
      fc.record({
        student: fc.constantFrom(...students),
        item: fc.constantFrom(...itemIds),
        points: fc.constantFrom(0, 5, 6, 10),
        excused: fc.boolean(),
        at: happened,
      }),
      { maxLength: 8 },
    ),
    handIns: fc.array(
      fc.record({
        student: fc.constantFrom(...students),
        item: fc.constantFrom(...itemIds),
        at: happened,
      }),
      { maxLength: 6 },
    ),
    openings: fc.array(
      fc.record({
        student: fc.constantFrom(...students),
        item: fc.constantFrom(...itemIds),
        at: happened,
        readAt: maybe(happened),
      }),
      { maxLength: 6 },
    ),
  })
  .map((drawn) => {
    const plan = coursePlan();
    plan.course.indexes = drawn.indexes;
    for (const code of ["D1", "D2"]) addSection(plan, code);
    addLayer(plan, "Banks", ["North", "South"]);
    addLayer(plan, "Reaches", ["Upper", "Lower"], { rule: "any number", private: true });
    const meeting = { weekday: 3, start: "10:00", end: "11:00", place: "" };
    const at = { weekday: 3, start: "09:00", end: "10:00", place: "" };
    plan.course.meetingLayerId = drawn.meets.layer;
    if (drawn.meets.section)
      plan.sections.D1 = { ...(plan.sections.D1 as Plan["sections"][string]), pattern: [meeting] };
    if (drawn.meets.group)
      plan.groups.North = {
        ...(plan.groups.North as Plan["groups"][string]),
        pattern: [at],
        noClassDays: drawn.meets.lost ? ["2026-10-14"] : [],
        moved: drawn.meets.moved ? [{ day: "2026-11-18", start: "09:00", to: "2026-11-19T11:00" }] : [],
        added: drawn.meets.added ? [{ start: "2026-11-20T15:00", end: "16:00", place: "" }] : [],
      };
    if (drawn.told) plan.groups.South = { ...(plan.groups.South as Plan["groups"][string]), label: "Upper South" };
    plan.course.datePolicy = drawn.policy;
    addLayer(plan, "Pace", ["Quick", "Slow"], {
      rule: "at most one",
      selfPlacement: drawn.names ? { opens: null, closes: null, by: "choice", help: "", showNames: true } : null,
    });
    for (const { group, has, may } of drawn.pages)
      plan.groups[group] = { ...(plan.groups[group] as Plan["groups"][string]), page: { has, may } };
    plan.course.classList = drawn.classList;
    plan.sets["North or Upper"] = { id: "North or Upper", name: "North or Upper", groupIds: ["North", "Upper"] };
    plan.sets.Nobody = { id: "Nobody", name: "Nobody", groupIds: [] };
    for (const [index, id] of students.entries()) addStudent(plan, id, drawn.sections[index]);
    drawn.places.forEach((place, index) => {
      const id = `place ${index}`;
      plan.placements[id] = {
        id,
        groupId: place.group,
        personId: place.student,
        since: place.since,
        until: place.until === null ? null : Math.max(place.since, place.until),
        held: false,
      };
    });
    drawn.items.forEach(({ parent, ...fields }, index) => {
      // A parent is an earlier folder, so that the home tree has no circle.
      const folder = plan.items[`item ${parent}`];
      addItem(plan, `item ${index}`, {
        ...fields,
        parentId: folder?.kind === "folder" && parent < index ? folder.id : null,
        split: fields.kind === "discussion" || fields.kind === "assignment" ? (drawn.splits[index] ?? null) : null,
      });
    });
    const there = (index: number) => (plan.items[`item ${index}`] ? `item ${index}` : "item 0");
    drawn.entrances.forEach(({ item, folder }, index) => {
      const id = `entrance ${index}`;
      const into = plan.items[`item ${folder}`];
      plan.entrances[id] = {
        id,
        itemId: there(item),
        folderId: into?.kind === "folder" ? into.id : null,
        position: 100,
      };
    });
    for (const { item, target, dates } of drawn.overrides) {
      // One override a target and item, as the command keeps it.
      const id = `override ${there(item)} ${target.kind} ${target.id}`;
      plan.overrides[id] = { id, itemId: there(item), target, dates };
    }
    drawn.allowances.forEach(({ target, extraDays }, index) => {
      const id = `allowance ${index}`;
      plan.allowances[id] = { id, target, minutesFactor: null, extraDays, extraAttempts: null };
    });
    const unique = <Row extends { student: string; item: string }>(rows: Row[]) => [
      ...new Map(rows.map((row) => [row.student + row.item, row])).values(),
    ];
    const progress: Progress = {
      marks: unique(drawn.marks).map(({ student, item, points, excused, at }) => ({
        personId: student,
        itemId: item,
        points,
        excused,
        at,
      })),
      handIns: drawn.handIns.map(({ student, item, at }, index) => ({
        id: String(index),
        personId: student,
        itemId: item,
        at,
      })),
      openings: unique(drawn.openings).map(({ student, item, at, readAt }) => ({
        personId: student,
        itemId: item,
        at,
        // What is marked as read was opened before.
        readAt: readAt === null ? null : Math.max(at, readAt),
      })),
      groupMarks: [],
    };
    return { plan, progress, students };
  });
