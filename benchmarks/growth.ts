import { v4, v7 } from "uuid";
import { sheetOf } from "../src/core/gradebook/sheet.ts";
import { reconcile } from "../src/core/intake/reconcile.ts";
import { takeIn } from "../src/core/intake/take-in.ts";
import { planPieces, progressPieces } from "../src/core/plan/columns.ts";
import { isRefusal } from "../src/core/plan/command.ts";
import type { Progress } from "../src/core/plan/progress.ts";
import type { Plan } from "../src/core/plan/types.ts";
import { audit } from "../src/core/reach/audit/audit.ts";
import { reachAt } from "../src/core/reach/reach.ts";
import { rollOver } from "../src/core/rolling/roll-over.ts";
import { compressPieces } from "../src/server/course/columns.ts";
import { addCommands, readDraft } from "../src/server/drafts/drafts.ts";
import { publish } from "../src/server/drafts/publishing.ts";
import { course } from "../src/server/store/courses.ts";
import { closeDatabase } from "../src/server/store/database.ts";
import { isQuick, keep, type Row } from "./measure.ts";
import { follow } from "./publishing.ts";
import { evaluate, fresh, largeCourse, now } from "./reach.ts";
import { knownCourse, options, read, rosterText } from "./roster.ts";
import { readyAccount, storeCourse } from "./store.ts";

/** The small ones are over before a machine has settled: they are done more often, and the best counts. */
const sizes = isQuick
  ? [30, 60, 120].map((students) => ({ students, rounds: 1 }))
  : [
      { students: 500, rounds: 5 },
      { students: 5000, rounds: 2 },
      { students: 50_000, rounds: 1 },
    ];

/** Milliseconds of each piece of work, by its name, in the order in which they were done. */
type Clock = <Value>(name: string, work: () => Value | Promise<Value>) => Promise<Value>;

/** What is reckoned from a course, on the page's workers and on the server. */
async function reckon(clock: Clock, plan: Plan, progress: Progress): Promise<void> {
  await clock("Reach of everybody", () => keep(evaluate(reachAt(fresh(plan), { ...progress }, now))));
  await clock("The whole audit", () => keep(audit(fresh(plan), { ...progress }, now).findings.length));
  await clock("Every cell of the gradebook", () => {
    const sheet = sheetOf(reachAt(fresh(plan), { ...progress }, now));
    for (const item of sheet.columns) keep(sheet.column(item).states.length);
  });
  await clock("Roll-over into a new term", () => {
    const rolled = rollOver(fresh(plan), { ...plan.course, id: v4() });
    keep(Object.keys(rolled.plan.items).length);
  });
  await clock("The course in columns, compressed", async () => {
    for (const pieces of [planPieces(plan), progressPieces(progress)]) keep((await compressPieces({}, pieces)).length);
  });
}

/** A roster of everybody against the course that knows them, of whom every twentieth has another name now. */
async function takeRoster(clock: Clock, size: number): Promise<void> {
  const known = knownCourse(size, v4(), v4());
  const text = rosterText(size, true);
  const reconciled = await clock("A roster read and reconciled", () => reconcile(known, read(text), options));
  await clock("The roster taken in", () => keep(Object.keys(takeIn(known, reconciled, v4(), now, null).people).length));
}

/** What the database does: a course made, read, and published to with everybody in new groups. */
async function store(clock: Clock, plan: Plan, accountId: string): Promise<void> {
  const courseId = plan.course.id;
  await clock("A course written into the database", () => storeCourse(plan));
  await clock("The course read from the database", () => course(courseId));
  const drafted = await addCommands(courseId, accountId, [follow()]);
  if (isRefusal(drafted)) throw new Error(drafted.sentence);
  const seen = {
    revision: (await course(courseId))?.revision ?? 0,
    version: (await readDraft(courseId, accountId)).version,
  };
  const answer = await clock("A draft published that places everybody", () =>
    publish(courseId, accountId, { publicationId: v7(), leave: [], ...seen }),
  );
  if (!answer.published) throw new Error(answer.reason);
}

/** The best time of each piece of work at one size. */
async function measure({ students, rounds }: (typeof sizes)[number], accountId: string): Promise<Map<string, number>> {
  const best = new Map<string, number>();
  const clock: Clock = async (name, work) => {
    globalThis.gc?.();
    const started = performance.now();
    const value = await work();
    best.set(name, Math.min(best.get(name) ?? Number.POSITIVE_INFINITY, performance.now() - started));
    return value;
  };
  for (let round = 0; round < rounds; round++) {
    const { plan, progress } = await clock("A course of that size invented", () => largeCourse(students, v4()));
    await reckon(clock, plan, progress);
    await takeRoster(clock, students);
    await store(clock, plan, accountId);
  }
  return best;
}

export async function growthRows(): Promise<Row[]> {
  const accountId = await readyAccount();
  // Once beforehand, so that the first size does not bear what compiling the code costs.
  await measure({ students: sizes[0]?.students ?? 0, rounds: 1 }, accountId);
  const found: { students: number; best: Map<string, number> }[] = [];
  for (const size of sizes) found.push({ students: size.students, best: await measure(size, accountId) });
  const memory = Math.round(process.memoryUsage().rss / 1e6);
  await closeDatabase();
  return [...(found[0]?.best.keys() ?? [])].map((name) => {
    const growth = found.map(({ students, best }) => ({ students, milliseconds: best.get(name) ?? 0 }));
    const ours = growth.at(-1)?.milliseconds ?? 0;
    return { name, ours, against: [], note: "of 400 items, 20 layers and 40 sections", growth, memory };
  });
}
