import { afterEach, expect, test } from "vitest";
import { sayInstant, sayTime, weekStart } from "../clock/local-time.ts";
import {
  askLocaleBy,
  compareInAlphabet,
  decimalSign,
  type LocaleSetting,
  locales,
  plainLocale,
  readersLocale,
  sayDecimal,
  sayLocale,
  sayNumber,
  setLocale,
  withLocale,
} from "./locale.ts";

afterEach(() => {
  askLocaleBy(() => null);
  setLocale(plainLocale);
});

const inLocale = <Said>(locale: string, say: () => Said, hours: LocaleSetting["hours"] = "usual"): Said =>
  withLocale({ locale, hours }, say as never);
const monday = Date.parse("2026-10-05T21:05:00Z");

test("a date stands in its reader's order, with their hours", () => {
  const say = () => sayInstant(monday, "UTC");
  expect(say()).toBe("Mon 5 Oct, 21:05");
  expect(inLocale("en-US", say)).toBe("Mon, Oct 5, 9:05 PM");
  expect(inLocale("en-US", say, "24")).toBe("Mon, Oct 5, 21:05");
  expect(inLocale("de-DE", say)).toBe("Mo., 5. Okt., 21:05");
  expect(inLocale("en-GB", say, "12")).toBe("Mon 5 Oct, 09:05 pm");
  expect(inLocale("en-US", () => sayTime("00:30"), "24")).toBe("00:30");
});

test("a date in a script from right to left does not turn the English around it", () => {
  const said = inLocale("he-IL", () => sayInstant(monday, "UTC"));
  expect([said.at(0), said.at(-1)]).toEqual(["\u2068", "\u2069"]);
});

test("numbers are written as their reader writes them, with our digits", () => {
  expect(inLocale("de-DE", () => [sayNumber(1234567), sayDecimal(71.46, 1), decimalSign()])).toEqual([
    "1.234.567",
    "71,5",
    ",",
  ]);
  for (const locale of locales) expect(inLocale(locale, () => sayNumber(1234567))).toMatch(/^[\d\p{P}\p{Z}]+$/u);
});

test("a week begins where the reader's does", () => {
  expect(["en-GB", "en-US", "ar-EG"].map((locale) => inLocale(locale, () => weekStart("2026-10-07")))).toEqual([
    "2026-10-05",
    "2026-10-04",
    "2026-10-03",
  ]);
});

test("names stand in the reader's alphabet", () => {
  const names = ["Zander", "Åberg", "Adams"];
  const sorted = (locale: string) => inLocale(locale, () => names.toSorted(compareInAlphabet));
  expect(sorted("en-GB")).toEqual(["Åberg", "Adams", "Zander"]);
  expect(sorted("sv-SE")).toEqual(["Adams", "Zander", "Åberg"]);
});

test("whoever is answered just now comes before the page's own, and what is held before both", () => {
  setLocale({ locale: "fr-FR", hours: "usual" });
  expect(readersLocale().locale).toBe("fr-FR");
  askLocaleBy(() => ({ locale: "de-DE", hours: "24" }));
  expect(readersLocale().locale).toBe("de-DE");
  expect(() =>
    inLocale("en-US", () => {
      expect(readersLocale().locale).toBe("en-US");
      throw new Error("half way");
    }),
  ).toThrow("half way");
  expect(readersLocale().locale).toBe("de-DE");
});

test("every locale that is offered is known to this machine, and called something", () => {
  expect(Intl.DateTimeFormat.supportedLocalesOf(locales)).toEqual(locales);
  expect(new Set(locales.map(sayLocale)).size).toBe(locales.length);
});
