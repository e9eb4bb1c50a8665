/** The stripe a new group gets: first free mark, next colour and pattern in turn. Source: semantics.md section 3. */
import type { Group, Stripe } from "../plan/types.ts";

const initials = (name: string): string[] => {
  const compact = name.replace(/[^\p{L}\p{N} ]/gu, " ").trim();
  const words = compact.split(/\s+/);
  const joined = words.map((word) => word[0] ?? "").join("");
  const number = /\d+$/.exec(compact)?.[0] ?? "";
  const digits = compact.replace(/\D/g, "");
  return [
    // "Day 2 team 3" is D23: with two numbers in a name, both tell it from its neighbours.
    /\d.*\D.*\d/.test(compact) && digits.length === 2 ? (joined[0] ?? "") + digits : "",
    compact.length <= 3 ? compact : "",
    number && words.length > 1 ? (joined[0] ?? "") + number.slice(-2) : "",
    joined.slice(0, 3),
    compact.slice(0, 2),
    compact.slice(0, 3),
  ];
};

/** A mark of up to three characters that no group of the layer has. */
export function freeMark(name: string, taken: Set<string>): string {
  for (const candidate of initials(name)) {
    const mark = candidate.toUpperCase().replace(/\s/g, "");
    if (mark && !taken.has(mark)) return mark;
  }
  for (let number = 1; ; number++) {
    // Past ninety-nine, letters count too: three characters tell 46,656 groups apart.
    const mark = number < 100 ? `${(name[0] ?? "G").toUpperCase()}${number}` : number.toString(36).toUpperCase();
    if (!taken.has(mark)) return mark;
  }
}

export function nextStripe(name: string, groups: Pick<Group, "stripe">[]): Stripe {
  const mark = freeMark(name, new Set(groups.map(({ stripe }) => stripe.mark.toUpperCase())));
  const number = groups.length;
  // Patterns change with every colour, and shift after each round of colours, so that 96 groups differ.
  return { colour: number % 12, pattern: (number + Math.floor(number / 12)) % 8, mark };
}
