/** Conditions as sets: every part of a tree from its leaves. Source: semantics.md section 5. */
import type { Condition } from "../plan/types.ts";
import type { Algebra, Bits } from "../sets/bits.ts";

export type Leaf = Exclude<Condition, { of: Condition[] }>;

/** For whom something may hold and for whom it may not hold: complements, unless progress is still open. */
export interface Verdicts {
  may: Bits;
  mayNot: Bits;
}

/** Whom a condition holds for, from whom its leaves hold for. Empty all-of and none-of hold; empty any-of does not. */
export function holdsOf(condition: Condition, sets: Algebra, leaf: (leaf: Leaf) => Bits): Bits {
  const { everyone, nobody, both, either, without } = sets;
  const ask = (part: Condition): Bits => {
    if (!("of" in part)) return leaf(part);
    if (part.kind === "allOf") return part.of.reduce((bits, one) => both(bits, ask(one)), everyone);
    if (part.kind === "anyOf") return part.of.reduce((bits, one) => either(bits, ask(one)), nobody);
    return part.of.reduce((bits, one) => without(bits, ask(one)), everyone);
  };
  return ask(condition);
}

/** The same for what may be, judged leaf by leaf. `each` is told of every part on the way. */
export function verdictsOf(
  condition: Condition,
  { everyone, nobody, both, either }: Algebra,
  leaf: (leaf: Leaf) => Verdicts,
  each: (part: Condition, verdicts: Verdicts) => void = () => {},
): Verdicts {
  const ask = (part: Condition): Verdicts => {
    const found = "of" in part ? together(part.kind, part.of.map(ask)) : leaf(part);
    each(part, found);
    return found;
  };
  const together = (kind: "allOf" | "anyOf" | "noneOf", parts: Verdicts[]): Verdicts => {
    const all = (side: keyof Verdicts) => parts.reduce((bits, part) => both(bits, part[side]), everyone);
    const any = (side: keyof Verdicts) => parts.reduce((bits, part) => either(bits, part[side]), nobody);
    if (kind === "allOf") return { may: all("may"), mayNot: any("mayNot") };
    if (kind === "anyOf") return { may: any("may"), mayNot: all("mayNot") };
    return { may: all("mayNot"), mayNot: any("may") };
  };
  return ask(condition);
}
