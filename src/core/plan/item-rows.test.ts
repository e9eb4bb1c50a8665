/** Rows by item are a map of lists, and read no list that nobody asks for. */
import fc from "fast-check";
import { expect, test } from "vitest";
import { ItemRows, readLater } from "./item-rows.ts";

const itemIds = ["essay", "quiz", "poster"];
const step = fc.oneof(
  fc.record({ set: fc.constantFrom(...itemIds), rows: fc.array(fc.nat(9), { maxLength: 3 }) }),
  fc.record({ delete: fc.constantFrom(...itemIds) }),
  fc.record({ copy: fc.boolean() }),
);

test("they are what a map of lists would be, whatever is replaced in a copy", () => {
  fc.assert(
    fc.property(fc.dictionary(fc.constantFrom(...itemIds), fc.array(fc.nat(9))), fc.array(step), (first, steps) => {
      let reads = 0;
      const later = Object.entries(first).map(
        ([itemId, list]) =>
          [
            itemId,
            readLater(() => {
              reads++;
              return list;
            }),
          ] as const,
      );
      let rows = new ItemRows(later);
      let byHand = new Map(Object.entries(first));
      const kept: [ItemRows<number>, Map<string, number[]>][] = [];
      for (const one of steps)
        if ("set" in one) {
          rows.set(one.set, one.rows);
          byHand.set(one.set, one.rows);
        } else if ("delete" in one) {
          rows.delete(one.delete);
          byHand.delete(one.delete);
        } else {
          kept.push([rows, byHand]);
          rows = rows.copy();
          byHand = new Map(byHand);
        }
      for (const [made, map] of [...kept, [rows, byHand] as const]) {
        expect([...made]).toEqual([...map]);
        expect([...made.values()]).toEqual([...map.values()]);
        expect([...made.keys()]).toEqual([...map.keys()]);
        expect(made.isEmpty()).toBe(map.size === 0);
        for (const itemId of itemIds)
          expect([made.get(itemId), made.has(itemId)]).toEqual([map.get(itemId), map.has(itemId)]);
      }
      // However many copies ask, a list is read once.
      expect(reads).toBeLessThanOrEqual(later.length);
    }),
  );
});

test("a list waits until it is asked for, also while a copy is compared and another list replaced", () => {
  const unread = () => {
    throw new Error("nobody asked for this");
  };
  const rows = new ItemRows<number>([
    ["essay", unread],
    ["quiz", readLater(() => [1])],
  ]);
  const copy = rows.copy();
  copy.set("quiz", [2]);
  expect([copy.isSame("essay", rows), copy.isSame("quiz", rows), copy.has("essay")]).toEqual([true, false, true]);
  expect([rows.get("quiz"), copy.get("quiz")]).toEqual([[1], [2]]);
  expect(() => rows.get("essay")).toThrow("nobody asked");
});
