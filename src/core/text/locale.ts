/**
 * How whoever reads wants dates, times and numbers written and names sorted. The words around them stay English; days are
 * those of the Gregorian calendar, and digits are 0 to 9, so that what is read can be typed.
 *
 * Nearly every sentence with a date or a number ends here: whose reading it is for is asked here, and not handed through
 * all of them.
 */

/** Offered where one chooses: a language with the region that decides the order of a date and the first day of the week. */
export const locales = (
  "ar-EG ar-SA bg-BG bn-BD ca-ES cs-CZ cy-GB da-DK de-AT de-CH de-DE el-GR en-AU en-CA en-GB en-IE en-IN en-NZ en-SG en-US " +
  "en-ZA es-ES es-MX et-EE eu-ES fa-IR fi-FI fr-BE fr-CA fr-CH fr-FR ga-IE gl-ES he-IL hi-IN hr-HR hu-HU id-ID is-IS it-IT " +
  "ja-JP ko-KR lt-LT lv-LV ms-MY mt-MT nb-NO nl-BE nl-NL pl-PL pt-BR pt-PT ro-RO ru-RU sk-SK sl-SI sr-RS sv-SE sw-KE th-TH " +
  "tr-TR uk-UA ur-PK vi-VN zh-CN zh-TW"
).split(" ");

export const hourChoices = ["usual", "12", "24"] as const;
export interface LocaleSetting {
  /** One of `locales`. */
  locale: string;
  /** Of a clock: as is usual in that locale, or always 12 or 24. */
  hours: (typeof hourChoices)[number];
}

/** What is kept for readers who are not known is written so: journals, findings, letters to nobody in particular. */
export const plainLocale: LocaleSetting = { locale: "en-GB", hours: "usual" };

let usual = plainLocale;
let asked: () => LocaleSetting | null = () => null;
let held: LocaleSetting | null = null;

/** Says once whose locale a page, or a worker of it, is for. */
export const setLocale = (setting: LocaleSetting): void => {
  usual = setting;
};
/** Says how it is found whom is answered just now, where many are at once. `ask` gives null where it is nobody. */
export const askLocaleBy = (ask: () => LocaleSetting | null): void => {
  asked = ask;
};
/** The locale of what is put in order once for all readers of this process. */
export const localeOfAll = (): LocaleSetting => usual;
/** The locale of whoever reads what is written now. */
export const readersLocale = (): LocaleSetting => held ?? asked() ?? usual;

/** Does something for a reader of another locale. It may not wait for anything: others would be written to so meanwhile. */
export function withLocale<Result>(
  setting: LocaleSetting,
  work: () => Result extends Promise<unknown> ? never : Result,
): Result {
  const before = held;
  held = setting;
  try {
    return work();
  } finally {
    held = before;
  }
}

/** The tag by which Intl writes with Gregorian days, our digits, and the chosen hours. */
export const intlTag = ({ locale, hours }: LocaleSetting): string =>
  `${locale}-u-ca-gregory-nu-latn${hours === "usual" ? "" : hours === "12" ? "-hc-h12" : "-hc-h23"}`;

/** Something made of a locale, once each. Sorting asks for every pair of names: the last one is at hand. */
export function perLocale<Made>(make: (setting: LocaleSetting) => Made): () => Made {
  const made = new Map<string, Made>();
  let last: { setting: LocaleSetting; one: Made } | null = null;
  return () => {
    const setting = readersLocale();
    if (last?.setting === setting) return last.one;
    const key = intlTag(setting);
    const one = made.get(key) ?? make(setting);
    made.set(key, one);
    last = { setting, one };
    return one;
  };
}

const wholeNumbers = perLocale((setting) => new Intl.NumberFormat(intlTag(setting)));
/** "1,204" */
export const sayNumber = (number: number): string => wholeNumbers().format(number);

const decimals = perLocale((setting) => {
  const made: Intl.NumberFormat[] = [];
  return (digits: number): Intl.NumberFormat => {
    const ends = { minimumFractionDigits: digits, maximumFractionDigits: digits };
    made[digits] ??= new Intl.NumberFormat(intlTag(setting), ends);
    return made[digits];
  };
});
/** "71.4": with so many digits behind the decimal sign. */
export const sayDecimal = (number: number, digits: number): string => decimals()(digits).format(number);

/** "14.5": points, with as many digits as they have, as they are typed. */
export const sayPoints = (points: number): string => String(points).replace(".", decimalSign());

const decimalSigns = perLocale(
  (setting) =>
    new Intl.NumberFormat(intlTag(setting)).formatToParts(1.5).find(({ type }) => type === "decimal")?.value ?? ".",
);
/** What stands before tenths. */
export const decimalSign = (): string => decimalSigns();

const nameOrders = perLocale(({ locale }) => new Intl.Collator(locale, { sensitivity: "base", numeric: true }).compare);
/** Which of two names comes first in the reader's alphabet. */
export const compareInAlphabet = (a: string, b: string): number => nameOrders()(a, b);

/** Says what a locale is called, in English: "Austrian German". */
export const sayLocale = (locale: string): string =>
  new Intl.DisplayNames(["en"], { type: "language" }).of(locale) ?? locale;
