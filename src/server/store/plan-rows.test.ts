import fc from "fast-check";
import { v4 } from "uuid";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import type { Plan } from "../../core/plan/types.ts";
import { type Desk, openDesk } from "../../tests/desk.ts";
import { course, lockCourse, moveCourse } from "./courses.ts";
import { closeDatabase, isDatabaseAway, rows, run, transaction } from "./database.ts";
import { readPlan } from "./plan-rows.ts";

let desk: Desk;
let plan: Plan;
let courseId = "";
beforeAll(async () => {
  desk = await openDesk();
  ({ plan, courseId } = desk);
});
afterAll(closeDatabase);

const entry = { accountId: "nobody", at: 1, kind: "publication" as const, lines: [{ says: "A step" }] };
const revision = async () => (await course(courseId))?.revision ?? 0;
describe("plan rows", () => {
  test("a plan read back is the plan that was written, to the last field", async () => {
    const stored = await transaction((connection) => readPlan(courseId, connection));
    expect(stored?.plan).toEqual(plan);
  });
  test("the difference to any other state of the plan, written and read back, gives that state", async () => {
    const items = Object.values(plan.items);
    const people = Object.values(plan.people);
    const groups = Object.values(plan.groups);
    await fc.assert(
      fc.asyncProperty(
        fc.record({
          titles: fc.dictionary(
            fc.constantFrom(...items.map(({ id }) => id)),
            fc.string({ minLength: 1, maxLength: 60, unit: "grapheme" }),
            {
              maxKeys: 4,
            },
          ),
          removed: fc.subarray(Object.keys(plan.overrides), { maxLength: 3 }),
          placed: fc.array(
            fc.record({
              person: fc.constantFrom(...people.map(({ id }) => id)),
              group: fc.constantFrom(...groups.map(({ id }) => id)),
              held: fc.boolean(),
            }),
            { maxLength: 4 },
          ),
          attributes: fc.dictionary(
            fc.string({ minLength: 1, maxLength: 12 }),
            fc.string({ maxLength: 20, unit: "grapheme" }),
            { maxKeys: 3 },
          ),
        }),
        async ({ titles, removed, placed, attributes }) => {
          const after: Plan = {
            ...plan,
            items: { ...plan.items },
            overrides: { ...plan.overrides },
            placements: { ...plan.placements },
            people: { ...plan.people },
          };
          for (const [id, title] of Object.entries(titles))
            after.items[id] = { ...(plan.items[id] as Plan["items"][string]), title };
          for (const id of removed) delete after.overrides[id];
          for (const { person, group, held } of placed) {
            const id = v4();
            after.placements[id] = {
              id,
              personId: person,
              groupId: group,
              since: 5,
              until: held ? null : 9,
              held,
            };
          }
          const one = people[0] as Plan["people"][string];
          after.people[one.id] = { ...one, attributes: { ...attributes } };
          await transaction(async (connection) => {
            const stored = await lockCourse(courseId, connection);
            if (!stored) throw new Error("course");
            await moveCourse(courseId, stored, after, entry, connection);
            expect((await readPlan(courseId, connection))?.plan).toEqual(after);
            // Put back: every run begins with the same course.
            await connection.rollback();
            await connection.beginTransaction();
          });
        },
      ),
      { numRuns: 25 },
    );
  });
  test("nothing of a transaction that fails is there", async () => {
    const before = await revision();
    const failing = transaction(async (connection) => {
      const stored = await lockCourse(courseId, connection);
      if (!stored) throw new Error("course");
      await moveCourse(courseId, stored, { ...stored.plan, items: {} }, entry, connection);
      throw new Error("midway");
    });
    await expect(failing).rejects.toThrow();
    expect(await revision()).toBe(before);
    expect(Object.keys((await course(courseId))?.plan.items ?? {})).toHaveLength(Object.keys(plan.items).length);
  });
  test("a statement that is not answered is given up with its connection, and the next one is answered", async () => {
    await closeDatabase();
    process.env.AMBER_DATABASE_PATIENCE = "300";
    try {
      const begun = performance.now();
      const asked = [rows("SELECT SLEEP(20)"), transaction((connection) => rows("SELECT SLEEP(20)", [], connection))];
      for (const error of await Promise.all(asked.map((one) => one.catch((thrown: Error) => thrown))))
        expect(isDatabaseAway(error)).toBe(true);
      expect(performance.now() - begun).toBeLessThan(5000);
      expect(await rows("SELECT 1 AS one")).toEqual([{ one: 1 }]);
    } finally {
      delete process.env.AMBER_DATABASE_PATIENCE;
      await closeDatabase();
    }
    expect(isDatabaseAway(new Error("another"))).toBe(false);
  });
  test("a transaction that deadlocks is tried again, and both get through", async () => {
    await run("DELETE FROM sign_in_tries", []);
    for (const key of ["a", "b"])
      await run("INSERT INTO sign_in_tries (key_hash, tries, last_at) VALUES (?, 0, 0)", [key]);
    let tries = 0;
    const cross = (one: string, two: string) =>
      transaction(async (connection) => {
        tries++;
        await run("UPDATE sign_in_tries SET tries = tries + 1 WHERE key_hash = ?", [one], connection);
        await new Promise((done) => setTimeout(done, 150));
        await run("UPDATE sign_in_tries SET tries = tries + 1 WHERE key_hash = ?", [two], connection);
      });
    await Promise.all([cross("a", "b"), cross("b", "a")]);
    const counts = await rows<{ tries: number }>("SELECT tries FROM sign_in_tries");
    expect(counts.map((one) => one.tries)).toEqual([2, 2]);
    expect(tries).toBeGreaterThan(2);
  });
});
