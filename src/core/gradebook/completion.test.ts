/** What the filter's field offers where the caret stands. Source: semantics.md section 7. */
import { describe, expect, test } from "vitest";
import { addLayer, t0 } from "../tests/fixture.ts";
import { course as marked } from "../tests/marked-course.ts";
import { completionsOf } from "./completion.ts";
import { isMistake, parseFilter } from "./filter.ts";

function course() {
  const plan = marked();
  Object.assign(plan.people.ada as object, { attributes: { Year: "2", "Entry score": "61" } });
  Object.assign(plan.people.ben as object, { attributes: { Year: "10", "Entry score": "48" } });
  plan.sets.halves = { id: "halves", name: "Halves", groupIds: ["North"] };
  return plan;
}
const offered = (text: string, caret = text.length) => completionsOf(text, caret, course(), t0);
const texts = (text: string) => offered(text).options.map((option) => option.text);

describe("completion", () => {
  test.each([
    ["gro", ["group:"]],
    ["stat", ["status:", "status@"]],
    // Nothing is typed yet after a space or a parenthesis.
    ["not group:so", ['"South Bank"']],
    ["(late or unpl", ["unplaced"]],
    ['group:"south b', ['"South Bank"']],
    // A part of the name fits as well; what begins so comes first.
    ["group:th", ["North", '"South Bank"']],
    ["group:s", ['"South Bank"']],
    ["mark@l", ['"Lab 1"', "Later", "Talk"]],
    ["section:", ["D1", "EV"]],
    ["layer:", ["Banks"]],
    ["unplaced:b", ["Banks"]],
    ["held:b", ["Banks"]],
    ["set:", ["Halves"]],
    ["status@", ['"Lab 1":', "Talk:", "Later:"]],
    ['mark@"la', ['"Lab 1"', "Later"]],
    ["mark@lat", ["Later"]],
    ['status@"Lab 1":miss', ["missing"]],
    ["entry", ['"Entry score":']],
    ['"Entry score":', ["48", "61"]],
    ["year:", ["10", "2"]],
    ["asof:h", ["handin"]],
    ["asof:2026-11", ["2026-11-25"]],
    ["group:D9", []],
    ["nothing begins so", []],
    // What stands there already is not offered once more.
    ["held", []],
    ["set:Halves", []],
    // A quote that is escaped ends nothing.
    ['name:"say \\" so" gro', ["group:"]],
    ['name:"a space (and gro', []],
  ])("%s", (text, wanted) => {
    expect(texts(text)).toEqual(wanted);
  });
  test("it begins where the word does that the caret stands in, and what follows the caret counts for nothing", () => {
    expect(offered("late gro").from).toBe(5);
    expect(offered("(gro").from).toBe(1);
    expect(offered("not group:so").from).toBe(10);
    expect(offered('status@"Lab 1":miss').from).toBe(15);
    expect(offered("late or mark@la").from).toBe(13);
    expect(offered("gro and more", 3)).toEqual(offered("gro"));
  });
  test("each says what it is", () => {
    const says = (text: string) => offered(text).options.map((option) => option.says);
    expect(says("group:n")).toEqual(["of Banks", "of Banks"]);
    expect(says("section:d")).toEqual(["D1"]);
    expect(says("layer:")).toEqual(["exactly one"]);
    expect(says("set:")).toEqual(["a named set"]);
    expect(says("mark@lat")).toEqual(["a column, of 10"]);
    expect(says("status:missing")).toEqual([]);
    expect(says("status:missin")).toEqual(["a state"]);
    expect(says("entry")).toEqual(["an attribute of the rosters"]);
    expect(says("year:")).toEqual(["year", "year"]);
    expect(says("asof:")).toEqual([
      "at some hand-in of the columns named",
      "the term's first day",
      "the day of the time rail",
    ]);
  });
  test("twelve are offered at most", () => {
    const plan = course();
    addLayer(
      plan,
      "Many",
      Array.from({ length: 20 }, (_, at) => `Team ${at}`),
    );
    expect(completionsOf("group:team", 10, plan, t0).options).toHaveLength(12);
    expect(offered("").options).toHaveLength(12);
  });
  test("what it gives is a filter, or becomes one", () => {
    for (const text of ["group:", "section:", "status:", "layer:", "set:", "asof:", "held:"]) {
      const { from, options } = offered(text);
      expect(options.length).toBeGreaterThan(0);
      for (const option of options) expect(isMistake(parseFilter(text.slice(0, from) + option.text))).toBe(false);
    }
  });
});
