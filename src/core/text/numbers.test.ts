import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { type DecimalSign, decimalSignOf, readNumber } from "./numbers.ts";

describe("a number", () => {
  test.each<[string, DecimalSign | null, number | "either" | null]>([
    ["14.5", null, 14.5],
    ["14,5", null, 14.5],
    [".5", null, 0.5],
    ["7,", null, 7],
    ["0,125", null, 0.125],
    ["14.125", null, 14.125],
    ["1,000", null, "either"],
    ["1,000", ",", 1],
    ["1,000", ".", 1000],
    ["1.000", ",", 1000],
    ["1,234.5", null, 1234.5],
    ["1.234,5", null, 1234.5],
    ["1 234,5", null, 1234.5],
    ["1\u202f234", null, 1234],
    ["1'234.5", null, 1234.5],
    ["1,234,567", null, 1234567],
    ["1,23,4", null, null],
    ["12 34", null, null],
    ["1,2.3,4", null, null],
    ["-3", null, null],
    ["seven", null, null],
    [".", null, null],
    ["1e3", null, null],
  ])("%j with the sign %j", (text, decimal, wanted) => {
    expect(readNumber(text, decimal)).toBe(wanted);
  });
  test("is read again however thousands and decimals are set, once the sign is known", () => {
    const written = (value: number, locale: string) =>
      new Intl.NumberFormat(locale, { maximumFractionDigits: 3 }).format(value);
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 9_999_999 }),
        fc.constantFrom("en", "de", "fr", "de-CH"),
        (thousandths, locale) => {
          const decimal = locale === "de" || locale === "fr" ? "," : ".";
          expect(readNumber(written(thousandths / 1000, locale), decimal)).toBeCloseTo(thousandths / 1000, 6);
        },
      ),
    );
  });
});

test("the sign of a file is told by the numbers that can be read in one way", () => {
  expect(decimalSignOf(["1,000", "14,5", "x"])).toBe(",");
  expect(decimalSignOf(["1,000", "2.5"])).toBe(".");
  expect(decimalSignOf(["1,000", "12"])).toBeNull();
  expect(decimalSignOf(["1,5", "1.5"])).toBeNull();
  expect(decimalSignOf(["1.234,5"])).toBe(",");
});
