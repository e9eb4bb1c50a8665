/** Full evaluation against ANDing as many words, and one change against full evaluation: equal answers, checked. */
import { makeLargeCourse } from "../demo/large.ts";
import type { RowChange } from "../src/core/plan/difference.ts";
import { lookup, studentsAt } from "../src/core/plan/lookup.ts";
import type { Progress } from "../src/core/plan/progress.ts";
import type { Item, Placement, Plan } from "../src/core/plan/types.ts";
import { type Reach, reachAt } from "../src/core/reach/reach.ts";
import { reachAfter } from "../src/core/reach/update.ts";
import { countBits, sameBits } from "../src/core/sets/bits.ts";
import { fastest, keep, type Row, sized } from "./measure.ts";

export const now = Date.UTC(2026, 10, 25, 10);
/** The same course every time; with another namespace the same one with ids of its own. */
export const largeCourse = (students: number, namespace = "6f0e3a52-4a53-4c5c-9a52-0f7f3a1d2b4c") =>
  makeLargeCourse({ students, items: 400, layers: 20, sections: 40 }, now, namespace);

/** The same plan with every table new, so that nothing kept with one helps; only the people's order of names stays. */
export const fresh = (plan: Plan): Plan => ({
  ...plan,
  enrolments: { ...plan.enrolments },
  placements: { ...plan.placements },
  items: { ...plan.items },
  entrances: { ...plan.entrances },
  overrides: { ...plan.overrides },
  allowances: { ...plan.allowances },
});

const rounds = 15;
/** A task that meets a plan it has never seen at every run; the copies are made before the clock starts. */
export function unseen(plan: Plan, task: (plan: Plan) => unknown): () => unknown {
  const copies = Array.from({ length: rounds }, () => fresh(plan));
  return () => task(copies.pop() ?? fresh(plan));
}

/** Asks for everything: who sees and who is meant, each item. */
export function evaluate(reach: Reach): number {
  let sum = 0;
  for (const item of Object.values(reach.plan.items)) sum += countBits(reach.sees(item)) + countBits(reach.meant(item));
  return sum;
}

/** The least work there could be: the inputs read once, and one AND for each question of an item. */
export function floorOf(plan: Plan, progress: Progress): () => void {
  const items = Object.values(plan.items);
  const words = (studentsAt(plan, now).length + 31) >>> 5;
  const [a, b] = [new Uint32Array(words).fill(0xffff00ff), new Uint32Array(words).fill(0x0ff0ffff)];
  const result = new Uint32Array(words);
  return () => {
    let read = 0;
    const students = new Map<string, number>();
    for (const { personId, since } of Object.values(plan.enrolments))
      if (since <= now) students.set(personId, students.size);
    for (const { personId, since } of Object.values(plan.placements))
      if (since <= now) read += students.get(personId) ?? 0;
    for (const { personId, points } of progress.marks) read += (points ?? 0) + (students.get(personId) ?? 0);
    // Audience, condition, dates, released, unsealed, arrives (two), sees (two) and meant.
    for (let item = 0; item < items.length * 10; item++) {
      for (let word = 0; word < words; word++) result[word] = (a[word] as number) & (b[word] as number);
      read += result[0] as number;
    }
    keep(read);
  };
}

interface Change {
  name: string;
  plan: Plan;
  changes: RowChange[];
}

/** One audience, one condition, one placement, each as a draft would change it. */
function changesOf(plan: Plan): Change[] {
  const items = Object.values(plan.items);
  const [group] = Object.values(plan.groups);
  const placement = Object.values(plan.placements)[77];
  const [page, asked] = [items.find(({ kind }) => kind === "page"), items.find(({ points }) => points !== null)];
  if (!group || !placement || !page || !asked) throw new Error("the large course has none");
  const item = (changed: Item): Pick<Change, "plan" | "changes"> => ({
    plan: { ...plan, items: { ...plan.items, [changed.id]: changed } },
    changes: [{ table: "items", id: changed.id, before: page as never, after: changed as never }],
  });
  const moved: Placement = { ...placement, groupId: group.id };
  return [
    { name: "audience", ...item({ ...page, audience: { to: [{ kind: "group", id: group.id }], minus: [] } }) },
    { name: "condition", ...item({ ...page, condition: { kind: "atLeast", itemId: asked.id, percent: 60 } }) },
    {
      name: "placement",
      plan: { ...plan, placements: { ...plan.placements, [moved.id]: moved } },
      changes: [{ table: "placements", id: moved.id, before: placement as never, after: moved as never }],
    },
  ];
}

export async function reachRows(): Promise<Row[]> {
  const { plan, progress } = largeCourse(sized(5000, 200));
  const full = unseen(plan, (one) => keep(evaluate(reachAt(one, { ...progress }, now))));
  const floor = floorOf(plan, progress);
  const best = await fastest({ full, floor }, rounds);
  const rows: Row[] = [
    {
      name: "Reach: compile and evaluate everything",
      ours: best.full,
      against: [{ name: "AND of as many words, inputs read", milliseconds: best.floor, kind: "floor" }],
      note: "5,000 students, 400 items, 20 layers; target at most 3",
    },
  ];
  const before = reachAt(plan, progress, now);
  evaluate(before);
  for (const change of changesOf(plan)) {
    // What the first question after a change finds ready: the plan's own lookups, which the draft keeps with it.
    lookup(change.plan).children.size;
    const after = reachAt(fresh(change.plan), { ...progress }, now);
    const carried = reachAfter(before, change.plan, change.changes);
    for (const item of Object.values(change.plan.items)) {
      if (!sameBits(carried.sees(item), after.sees(item)) || !sameBits(carried.meant(item), after.meant(item)))
        throw new Error(`after one ${change.name} ${item.title} differs`);
    }
    const changed = await fastest(
      {
        ours: () => {
          const reach = reachAfter(before, change.plan, change.changes);
          for (const item of Object.values(change.plan.items)) keep(reach.sees(item).length + reach.meant(item).length);
        },
        full: unseen(change.plan, (one) => {
          const reach = reachAt(one, { ...progress }, now);
          for (const item of Object.values(one.items)) keep(reach.sees(item).length + reach.meant(item).length);
        }),
      },
      rounds,
    );
    rows.push({
      name: `Reach: after one changed ${change.name}`,
      ours: changed.ours,
      against: [{ name: "full evaluation", milliseconds: changed.full, kind: "peer" }],
      note: "5,000 students, 400 items; target at most 5 %",
    });
  }
  return rows;
}
