import fc from "fast-check";
import { expect, test } from "vitest";
import { loginOf } from "./logins.ts";

test("a login has one spelling, and none with signs that are not seen", () => {
  for (const typed of ["Evening", " evening ", "ｅｖｅｎｉｎｇ", "EVENING"]) expect(loginOf(typed)).toBe("evening");
  expect(loginOf("Straße")).toBe(loginOf("STRASSE"));
  for (const typed of ["", "  ", "ev\u200bening", "ev\u00adening", "a\u0000", "\ud800", "a\u2060", "\u202ea"])
    expect([typed, loginOf(typed)]).toEqual([typed, null]);
  fc.assert(
    fc.property(fc.string({ unit: "grapheme" }), (typed) => {
      const login = loginOf(typed);
      if (login === null) return;
      expect([loginOf(login), loginOf(typed.toUpperCase())]).toEqual([login, login]);
    }),
  );
});
