/** Who somebody is in a course, read from their own rows: what the plan says of them, at any moment. */
import { afterAll, beforeAll, expect, test } from "vitest";
import { membershipOf } from "../../core/access/roles.ts";
import { type Desk, openDesk } from "../../tests/desk.ts";
import { memberIn } from "./courses.ts";
import { closeDatabase } from "./database.ts";

let desk: Desk;
beforeAll(async () => {
  desk = await openDesk();
});
afterAll(closeDatabase);

test("everybody of the demo is to their rows what they are to the plan, before, at and after each change", async () => {
  const { plan, courseId } = desk;
  const moments = new Set([0, Date.parse("2026-11-25T10:00:00Z")]);
  for (const { since, until } of Object.values(plan.enrolments))
    for (const at of [since, until]) if (at !== null) for (const t of [at - 1, at]) moments.add(t);
  const roles = new Set<string>();
  for (const { sourcedId } of Object.values(plan.people))
    for (const t of moments) {
      const found = await memberIn(courseId, sourcedId, t);
      expect(found?.membership).toEqual(membershipOf(plan, sourcedId, t));
      roles.add(found?.membership?.role ?? "nobody");
    }
  // Of each kind somebody was asked about.
  expect([...roles].sort()).toEqual(["coordinator", "instructor", "nobody", "student", "support"]);
  expect(await memberIn(courseId, "nobody", 0)).toMatchObject({ code: plan.course.code, membership: null });
  expect(await memberIn("00000000-0000-7000-8000-000000000000", "nobody", 0)).toBeNull();
});
