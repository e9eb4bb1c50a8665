import { expect, test } from "vitest";
import { asOfFilter, withAsOf } from "./as-of.ts";
import { isMistake, parseFilter } from "./filter.ts";

const read = (text: string) => {
  const filter = parseFilter(text);
  if (isMistake(filter)) throw new Error(filter.says);
  return filter;
};

test("a filter is asked at another moment, and the rest of it stays", () => {
  for (const rest of ["", "group:D1", 'group:D1 status@"Lab 1":missing', "group:D1 or group:D2"]) {
    const handin = withAsOf(read(rest), "handin");
    expect(asOfFilter(read(handin))).toBe("handin");
    const day = withAsOf(read(handin), { day: "2026-10-01" });
    expect(asOfFilter(read(day))).toEqual({ day: "2026-10-01" });
    const again = withAsOf(read(day), "now");
    expect(asOfFilter(read(again))).toBe("now");
    expect(read(again)).toEqual(read(rest));
  }
});
test("what stands in parentheses keeps its own moment", () => {
  const text = "(group:D1 asof:handin) or group:D2";
  expect(asOfFilter(read(text))).toBe("now");
  expect(read(withAsOf(read(text), "now"))).toEqual(read(text));
});
