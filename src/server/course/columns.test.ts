/** Large courses in columns are stored once: what is read back is what was made, of that very revision alone. */
import { randomBytes } from "node:crypto";
import { gunzipSync } from "node:zlib";
import { v7 } from "uuid";
import { afterAll, beforeAll, expect, test } from "vitest";
import { makeLargeCourse, usualSizes } from "../../../demo/large.ts";
import { planReader } from "../../core/plan/columns.ts";
import { put } from "../../core/plan/command.ts";
import { noProgress } from "../../core/plan/progress.ts";
import type { Person } from "../../core/plan/types.ts";
import { coordinatorOf, type Desk, openDesk } from "../../tests/desk.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows, run } from "../store/database.ts";
import { keptPieces, storeAhead, storedPieces, storePieces, type Written } from "./columns.ts";
import { liveStep } from "./live-step.ts";

let desk: Desk;
let plan: Written;
beforeAll(async () => {
  desk = await openDesk();
  plan = { courseId: desk.courseId, kind: "plan", revision: (await course(desk.courseId))?.revision ?? 0 };
});
afterAll(closeDatabase);

/** Longer than one part. */
const long = randomBytes(9_000_000);

test("what is long is stored in parts and read back whole; what is short is not worth it", async () => {
  await storePieces(plan, long);
  expect(Buffer.compare((await storedPieces(plan)) as Buffer, long)).toBe(0);
  const progress: Written = { ...plan, kind: "progress" };
  await storePieces(progress, randomBytes(100));
  expect(await storedPieces(progress)).toBeNull();
});

test("another revision, and another shape of the rows, find nothing; a newer one takes its place", async () => {
  await storePieces(plan, long);
  const next = { ...plan, revision: plan.revision + 1 };
  expect(await storedPieces(next)).toBeNull();
  const newer = randomBytes(200_000);
  await storePieces(next, newer);
  expect(Buffer.compare((await storedPieces(next)) as Buffer, newer)).toBe(0);
  expect(await storedPieces(plan)).toBeNull();
  await run("UPDATE course_columns SET shape = 'another program' WHERE course_id = ?", [desk.courseId]);
  expect(await storedPieces(next)).toBeNull();
});

test("a process that has just started makes nothing of what another stored", async () => {
  await storePieces(plan, long);
  const given = await keptPieces(plan, () => Promise.reject(new Error("it was made anew")));
  expect(Buffer.compare(given, long)).toBe(0);
});

test("what is made anew is stored for the next process", async () => {
  const newer: Written = { ...plan, revision: plan.revision + 1000 };
  const made = randomBytes(300_000);
  expect(await keptPieces(newer, async () => made)).toBe(made);
  await expect.poll(async () => (await storedPieces(newer))?.length).toBe(made.length);
});

test("a large course is stored ahead, as whoever opens it is answered; a small one is not", async () => {
  const large = makeLargeCourse({ ...usualSizes, students: 1200 }, Date.parse("2026-11-25"), desk.courseId);
  const [atPlan, atProgress] = [
    { ...plan, revision: 7000 },
    { ...plan, kind: "progress" as const, revision: 7001 },
  ];
  await storeAhead(desk.courseId, { revision: 7000, plan: desk.plan }, { revision: 7001, progress: noProgress });
  expect([await storedPieces(atPlan), await storedPieces(atProgress)]).toEqual([null, null]);
  await storeAhead(
    desk.courseId,
    { revision: 7000, plan: large.plan },
    { revision: 7001, progress: { ...noProgress, ...large.progress } },
  );
  const answer = JSON.parse(gunzipSync((await storedPieces(atPlan)) as Uint8Array).toString());
  const reader = planReader(answer.course);
  answer.pieces.forEach(reader.add);
  expect([answer.revision, answer.scope]).toEqual([7000, null]);
  expect(reader.made()).toEqual(large.plan);
});

test("nobody's former name stands there after the plan forgot it", async () => {
  await storePieces(plan, long);
  const coordinator = await coordinatorOf(desk);
  await liveStep(desk.courseId, coordinator, "staff", (before) => {
    const [person] = Object.values(before.people) as [Person];
    return { plan: put(before, "people", [{ ...person, familyName: `Erased ${v7()}` }]), says: "Erased somebody" };
  });
  expect(await rows("SELECT 1 FROM course_columns WHERE course_id = ?", [desk.courseId])).toEqual([]);
});
