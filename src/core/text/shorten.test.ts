import fc from "fast-check";
import { expect, test } from "vitest";
import { cut, shorten } from "./shorten.ts";

test("a text is cut between characters as people count them, and never in the middle of one", () => {
  expect(shorten("The room is yours", 8)).toBe("The roo…");
  expect(shorten("The room", 8)).toBe("The room");
  expect(shorten("The room is", 6)).toBe("The r…");
  expect(shorten("ab👩‍👩‍👧‍👦cd", 4)).toBe("ab👩‍👩‍👧‍👦…");
  fc.assert(
    fc.property(fc.string({ unit: "grapheme-composite" }), fc.integer({ min: 1, max: 20 }), (text, most) => {
      const short = shorten(text, most);
      expect(short.isWellFormed()).toBe(true);
      expect(short === text || short.endsWith("…")).toBe(true);
    }),
  );
});

test("what has only so many places keeps whole signs, and ends where they do", () => {
  expect(cut("fish 🐟", 6)).toBe("fish ");
  expect(cut("ab👩‍👩‍👧‍👦cd", 9)).toBe("ab");
  expect(cut(`Z${"\u0351".repeat(80)}`, 40)).toHaveLength(40);
  fc.assert(
    fc.property(fc.string({ unit: "grapheme", maxLength: 60 }), fc.integer({ min: 1, max: 30 }), (text, most) => {
      const short = cut(text, most);
      expect(text.startsWith(short) && short.length <= most && short.isWellFormed()).toBe(true);
      if (text.length <= most) expect(short).toBe(text);
    }),
  );
});
