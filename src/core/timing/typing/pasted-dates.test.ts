/** A block of dates pasted over the table of dates. */
import fc from "fast-check";
import { expect, test } from "vitest";
import { addItem, addLayer, coursePlan, group } from "../../tests/fixture.ts";
import { pastedDates } from "./pasted-dates.ts";

const plan = coursePlan();
addLayer(plan, "Banks", ["North", "South"]);
addItem(plan, "lab", { kind: "quiz", title: "Lab 1", dates: { due: "2026-11-27T17:00" } });
const block = (cells: string[][], from = 0) =>
  pastedDates(plan, {
    itemIds: ["lab"],
    rows: [null, group("North"), group("South")].slice(from),
    fields: ["due", "attempts"],
    cells,
    day: "2026-11-25",
  });

test("each row sets what stands in it; an empty cell changes nothing; what is counted is counted from what holds", () => {
  expect(block([["2026-12-01 9:00", "3"], ["", "2"], ["+1d"]])).toEqual([
    { kind: "dates.set", itemIds: ["lab"], dates: { due: "2026-12-01T09:00", attempts: 3 } },
    { kind: "override.set", itemIds: ["lab"], target: group("North"), dates: { attempts: 2 } },
    { kind: "override.set", itemIds: ["lab"], target: group("South"), dates: { due: "2026-11-28T17:00" } },
  ]);
  expect(block([["none"]], 2)).toMatchObject([{ target: group("South"), dates: { due: "none" } }]);
});

test("one cell that cannot be read keeps all of it out, and each such cell is named", () => {
  expect(block([["2026-12-01", "many"], ["someday"]])).toEqual({
    wrong: [expect.stringMatching(/^everyone, attempts: "many"/), expect.stringMatching(/^North, due: "someday"/)],
  });
  expect(block([["", "", "5"]])).toEqual({ wrong: ['everyone: "5" stands beside the table.'] });
  expect(block([["fri"], ["fri"]], 2)).toEqual({ wrong: ["Row 2 stands below the table."] });
});

test("as many rows are set as have something in them, whatever stands where", () => {
  const cell = fc.constantFrom("", "3", " ");
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.constant(""), cell), { maxLength: 3 }), (cells) => {
      expect(block(cells)).toHaveLength(cells.filter(([, limit]) => limit.trim() !== "").length);
    }),
  );
});
