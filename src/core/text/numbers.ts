/** Numbers as people and spreadsheets write them: 14.5, 14,5, 1 234.5, 1.234,5. */

export type DecimalSign = "." | ",";

const grouped = (sign: string): RegExp => new RegExp(`^\\d{1,3}(?:${sign}\\d{3})+$`);

/** A whole number whose thousands may be set apart; null where they are set apart in another way. */
function wholeOf(text: string, thousands: "." | "," | null): string | null {
  const spaced = /[ \u00a0\u202f'’]/;
  if (spaced.test(text)) return grouped("[ \\u00a0\\u202f'’]").test(text) ? text.replace(/\D/g, "") : null;
  if (thousands !== null && text.includes(thousands))
    return grouped(`\\${thousands}`).test(text) ? text.replaceAll(thousands, "") : null;
  return /^\d*$/.test(text) ? text : null;
}

/**
 * A number that is not negative; null where the text is none, and "either" where it may be two: 1,000 is one, or a
 * thousand. `decimal`: the sign that whoever wrote the text uses, where that is known.
 */
export function readNumber(text: string, decimal: DecimalSign | null = null): number | "either" | null {
  const trimmed = text.trim();
  if (!/\d/.test(trimmed)) return null;
  const signs = [...trimmed.matchAll(/[.,]/g)].map(([sign]) => sign as DecimalSign);
  const last = signs.at(-1);
  if (last === undefined) return numberOf(trimmed, null, null);
  const isOnly = signs.length === 1;
  if (!isOnly && signs.every((sign) => sign === last)) return numberOf(trimmed, null, last);
  if (isOnly && decimal !== null && decimal !== last) return numberOf(trimmed, null, last);
  // Three digits behind a comma may be a thousand's; behind a point they are not, since points are written so here.
  if (isOnly && decimal === null && last === "," && /^[1-9]\d{0,2},\d{3}$/.test(trimmed)) return "either";
  return numberOf(trimmed, last, last === "." ? "," : ".");
}

function numberOf(text: string, decimal: DecimalSign | null, thousands: DecimalSign | null): number | null {
  const at = decimal === null ? -1 : text.lastIndexOf(decimal);
  const whole = wholeOf(at < 0 ? text : text.slice(0, at), thousands);
  const rest = at < 0 ? "" : text.slice(at + 1);
  return whole === null || !/^\d*$/.test(rest) || whole + rest === "" ? null : Number(`${whole || "0"}.${rest || "0"}`);
}

/** The decimal sign that some texts of one hand share, by those that can be read in one way alone; null where none tells. */
export function decimalSignOf(texts: Iterable<string>): DecimalSign | null {
  const found = new Set<DecimalSign>();
  for (const text of texts) {
    const told = /^\d*([.,])(?:\d{1,2}|\d{4,})$/.exec(text.trim()) ?? /[.,]\d{3}([.,])\d+$/.exec(text.trim());
    if (told) found.add(told[1] as DecimalSign);
  }
  return found.size === 1 ? ([...found][0] as DecimalSign) : null;
}
