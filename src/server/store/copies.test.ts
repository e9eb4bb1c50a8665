/** Copies are bounded by their sizes, and the largest course has one too. */
import { expect, test } from "vitest";
import { copiesUpTo } from "./copies.ts";

test("the longest unused go first, and what is larger than all the room is kept alone", () => {
  const copies = copiesUpTo<{ size: number }>(10, ({ size }) => size);
  for (const [name, size] of Object.entries({ one: 4, two: 4 })) copies.set(name, { size });
  copies.get("one");
  copies.set("three", { size: 4 });
  expect([...copies.keys()].sort()).toEqual(["one", "three"]);
  copies.set("empty", { size: 0 });
  expect(copies.has("empty")).toBe(true);
  copies.set("huge", { size: 50 });
  expect([...copies.keys()]).toEqual(["huge"]);
  copies.set("one", { size: 1 });
  expect([...copies.keys()]).toEqual(["one"]);
});
