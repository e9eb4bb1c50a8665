/**
 * What a draft does to people: who gains and who loses which items, whose dates move, who changes group, and
 * leaks that come or go; students with equal effect are one line. Source: semantics.md section 8.
 */
import { difference, type RowChange, sameList } from "../plan/difference.ts";
import { holdsAt, outlineOrder } from "../plan/lookup.ts";
import { type Progress, progressByItem } from "../plan/progress.ts";
import type { DateField, Item, Placement, Plan } from "../plan/types.ts";
import { andNot, type Bits, eachBit, emptyBits, hasBit, isEmpty, listBits, setBit } from "../reach/bits.ts";
import { type Reach, reachAt } from "../reach/reach.ts";
import { reachAfter } from "../reach/update.ts";
import { dateFields, differingTargets, resolveDates, type Value } from "../timing/resolving/resolve.ts";
import { type DateTable, dateTable } from "../timing/resolving/table.ts";
import { instantOf } from "../timing/wall.ts";

export interface Effect {
  /**
   * `gains later`: not at the moment of publication, but before the term ends. `work`: what they handed in, or were
   * marked for, goes out of their sight with the item.
   */
  kind: "gains" | "gains later" | "loses" | "work" | "date" | "joins" | "leaves" | "leak" | "leak ends";
  itemId: string | null;
  groupId: string | null;
  field: DateField | null;
  from: string | number | null;
  to: string | number | null;
}
export interface EffectLine {
  effects: Effect[];
  personIds: string[];
}
export interface Review {
  /** Students with the same effects together: warnings first, worst first, then most people first. */
  lines: EffectLine[];
  touched: number;
  /** Warnings first: how many students each concerns. */
  leaksAdded: number;
  leaksRemoved: number;
  earlier: number;
  losing: number;
  /** Of those, who loses something that they handed in or were marked for. */
  losingWork: number;
}

/** How much an effect warns of, the worst first; what warns of nothing comes last. */
export function weightOf({ kind, field, from, to }: Effect): number {
  if (kind === "work") return 0;
  if (kind === "date") return isTighter(field as DateField, from, to) ? 1 : 9;
  return kind === "leak" ? 2 : kind === "loses" ? 3 : 9;
}

const plain: Effect = {
  kind: "gains",
  itemId: null,
  groupId: null,
  field: null,
  from: null,
  to: null,
};

/** Whether a moved date is earlier: opens later is not, due earlier is. Less of a limit is a warning too. */
export function isTighter(field: DateField, from: Effect["from"], to: Effect["to"]): boolean {
  if (field === "accessWord" || field === "opens" || to === null || to === "none") return false;
  if (from === null || from === "none") return true;
  return field === "attempts" || field === "minutes" ? Number(to) < Number(from) : String(to) < String(from);
}

/** Review of a draft at t. Reach is asked at t and at the end of the term, on both plans. */
export function review(before: Plan, after: Plan, progress: Progress, t: number): Review {
  const changes = difference(before, after);
  // Each effect once, as a number: thousands of students share a few hundred effects.
  const known: Effect[] = [];
  const numbers = new Map<string, number>();
  const effects = new Map<string, number[]>();
  const add: Add = (effect, personIds) => {
    if (personIds.length === 0) return;
    const key = JSON.stringify(effect);
    const number = numbers.get(key) ?? known.push(effect) - 1;
    numbers.set(key, number);
    for (const personId of personIds) {
      const list = effects.get(personId);
      if (list) list.push(number);
      else effects.set(personId, [number]);
    }
  };
  if (changes.length > 0) {
    const end = Math.max(t, instantOf(`${after.course.termEnd}T23:59`, after.course.timeZone));
    const [old, oldEnd] = [reachAt(before, progress, t), reachAt(before, progress, end)];
    // What the draft does not touch is carried over: it has to be known before.
    for (const item of Object.values(before.items)) {
      old.sees(item);
      old.leak(item);
      oldEnd.sees(item);
    }
    const [now, nowEnd] = [reachAfter(old, after, changes), reachAfter(oldEnd, after, changes)];
    compareGroups(changes, t, add);
    compareReach([old, now], [oldEnd, nowEnd], add);
    compareDates(old, now, changes, add);
  }
  const lines = new Map<string, EffectLine>();
  for (const [personId, list] of effects) {
    const key = list.join();
    const line = lines.get(key);
    if (line) line.personIds.push(personId);
    else lines.set(key, { effects: list.map((number) => known[number] as Effect), personIds: [personId] });
  }
  const having = (test: (effect: Effect) => boolean) => {
    const wanted = known.map(test);
    return [...effects.values()].filter((list) => list.some((number) => wanted[number])).length;
  };
  const weights = known.map(weightOf);
  const worst = new Map(
    [...lines].map(([key, line]) => [line, Math.min(...key.split(",").map((at) => weights[Number(at)] as number))]),
  );
  return {
    lines: [...lines.values()].sort(
      (a, b) => (worst.get(a) as number) - (worst.get(b) as number) || b.personIds.length - a.personIds.length,
    ),
    touched: effects.size,
    leaksAdded: having(({ kind }) => kind === "leak"),
    leaksRemoved: having(({ kind }) => kind === "leak ends"),
    earlier: having(({ kind, field, from, to }) => kind === "date" && isTighter(field as DateField, from, to)),
    losing: having(({ kind }) => kind === "loses"),
    losingWork: having(({ kind }) => kind === "work"),
  };
}

type Add = (effect: Effect, personIds: string[]) => void;

/** Only placements that changed can change who is where; one that ends as another begins in its group does not. */
function compareGroups(changes: RowChange[], t: number, add: Add): void {
  const pairs = { before: new Map<string, Placement>(), after: new Map<string, Placement>() };
  for (const change of changes) {
    if (change.table !== "placements") continue;
    for (const side of ["before", "after"] as const) {
      const placement = change[side] as Placement | null;
      if (placement && holdsAt(placement, t)) pairs[side].set(`${placement.personId}/${placement.groupId}`, placement);
    }
  }
  for (const [key, { personId, groupId }] of pairs.before) {
    if (!pairs.after.has(key)) add({ ...plain, kind: "leaves", groupId }, [personId]);
  }
  for (const [key, { personId, groupId }] of pairs.after) {
    if (!pairs.before.has(key)) add({ ...plain, kind: "joins", groupId }, [personId]);
  }
}

function compareReach([old, now]: [Reach, Reach], [oldEnd, nowEnd]: [Reach, Reach], add: Add): void {
  const items = new Map<string, Item>();
  for (const { plan } of [old, now]) for (const { item } of outlineOrder(plan)) items.set(item.id, item);
  // The answers of both plans as bits of one list of students, so that what stays the same costs a word each.
  const students = [...new Set([...old.students, ...now.students])];
  const nobody = emptyBits(students.length);
  const aligned = new Map([old, now, oldEnd, nowEnd].map((reach) => [reach, sameList(reach.students, students)]));
  const common = (reach: Reach, item: Item, ask: (item: Item) => Bits): Bits => {
    const current = reach.plan.items[item.id];
    if (!current) return nobody;
    const bits = ask(current);
    if (aligned.get(reach)) return bits;
    const moved = emptyBits(students.length);
    students.forEach((personId, place) => {
      const index = reach.indexOf.get(personId);
      if (index !== undefined && hasBit(bits, index)) setBit(moved, place);
    });
    return moved;
  };
  const each = (bits: Bits, effect: Effect) =>
    add(
      effect,
      listBits(bits).map((index) => students[index] as string),
    );
  for (const item of items.values()) {
    const [saw, sees] = [common(old, item, old.sees), common(now, item, now.sees)];
    const [sawEnd, seesEnd] = [common(oldEnd, item, oldEnd.sees), common(nowEnd, item, nowEnd.sees)];
    const [leaked, leaks] = [common(old, item, old.leak), common(now, item, now.leak)];
    if (saw === sees && sawEnd === seesEnd && leaked === leaks) continue;
    const effect = { ...plain, itemId: item.id };
    each(andNot(sees, saw), { ...effect, kind: "gains" });
    const lost = andNot(saw, sees);
    each(lost, { ...effect, kind: "loses" });
    const did = isEmpty(lost) ? new Set<string>() : workers(old, item.id);
    if (did.size > 0)
      add(
        { ...effect, kind: "work" },
        listBits(lost).flatMap((index) => (did.has(students[index] as string) ? [students[index] as string] : [])),
      );
    const later = andNot(seesEnd, sawEnd);
    each(andNot(andNot(later, sees), saw), { ...effect, kind: "gains later" });
    each(andNot(leaks, leaked), { ...effect, kind: "leak" });
    each(andNot(leaked, leaks), { ...effect, kind: "leak ends" });
  }
}

/** Who handed something in for an item, or was marked for it. */
function workers({ progress }: Reach, itemId: string): Set<string> {
  const { handIns, marks } = progressByItem(progress);
  return new Set([...(handIns.get(itemId) ?? []), ...(marks.get(itemId) ?? [])].map(({ personId }) => personId));
}

/** Past so many people it is quicker to ask for everybody's dates at once. */
const manyMoved = 200;
/** Tables whose rows change the dates of the people they name, and of nobody else. */
const personal = new Set(["placements", "enrolments", "people"]);

function compareDates(old: Reach, now: Reach, changes: RowChange[], add: Add): void {
  // The policy, the allowances and the order of layers and groups may touch anyone; a placement or enrolment only
  // its person. A new group, or a new name, moves no date.
  const anyone = changes.some(
    ({ table, before, after }) =>
      table === "course" ||
      table === "allowances" ||
      table === "sets" ||
      table === "sections" ||
      ((table === "layers" || table === "groups") &&
        before !== null &&
        (before.position !== after?.position || before.pattern !== after?.pattern)),
  );
  const touched = new Set(
    changes
      .filter(({ table }) => personal.has(table))
      .map(({ after, before }) => String((after ?? before)?.personId ?? (after ?? before)?.id)),
  );
  const edited = new Set(
    changes.flatMap(({ table, id, before, after }) =>
      table === "items" ? [id] : table === "overrides" ? [String((after ?? before)?.itemId)] : [],
    ),
  );
  const [before, after] = [dateTable(old, undefined, true), dateTable(now, undefined, true)];
  for (const { item } of outlineOrder(now.plan)) {
    const was = old.plan.items[item.id];
    if (!was || !dateFields.some((field) => isDated(old.plan, was, field) || isDated(now.plan, item, field))) continue;
    if (anyone || touched.size > manyMoved || edited.has(item.id)) {
      compareColumns(before, after, was, item, add);
      continue;
    }
    for (const personId of touched) {
      const [then, index] = [old.indexOf.get(personId), now.indexOf.get(personId)];
      if (then === undefined || index === undefined || !hasBit(now.meant(item), index)) continue;
      const from = resolveDates(old.plan, was, old.memberships(then));
      const to = resolveDates(now.plan, item, now.memberships(index));
      for (const field of dateFields) {
        if (from[field].value === to[field].value) continue;
        add({ ...plain, kind: "date", itemId: item.id, field, from: from[field].value, to: to[field].value }, [
          personId,
        ]);
      }
    }
  }
}

/** Every field of an item for everyone at once: who had one value and has another, each pair of values together. */
function compareColumns(before: DateTable, after: DateTable, was: Item, item: Item, add: Add): void {
  const [old, now] = [before.reach, after.reach];
  const sameStudents = old.roster === now.roster;
  for (const field of dateFields) {
    const [one, other] = [before.common(was, field), after.common(item, field)];
    // Words are numbered by each table for itself.
    if (one !== undefined && other !== undefined && before.valueOf(field, one) === after.valueOf(field, other))
      continue;
    const [from, to] = [before.column(was, field), after.column(item, field)];
    const moved = new Map<string, { from: Value; to: Value; personIds: string[] }>();
    eachBit(now.meant(item), (index) => {
      const personId = now.students[index] as string;
      const place = sameStudents ? index : old.indexOf.get(personId);
      if (place === undefined) return;
      const [a, b] = [from[place] as number, to[index] as number];
      if (field !== "accessWord" && Object.is(a, b)) return;
      const key = `${a}/${b}`;
      const known = moved.get(key);
      if (known) known.personIds.push(personId);
      else moved.set(key, { from: before.valueOf(field, a), to: after.valueOf(field, b), personIds: [personId] });
    });
    for (const pair of moved.values())
      if (pair.from !== pair.to)
        add({ ...plain, kind: "date", itemId: item.id, field, from: pair.from, to: pair.to }, pair.personIds);
  }
}

const isDated = (plan: Plan, item: Item, field: DateField): boolean =>
  item.dates[field] !== undefined || differingTargets(plan, item, field).length > 0;
