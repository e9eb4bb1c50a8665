import { describe, expect, test } from "vitest";
import { asTyped, dayOrderOf } from "./spreadsheet-dates.ts";

describe("a date of a spreadsheet", () => {
  test.each([
    ["2026-10-05 09:00:00", "2026-10-05 09:00"],
    ["2026-10-05T09:00", "2026-10-05 09:00"],
    ["25/10/2026 09:00", "2026-10-25 09:00"],
    ["10/25/2026 9:05 PM", "2026-10-25 21:05"],
    ["5.10.26 9:00", "2026-10-05 09:00"],
    ["5.10.2026", "2026-10-05"],
    ["10/10/2026 12:30 am", "2026-10-10 00:30"],
    ["fri 5pm", "fri 5pm"],
    ["m6 start", "m6 start"],
    ["", ""],
  ])("%j is %j", (text, typed) => {
    expect(asTyped(text, null)).toEqual({ text: typed });
  });
  test.each(["5/10/2026", "05-10-2026 09:00"])("%j may be two days, and says which", (text) => {
    expect(asTyped(text, null)).toMatchObject({ wrong: expect.stringMatching(/2026-10-05 or 2026-05-10/) });
  });
  test.each([
    ["31/02/2026", null],
    ["5/10/2026 25:00", "day first" as const],
    ["10/25/2026", "day first" as const],
  ])("%j is no moment", (text, order) => {
    expect(asTyped(text, order)).toHaveProperty("wrong");
  });
  test("the order is that of the file's other dates", () => {
    expect(dayOrderOf(["5/10/2026", "25/10/2026", "none"])).toBe("day first");
    expect(dayOrderOf(["5/10/2026", "10/25/2026"])).toBe("month first");
    expect(dayOrderOf(["5/10/2026"])).toBeNull();
    expect(dayOrderOf(["25/10/2026", "10/25/2026"])).toBeNull();
    expect(asTyped("5/10/2026 09:00", "month first")).toEqual({ text: "2026-05-10 09:00" });
  });
});
