import Papa from "papaparse";
import { knownPeople } from "../src/core/intake/known.ts";
import { reconcile } from "../src/core/intake/reconcile.ts";
import { plainRow } from "../src/core/intake/rows.ts";
import { fastest, keep, type Row, sized } from "./measure.ts";
import { emptyCourse, knownCourse, options, read, rosterText } from "./roster.ts";

/**
 * Reading and reconciling a roster against as many known people, beside a bare parse of the same text. The plan is
 * as the worker has it: read from JSON, and its people indexed once (a line of its own), before any file is dropped.
 */
export async function intakeRows(size: number): Promise<Row[]> {
  const text = rosterText(size, true);
  const stored = JSON.stringify(knownCourse(size, "bench", "6f0e3a52-4a53-4c5c-9a52-0f7f3a1d2b4c"));
  const best = {
    ours: Number.POSITIVE_INFINITY,
    papaparse: Number.POSITIVE_INFINITY,
    index: Number.POSITIVE_INFINITY,
    map: Number.POSITIVE_INFINITY,
  };
  const time = (name: keyof typeof best, work: () => number) => {
    const started = performance.now();
    keep(work());
    best[name] = Math.min(best[name], performance.now() - started);
  };
  let memory = 0;
  // Kept from round to round: when the last object of a shape is collected, so is the code compiled for it.
  let kept: unknown = null;
  for (let round = 0; round < sized(25, 1); round++) {
    globalThis.gc?.();
    const plan = JSON.parse(stored);
    const people = Object.values<{ sourcedId: string }>(plan.people);
    const enrolments = Object.values<{ personId: string }>(plan.enrolments);
    time(
      "map",
      () =>
        new Map(people.map((person) => [person.sourcedId, person])).size +
        new Map(enrolments.map((row) => [row.personId, row])).size,
    );
    time("index", () => knownPeople(plan).list.length);
    time("papaparse", () => Papa.parse<string[]>(text).data.length);
    globalThis.gc?.();
    time("ours", () => {
      const reconciled = reconcile(plan, read(text), options);
      kept = { plan, reconciled };
      return reconciled.counts.changed;
    });
    // Asked while everything is still held, and not within what is timed.
    memory = Math.max(memory, process.memoryUsage().rss);
  }
  keep(kept === null ? 0 : 1);
  const rows = size.toLocaleString("en-GB");
  return [
    {
      name: `Intake: read and reconcile ${rows} rows`,
      ours: best.ours,
      against: [{ name: "bare papaparse parse", milliseconds: best.papaparse, kind: "peer" }],
      note: "as many known people, 5 % changed",
      memory: Math.round(memory / 1e6),
    },
    {
      name: `Intake: index ${rows} known people`,
      ours: best.index,
      against: [{ name: "two bare Maps of them", milliseconds: best.map, kind: "floor" }],
      note: "once a revision, before a file is dropped",
    },
  ];
}

/** Rows that all repeat one id, or share one login, beside as many good ones: whoever sends such a file slows nobody down. */
export async function hostileRows(size: number): Promise<Row[]> {
  const good = read(rosterText(size, false)).map(plainRow);
  const sameId = good.map((row) => ({ ...row, sourcedId: "001", username: "", email: "" }));
  const sameLogin = good.map((row) => ({ ...row, username: "shared" }));
  const judge = (rows: typeof good) => () => reconcile(emptyCourse("bench"), rows, options).rows.length;
  const best = await fastest({ good: judge(good), sameId: judge(sameId), sameLogin: judge(sameLogin) }, 5);
  const against: Row["against"] = [{ name: "as many good ones", milliseconds: best.good, kind: "peer" }];
  const rows = size.toLocaleString("en-GB");
  return [
    { name: `Intake: reconcile ${rows} rows of one id`, ours: best.sameId, against, note: "each another name" },
    { name: `Intake: reconcile ${rows} rows of one login`, ours: best.sameLogin, against, note: "each another id" },
  ];
}
