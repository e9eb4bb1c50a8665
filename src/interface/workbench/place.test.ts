/** What the address says of where one is. */
import fc from "fast-check";
import { expect, test } from "vitest";
import { addressOfPlace, readMomentOf, readPlace } from "./place.ts";
import { type Place, stations } from "./state.ts";

const text = fc.string({ minLength: 1, maxLength: 12 });
const anyPlace = fc
  .record(
    {
      layer: text,
      item: text,
      group: text,
      person: text,
      "reach.view": text,
      "gradebook.view": text,
      "gradebook.filter": text,
    },
    { requiredKeys: [] },
  )
  .map((place) => Object.fromEntries(Object.entries(place).filter(([, value]) => value !== undefined)) as Place);

test("a place reads back from its address, whatever the names hold; what other stations have stays", () => {
  fc.assert(
    fc.property(anyPlace, fc.constantFrom(...stations), fc.option(fc.nat()), (place, station, moment) => {
      const url = new URL(addressOfPlace({ courseId: "c", station, place, moment }), "http://x.example");
      expect(url.pathname).toBe(`/workbench/c/${station}`);
      expect(readPlace(url.search, station, place)).toEqual(place);
      expect(readMomentOf(url.search)).toBe(moment);
    }),
  );
});

test("a plain address is no place, and takes what was selected away", () => {
  expect(addressOfPlace({ courseId: "c", station: "reach", place: {}, moment: null })).toBe("/workbench/c/reach");
  expect(readPlace("", "reach", { item: "a", "reach.view": "audit", "gradebook.filter": "x" })).toEqual({
    "gradebook.filter": "x",
  });
  expect(readMomentOf("?at=soon")).toBeNull();
});
