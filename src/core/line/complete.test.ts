/** How a typed line goes on. */
import fc from "fast-check";
import { v7 } from "uuid";
import { describe, expect, test } from "vitest";
import { lineContext } from "../tests/line-course.ts";
import { completionsOf } from "./complete.ts";
import { readLine } from "./line.ts";

const context = lineContext();
const fills = (text: string) => completionsOf(text, context).map((one) => one.fills);

describe("a line goes on", () => {
  test("with names of the course where a name may stand", () => {
    expect(fills("Kit list for Nor")).toEqual(["Kit list for North"]);
    expect(fills("split Notes in the field, for all along B")).toEqual([
      "split Notes in the field, for all along Banks",
    ]);
    expect(fills("publish lab 1:")).toEqual(["publish Lab 1: Float gauging"]);
    expect(fills("move Kit list to R")).toEqual(["move Kit list to Readings"]);
    expect(fills("look as Lov")).toEqual(["look as Lovelace, Ada"]);
    expect(fills("Kit list for North, sou")).toEqual(["Kit list for North, South"]);
  });
  test("with what belongs behind a name, and what is asked for next", () => {
    expect(fills("Lab 1: d")).toEqual(["Lab 1: due "]);
    expect(fills("Lab 1: due +1d, att")).toEqual(["Lab 1: due +1d, attempts "]);
    expect(fills("split Lab 1 along ")).toEqual(["split Lab 1 along Banks", "split Lab 1 along Pace"]);
    expect(fills("Kit list for ")).toEqual(["Kit list for North", "Kit list for South", "Kit list for Slow"]);
  });
  test("with nothing where nothing fits, or too little is typed", () => {
    expect(fills("k")).toEqual([]);
    expect(fills("publish Nothing of the kind")).toEqual([]);
    expect(fills("look as Lo")).toEqual([]);
  });
});

test("what is typed stays, and what is offered for a whole name is understood", () => {
  const starts = ["publish ", "Kit list for ", "split Lab 1: Float gauging along ", "00240030 into ", "write to "];
  fc.assert(
    fc.property(
      fc.constantFrom(...starts),
      fc.constantFrom("k", "l", "no", "so", "b", "p", "sl", "d1"),
      (start, part) => {
        for (const line of fills(start + part)) {
          expect(line.toLowerCase().startsWith((start + part).toLowerCase())).toBe(true);
          expect(readLine(line, context, v7).kind).not.toBe("none");
          const [next] = fills(line);
          expect(next === undefined || next !== line).toBe(true);
        }
      },
    ),
  );
});
