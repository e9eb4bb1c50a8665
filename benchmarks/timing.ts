/**
 * Every date and limit of every student, beside writing as many numbers and beside a date library asked cell by cell;
 * and one changed override beside all of it. Equal answers, checked.
 */
import { parseDateTime, toZoned } from "@internationalized/date";
import type { Override, Plan } from "../src/core/plan/types.ts";
import { type Reach, reachAt } from "../src/core/reach/reach.ts";
import { reachAfter } from "../src/core/reach/update.ts";
import { isAnchor } from "../src/core/timing/anchors.ts";
import { meetingsOf } from "../src/core/timing/meetings.ts";
import {
  dateFields,
  type GivenValue,
  isMomentField,
  type Memberships,
  memberOf,
} from "../src/core/timing/resolving/resolve.ts";
import { type DateTable, dateTable } from "../src/core/timing/resolving/table.ts";
import { fastest, keep, type Row, sized } from "./measure.ts";
import { largeCourse, now, unseen } from "./reach.ts";

/** The large course with 5 % of its cells overridden, every fourth due a class meeting, allowances for a tenth. */
export function timedCourse(): Plan {
  const { plan } = largeCourse(sized(5000, 200));
  const next: Plan = { ...plan, items: { ...plan.items }, overrides: {}, allowances: {} };
  const sections = Object.keys(plan.sections);
  const people = Object.keys(plan.people);
  const groups = Object.values(plan.groups);
  Object.values(plan.items).forEach((item, at) => {
    const meeting = {
      meeting: 1 + (at % 12),
      edge: "start",
      days: at % 3,
      time: "23:59",
      fallback: "2026-12-01T17:00",
    } as const;
    const day = String(1 + (at % 28)).padStart(2, "0");
    next.items[item.id] = {
      ...item,
      dates: {
        opens: `2026-10-${day}T09:00`,
        due: at % 4 === 0 ? meeting : `2026-11-${day}T17:00`,
        closes: `2026-12-${day}T17:00`,
        attempts: 1 + (at % 3),
        minutes: 30 + (at % 60),
        accessWord: `word ${at}`,
      },
    };
    const own = {
      opens: "2026-10-02T08:00",
      due: at % 4 === 0 ? { ...meeting, meeting: meeting.meeting + 1 } : `2026-11-${day}T23:00`,
      closes: "none",
      attempts: 5,
      minutes: 90,
      accessWord: "another",
    } as const;
    // Two sections of forty are 5 % of the students.
    for (const step of [0, 1]) {
      const id = `${at}/${step}`;
      const target = { kind: "section" as const, id: sections[(at * 2 + step) % sections.length] as string };
      next.overrides[id] = { id, itemId: item.id, target, dates: own };
    }
    const person = people[(at * 13) % people.length] as string;
    next.overrides[`${at}/p`] = { id: `${at}/p`, itemId: item.id, target: { kind: "person", id: person }, dates: own };
  });
  for (let at = 0; at < 12; at++) {
    const group = groups[(at * 17) % groups.length];
    if (group)
      next.allowances[at] = {
        id: String(at),
        target: { kind: "group", id: group.id },
        minutesFactor: at % 2 === 0 ? "1.25" : "1.5",
        extraDays: 1 + (at % 5),
        extraAttempts: 1,
      };
  }
  return next;
}

export function everything(table: DateTable): number {
  let sum = 0;
  for (const item of Object.values(table.reach.plan.items))
    for (const field of dateFields) sum += table.column(item, field)[7] as number;
  return sum;
}

/** One cell as one would write it with the date library alone: the rules, and every date read, moved and zoned anew. */
function cellByLibrary(
  plan: Plan,
  itemId: string,
  memberships: Memberships,
  field: (typeof dateFields)[number],
): number {
  const item = plan.items[itemId];
  const { timeZone } = plan.course;
  const wallOf = (given: GivenValue): string | null => {
    if (!isAnchor(given)) return String(given);
    const meeting = memberships.calendar.meetings.find(({ number }) => number === given.meeting);
    if (!meeting) return given.fallback;
    const start = toZoned(parseDateTime(`${meeting.day}T${meeting.slot?.start}`), timeZone);
    return `${start.add({ days: given.days }).toString().slice(0, 10)}T${given.time}`;
  };
  const numberOf = (given: GivenValue, days = 0): number => {
    if (given === "none") return field === "opens" ? Number.NEGATIVE_INFINITY : Number.POSITIVE_INFINITY;
    if (!isMomentField(field)) return Number(given);
    const wall = wallOf(given);
    return wall === null ? Number.NaN : toZoned(parseDateTime(wall).add({ days }), timeZone).toDate().getTime();
  };
  const mine = overridesIn(plan, itemId).filter(
    ({ target, dates }) => dates[field] !== undefined && memberOf(memberships, target),
  );
  const own = mine.find(({ target }) => target.kind === "person");
  if (own) return numberOf(own.dates[field] as GivenValue);
  const better = (a: Override, b: Override) => {
    const [x, y] = [numberOf(a.dates[field] as GivenValue), numberOf(b.dates[field] as GivenValue)];
    return field === "opens" ? x - y : y - x;
  };
  const given = ([...mine].sort(better)[0]?.dates[field] ?? item?.dates[field]) as GivenValue | undefined;
  if (given === undefined) return Number.NaN;
  const reaching = Object.values(plan.allowances).filter(({ target }) => memberOf(memberships, target));
  // To an event allowances give nothing.
  const allowed = item?.kind === "event" ? [] : reaching;
  if (given === "none" || allowed.length === 0 || field === "opens") return numberOf(given);
  const most = (of: (one: (typeof allowed)[number]) => number) => Math.max(...allowed.map(of));
  if (field === "attempts") return numberOf(given) + most(({ extraAttempts }) => extraAttempts ?? 0);
  if (field === "minutes")
    return Math.ceil((numberOf(given) * Math.round(most((one) => Number(one.minutesFactor)) * 100)) / 100);
  return numberOf(
    given,
    most(({ extraDays }) => extraDays ?? 0),
  );
}

const byItem = new WeakMap<Plan["overrides"], Map<string, Override[]>>();
function overridesIn(plan: Plan, itemId: string): Override[] {
  let found = byItem.get(plan.overrides);
  if (!found) {
    found = new Map();
    for (const one of Object.values(plan.overrides)) found.set(one.itemId, [...(found.get(one.itemId) ?? []), one]);
    byItem.set(plan.overrides, found);
  }
  return found.get(itemId) ?? [];
}

/** Some students, every item, every field but the word: the same numbers, or an error. */
function byLibrary(reach: Reach, indexes: number[], check: DateTable | null): number {
  let sum = 0;
  for (const item of Object.values(reach.plan.items))
    for (const field of dateFields) {
      if (field === "accessWord") continue;
      for (const index of indexes) {
        const number = cellByLibrary(reach.plan, item.id, reach.memberships(index), field);
        if (check && !Object.is(number, check.column(item, field)[index]))
          throw new Error(`${item.title}, ${field}: ${number}, not ${check.column(item, field)[index]}`);
        sum += number;
      }
    }
  return sum;
}

export async function timingRows(): Promise<Row[]> {
  const plan = timedCourse();
  for (const section of Object.values(plan.sections)) meetingsOf(plan.course, section);
  const [students, fields] = [sized(5000, 200), dateFields.length];
  const count = Object.keys(plan.items).length * fields;
  // Who is in what is read before: a course has it as soon as it is open.
  const ours = unseen(plan, (one) => {
    const { enrolments, placements, people } = plan;
    return keep(everything(dateTable(reachAt({ ...one, enrolments, placements, people }, undefined, now))));
  });
  const best = await fastest({
    ours,
    floor: () => {
      // Held to the end, as ours are: writing alone would be to the same memory over and over.
      const columns: Float64Array[] = [];
      for (let column = 0; column < count; column++) {
        const numbers = new Float64Array(students);
        for (let at = 0; at < students; at++) numbers[at] = at;
        columns.push(numbers);
      }
      keep(columns.reduce((sum, numbers) => sum + (numbers[7] as number), 0));
    },
  });
  const reach = reachAt(plan, undefined, now);
  const table = dateTable(reach);
  everything(table);
  const some = Array.from({ length: 10 }, (_, at) => at * Math.floor((students - 1) / 10));
  byLibrary(reach, some, table);
  const library = await fastest({ some: () => keep(byLibrary(reach, some, null)) }, 3);
  // The library's cells are five fields of ten students; ours are six of five thousand.
  const share = (some.length * 5) / (students * fields);

  const overrides = Object.values(plan.overrides);
  const changed = overrides[overrides.length >> 1] as Override;
  const after: Override = { ...changed, dates: { ...changed.dates, due: "2026-11-30T12:00" } };
  const next = Array.from({ length: 15 }, () => ({ ...plan, overrides: { ...plan.overrides, [after.id]: after } }));
  const change = [{ table: "overrides" as const, id: after.id, before: changed as never, after: after as never }];
  const carried = await fastest(
    { ours: () => keep(everything(dateTable(reachAfter(reach, next.pop() as Plan, change), table))) },
    14,
  );
  const last = next[0] as Plan;
  const [one, other] = [
    dateTable(reachAfter(reach, last, change), table),
    dateTable(reachAt({ ...last, placements: { ...last.placements } }, undefined, now)),
  ];
  for (const item of Object.values(last.items))
    for (const field of dateFields) {
      const [a, b] = [one.column(item, field), other.column(item, field)];
      for (let index = 0; index < students; index++)
        if (one.valueOf(field, a[index] as number) !== other.valueOf(field, b[index] as number))
          throw new Error(`after one override ${item.title} differs`);
    }
  return [
    {
      name: "Dates: every field of every student and item",
      ours: best.ours,
      against: [
        { name: "writing as many numbers", milliseconds: best.floor, kind: "floor" },
        { name: "a date library, cell by cell (scaled)", milliseconds: library.some / share, kind: "peer" },
      ],
      note: "5,000 students, 400 items, 5 % overrides, allowances, anchors; target at most 5, at least 200",
    },
    {
      name: "Dates: after one changed override",
      ours: carried.ours,
      against: [{ name: "all of them", milliseconds: best.ours, kind: "floor" }],
      note: "the same course; target at most 0.02",
    },
  ];
}
