/** Forming groups: the same total as a proved optimum on small courses, and near a bound on large ones. */
import highs from "highs";
import { lowerBound } from "../src/core/placement/forming/bound.ts";
import { totalOf } from "../src/core/placement/forming/cost.ts";
import { placeBlocks } from "../src/core/placement/forming/feasible.ts";
import { type Formed, type Forward, form, formNow, scoreOf } from "../src/core/placement/forming/form.ts";
import { GroupsSoFar } from "../src/core/placement/forming/groups-so-far.ts";
import { type FormingInput, numberIn } from "../src/core/placement/forming/input.ts";
import type { Instance } from "../src/core/placement/forming/instance.ts";
import { instancesOf } from "../src/core/placement/forming/instances.ts";
import { type Chance, chance } from "../src/core/placement/forming/random.ts";
import { start } from "../src/core/placement/forming/search.ts";
import { plainForming } from "../src/core/plan/forming.ts";
import { median, type Row, sized } from "./measure.ts";

/** A course to form: scores, years, earlier partners, and 5 % of the students in pairs that are kept apart. */
function course(students: number, size: number, seed: number): FormingInput {
  const random = chance(seed);
  const people = Array.from({ length: students }, (_, at) => `p${at}`);
  const shuffled = random.shuffle(people);
  const earlier = random.shuffle(people);
  const pairs = (list: string[]) => list.flatMap((a, at) => list.slice(at + 1).map((b): [string, string] => [a, b]));
  const groups = Array.from({ length: Math.ceil(students / size) }, (_, at) =>
    earlier.slice(at * size, (at + 1) * size),
  );
  return {
    forming: {
      ...plainForming,
      into: { by: "size", number: size },
      apart: Array.from({ length: Math.round(students * 0.025) }, (_, at) => [
        shuffled[2 * at] as string,
        shuffled[2 * at + 1] as string,
      ]),
      soft: [
        { kind: "spread number", column: "Score", weight: 2 },
        { kind: "spread category", column: "Year", weight: 1 },
        { kind: "new partners", layerIds: ["before"], weight: 1 },
      ],
    },
    scopes: [{ groupId: null, name: "", people, existing: [], held: [] }],
    values: {
      Score: Object.fromEntries(people.map((id) => [id, String(40 + random.below(60))])),
      Year: Object.fromEntries(people.map((id) => [id, String(1 + Math.floor(4 * random.next() * random.next()))])),
    },
    partners: [[], [], groups.flatMap(pairs)],
    led: {},
    leftOut: [],
  };
}

/** The same question as a mixed-integer programme in the LP format. */
function programme({ people, bins, low, high, numbers, categories, pairs, wishes }: Instance): string {
  const x = (person: number, bin: number) => `x${person}_${bin}`;
  const each = <Value>(count: number, make: (at: number) => Value) =>
    Array.from({ length: count }, (_, at) => make(at));
  const terms = (parts: [number, string][]) =>
    parts
      .filter(([factor]) => factor !== 0)
      .map(([factor, name]) => `${factor < 0 ? "-" : "+"} ${Math.abs(factor)} ${name}`)
      .join(" ");
  const cost: [number, string][] = [];
  const rows: string[] = [];
  for (let person = 0; person < people.length; person++)
    rows.push(`${terms(each(bins, (bin) => [1, x(person, bin)]))} = 1`);
  for (let bin = 0; bin < bins; bin++) {
    const size = terms(each(people.length, (person) => [1, x(person, bin)]));
    rows.push(`${size} >= ${low}`, `${size} <= ${high}`);
    for (const wish of wishes)
      if (wish.kind === "apart") rows.push(`${terms(wish.people.map((id) => [1, x(people.indexOf(id), bin)]))} <= 1`);
    const distance = (name: string, factor: number, parts: [number, string][]) => {
      cost.push([factor, name]);
      rows.push(`${terms([[1, name], ...parts.map(([f, v]): [number, string] => [-f, v])])} >= 0`);
      rows.push(`${terms([[1, name], ...parts])} >= 0`);
    };
    for (const [at, { distance: from, factor }] of numbers.entries())
      distance(
        `d${at}_${bin}`,
        factor,
        each(people.length, (person) => [from[person] as number, x(person, bin)]),
      );
    for (const [at, { of, share, factor }] of categories.entries())
      for (const [kind, part] of share.entries())
        distance(
          `c${at}_${kind}_${bin}`,
          factor,
          each(people.length, (person) => [Number(of[person] === kind) - part, x(person, bin)]),
        );
    for (const { mates, factor } of pairs)
      for (let a = 0; a < people.length; a++)
        for (const b of mates?.[a] ?? []) {
          if (b < a) continue;
          cost.push([factor, `z${a}_${b}_${bin}`]);
          rows.push(
            `${terms([
              [1, `z${a}_${b}_${bin}`],
              [-1, x(a, bin)],
              [-1, x(b, bin)],
            ])} >= -1`,
          );
        }
  }
  // Bins are alike: the first person may be said to be in the first, the second in one of the first two.
  const bounds = each(Math.min(bins, people.length), (person) => person).flatMap((person) =>
    each(bins, (bin) => bin)
      .filter((bin) => bin > person)
      .map((bin) => `${x(person, bin)} = 0`),
  );
  const binary = each(people.length, (person) => each(bins, (bin) => x(person, bin)).join(" ")).join("\n");
  return `Minimize\n obj: ${terms(cost)}\nSubject To\n${rows.map((row, at) => ` r${at}: ${row}`).join("\n")}\nBounds\n${bounds.map((bound) => ` ${bound}`).join("\n")}\nBinary\n${binary}\nEnd\n`;
}

async function small(): Promise<Row> {
  const solver = await highs();
  const times: { ours: number[]; theirs: number[] } = { ours: [], theirs: [] };
  let same = 0;
  const count = sized(30, 2);
  for (let at = 0; at < count; at++) {
    const students = 8 + Math.round((at * sized(16, 4)) / (count - 1));
    // Two to four groups, fewer of the larger: with more, a proof takes many minutes.
    const groups = students < 16 ? 2 + (at % 3) : students < 20 ? 2 + (at % 2) : 2;
    const input = course(students, Math.ceil(students / groups), 1000 + at);
    const [instance] = instancesOf(input) as [Instance];
    let began = performance.now();
    const made = formNow(input, 1) as Formed;
    times.ours.push(performance.now() - began);
    began = performance.now();
    const proved = solver.solve(programme(instance), { mip_rel_gap: 0, mip_abs_gap: 1e-9, time_limit: 600 });
    times.theirs.push(performance.now() - began);
    const best = proved.ObjectiveValue;
    const ours = scoreOf(input, made).total;
    if (proved.Status === "Optimal" && Math.abs(ours - best) < 1e-6) same++;
    else console.log(`  ${students} students, instance ${at}: ${ours.toFixed(6)}, ${proved.Status} ${best.toFixed(6)}`);
  }
  console.log(`Forming: the proved optimum on ${same} of ${count} courses of up to 24 students`);
  return {
    name: "Forming: courses of up to 24 students",
    ours: median(times.ours),
    against: [{ name: "highs, proving the optimum", milliseconds: median(times.theirs), kind: "peer" }],
    note: `median of ${count}; the optimum on ${same}`,
  };
}

/** Random starts, each improved by the first better swap until none of many helps, as long as it is given. */
function climb(instance: Instance, random: Chance, milliseconds: number): { at: number; total: number }[] {
  const began = performance.now();
  const trace: { at: number; total: number }[] = [];
  let best = Number.POSITIVE_INFINITY;
  while (performance.now() - began < milliseconds) {
    const placed = placeBlocks(instance, [...instance.wishes, { kind: "sizes" }]);
    if (typeof placed === "string") break;
    const standing = new GroupsSoFar(instance, start(instance, placed.blocks, placed.bins, random));
    const apart = placed.blocks.apart;
    let total = totalOf(instance, standing.bin);
    for (let idle = 0; idle < 20 * instance.people.length && performance.now() - began < milliseconds; idle++) {
      const [a, b] = [random.below(instance.people.length), random.below(instance.people.length)];
      const [from, to] = [standing.bin[a] as number, standing.bin[b] as number];
      const meets = (person: number, bin: number) => apart[person]?.some((other) => standing.bin[other] === bin);
      if (from === to || meets(a, to) || meets(b, from)) continue;
      const change = standing.shift(a, to) + standing.shift(b, from);
      if (change < -1e-12) {
        total += change;
        idle = 0;
      } else {
        standing.shift(a, from);
        standing.shift(b, to);
      }
      if (total < best - 1e-9) {
        best = total;
        if (trace.length === 0 || performance.now() - began - (trace.at(-1)?.at ?? 0) > 20)
          trace.push({ at: performance.now() - began, total: best });
      }
    }
    trace.push({ at: performance.now() - began, total: best });
  }
  return trace;
}

function large(students: number): Row {
  const input = course(students, 4, 7);
  const [instance] = instancesOf(input) as [Instance];
  const scores = instance.people.map((id) => numberIn(input.values.Score?.[id] ?? ""));
  const bound = lowerBound(instance, [scores]);
  const trace: { at: number; total: number }[] = [];
  const began = performance.now();
  const work = form(input, 1);
  let made: Formed | null = null;
  let asking = 0;
  for (;;) {
    const { done, value } = work.next();
    if (done) {
      made = value as Formed;
      break;
    }
    const { best } = value as Forward;
    // Asking for the score takes time of its own, which is not the search's.
    const asked = performance.now();
    if (asked - began - asking > (trace.at(-1)?.at ?? -100) + 100)
      trace.push({ at: asked - began - asking, total: scoreOf(input, best()).total });
    asking += performance.now() - asked;
  }
  const took = performance.now() - began - asking;
  const ours = scoreOf(input, made as Formed).total;
  const climbed = climb(instance, chance(1), took);
  const theirs = climbed.at(-1)?.total ?? Number.POSITIVE_INFINITY;
  const broken = input.forming.apart.filter((pair) =>
    (made as Formed).scopes[0]?.groups.some(({ people }) => pair.every((id) => people.includes(id))),
  ).length;
  const gap = (total: number) => `${((100 * (total - bound)) / bound).toFixed(2)} %`;
  console.log(
    `Forming ${students} students in fours: total ${ours.toFixed(5)} after ${Math.round(took)} ms, ${gap(ours)} above the bound ${bound.toFixed(5)}; ${broken} hard wishes broken; climbing as long: ${theirs.toFixed(5)}, ${gap(theirs)} above`,
  );
  const at = (list: typeof climbed, share: number) =>
    list
      .filter((point) => point.at <= took * share)
      .at(-1)
      ?.total.toFixed(4) ?? "none";
  console.log(
    `  climbing at a quarter, half and all of the time: ${[0.25, 0.5, 1].map((s) => at(climbed, s)).join(", ")}`,
  );
  return {
    name: `Forming: ${students.toLocaleString("en-GB")} students in fours`,
    ours: took,
    against: [{ name: "two seconds", milliseconds: 2000, kind: "floor" }],
    note: `${gap(ours)} above the bound, climbing ${gap(theirs)}; ${broken} hard wishes broken`,
  };
}

export async function formingRows(): Promise<Row[]> {
  return [large(sized(500, 60)), large(sized(5000, 120)), await small()];
}
