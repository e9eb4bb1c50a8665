import fc from "fast-check";
import { expect, test } from "vitest";
import { shorten } from "./shorten.ts";

test("a text is cut between characters as people count them, and never in the middle of one", () => {
  expect(shorten("The room is yours", 8)).toBe("The roo…");
  expect(shorten("The room", 8)).toBe("The room");
  expect(shorten("The room is", 6)).toBe("The r…");
  expect(shorten("ab👩‍👩‍👧‍👦cd", 4)).toBe("ab👩‍👩‍👧‍👦…");
  fc.assert(
    fc.property(fc.string({ unit: "grapheme-composite" }), fc.integer({ min: 1, max: 20 }), (text, most) => {
      const cut = shorten(text, most);
      expect(cut.isWellFormed()).toBe(true);
      expect(cut === text || cut.endsWith("…")).toBe(true);
    }),
  );
});
