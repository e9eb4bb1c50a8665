import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { sayDate, sayDay, sayInstant } from "../../clock/local-time.ts";
import { type LocaleSetting, locales, withLocale } from "../../text/locale.ts";
import { readLocalDate } from "./local-dates.ts";
import { readMoment, type TypedContext } from "./typed.ts";

const context: TypedContext = {
  course: { termStart: "2026-09-21", termEnd: "2027-01-29" },
  today: "2026-11-25",
  from: null,
  usualTime: "09:00",
};
const read = (locale: string, text: string) => withLocale({ locale, hours: "usual" }, () => readMoment(text, context));

describe("dates as the reader's locale writes them", () => {
  test.each([
    ["en-US", "10/5", "2026-10-05T09:00"],
    ["en-US", "Mon, Oct 5, 9:30 PM", "2026-10-05T21:30"],
    ["en-US", "october 5 2026", "2026-10-05T09:00"],
    ["en-US", "10/5 5pm", "2026-10-05T17:00"],
    ["en-GB", "5/10", "2026-10-05T09:00"],
    ["en-GB", "05/10/2026, 14:05", "2026-10-05T14:05"],
    ["en-GB", "5/10/26", "2026-10-05T09:00"],
    ["de-DE", "5.10.", "2026-10-05T09:00"],
    ["de-DE", "Montag, 5. Oktober", "2026-10-05T09:00"],
    ["de-DE", "5 okt 9:00", "2026-10-05T09:00"],
    ["sv-SE", "mån 5 okt. 14:05", "2026-10-05T14:05"],
    ["ja-JP", "10月5日(月) 14:05", "2026-10-05T14:05"],
    ["fr-CA", "lun. 5 oct., 14 h 05", "2026-10-05T14:05"],
    ["tr-TR", "5 ARALIK", "2026-12-05T09:00"],
  ])("%s: %s", (locale, text, wall) => {
    expect(read(locale, text)).toEqual({ value: wall });
  });

  test.each([
    ["en-US", "13/5", "is not understood"],
    ["en-GB", "31/11", "There is no 31 November."],
    ["de-DE", "Di., 5. Okt.", "5. Okt. is a Monday, not a Tuesday."],
    ["de-DE", "5. Okt., 25:00", "No clock shows that time."],
  ])("%s: %s says what is wrong", (locale, text, says) => {
    expect(read(locale, text)).toEqual({ wrong: expect.stringContaining(says) });
  });

  test("neither a number nor a day as it is stored is one", () => {
    for (const text of ["5", "10 5", "2026-10-05", "2026-10-05 09:00"]) expect(readLocalDate(text)).toBeNull();
  });

  test("what English words mean stays so for every reader", () => {
    for (const locale of locales.filter((_, place) => place % 5 === 0)) {
      expect(read(locale, "fri 5pm")).toEqual({ value: "2026-11-27T17:00" });
      expect(read(locale, "5 oct 9:00")).toEqual({ value: "2026-10-05T09:00" });
      expect(read(locale, "2026-10-05 09:00")).toEqual({ value: "2026-10-05T09:00" });
    }
  });

  test("whatever is shown is read as what it was, in every locale that is offered", () => {
    const settings: fc.Arbitrary<LocaleSetting> = fc.record({
      locale: fc.constantFrom(...locales),
      hours: fc.constantFrom("usual", "12", "24"),
    });
    const minutes = fc.integer({ min: 0, max: 130 * 1440 - 1 });
    fc.assert(
      fc.property(settings, minutes, (setting, minute) => {
        const at = Date.parse("2026-09-21T00:00:00Z") + minute * 60_000;
        const wall = new Date(at).toISOString().slice(0, 16);
        withLocale(setting, () => {
          expect(readMoment(sayInstant(at, "UTC"), context)).toEqual({ value: wall });
          for (const say of [sayDay, sayDate])
            expect(readMoment(say(wall.slice(0, 10)), context)).toEqual({ value: `${wall.slice(0, 10)}T09:00` });
        });
      }),
      { numRuns: 400 },
    );
  });
});
