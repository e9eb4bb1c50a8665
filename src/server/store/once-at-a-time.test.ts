import { afterAll, expect, test, vi } from "vitest";
import { openDesk } from "../../tests/desk.ts";
import { course } from "./courses.ts";
import { closeDatabase, run } from "./database.ts";
import { onceAtATime } from "./once-at-a-time.ts";
import { courseProgress } from "./progress.ts";

afterAll(closeDatabase);

test("those who ask meanwhile get the same answer, also the same failure; the next one asks anew", async () => {
  const once = onceAtATime<string>();
  const work = vi.fn(async () => `made ${work.mock.calls.length}`);
  expect(await Promise.all([once("a", work), once("a", work), once("b", work)])).toEqual([
    "made 1",
    "made 1",
    "made 2",
  ]);
  expect(work).toHaveBeenCalledTimes(2);
  const failing = vi.fn(() => Promise.reject(new Error("away")));
  const both = await Promise.allSettled([once("a", failing), once("a", failing)]);
  expect(both.map(({ status }) => status)).toEqual(["rejected", "rejected"]);
  expect(failing).toHaveBeenCalledTimes(1);
  expect(await once("a", work)).toBe("made 3");
});

test("a course that many open at once is read once, its plan and what was done in it", async () => {
  const { courseId } = await openDesk();
  // Another process changed both: no copy holds any more.
  await run("UPDATE courses SET revision = revision + 1, progress_revision = progress_revision + 1 WHERE id = ?", [
    courseId,
  ]);
  const asked = await Promise.all(
    Array.from({ length: 20 }, () => Promise.all([course(courseId), courseProgress(courseId)])),
  );
  expect(new Set(asked.map(([stored]) => stored?.plan)).size).toBe(1);
  expect(new Set(asked.map(([, { progress }]) => progress)).size).toBe(1);
});
