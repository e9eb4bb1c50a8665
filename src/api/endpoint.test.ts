import { expect, test } from "vitest";
import { readPlan } from "./course.ts";
import { addressOf, endpoint, patternOf } from "./endpoint.ts";
import { endpoints } from "./index.ts";
import { openIntake } from "./intake.ts";

const course = "/api/courses/c1";

test("an address has what its path names in brackets, and of the query what is said", () => {
  expect(addressOf(openIntake, course, { params: { intake: "a/b c" } })).toBe("/api/courses/c1/intake/a%2Fb%20c");
  expect(addressOf(readPlan, course, { query: { after: 3, at: undefined } })).toBe("/api/courses/c1/plan?after=3");
  expect(addressOf(readPlan, course, { query: { after: undefined, at: null } })).toBe("/api/courses/c1/plan");
  expect(addressOf(endpoint("GET", "/x", "staff", { says: "x" }), course)).toBe("/api/courses/c1/x");
});

test("no two endpoints share method and path, and each says what it does", () => {
  const keys = endpoints.map((one) => `${one.method} ${patternOf(one)}`);
  expect(new Set(keys).size).toBe(keys.length);
  for (const { says } of endpoints) expect(says).toMatch(/^[A-Z].*\.$/);
});
