/**
 * Percentages compared exactly: 29 of 50 is 58 %, whatever floating point says of it. Numbers are taken for the
 * decimals that they are written as. Source: semantics.md sections 5 and 7.
 */

/** An exact fraction; `under` is above zero. */
export interface Fraction {
  over: bigint;
  under: bigint;
}

/** A number as the decimal that it is written as: 58.3 is 583 tenths. */
export function fractionOf(value: number): Fraction {
  const [digits = "0", exponent = "0"] = String(value).split("e");
  const [whole = "0", decimals = ""] = digits.split(".");
  const over = BigInt(whole + decimals);
  const shift = Number(exponent) - decimals.length;
  return shift >= 0 ? { over: over * 10n ** BigInt(shift), under: 1n } : { over, under: 10n ** BigInt(-shift) };
}

export const plus = (a: Fraction, b: Fraction): Fraction => ({
  over: a.over * b.under + b.over * a.under,
  under: a.under * b.under,
});
export const times = (a: Fraction, b: Fraction): Fraction => ({ over: a.over * b.over, under: a.under * b.under });
/** `b` is above zero. */
export const dividedBy = (a: Fraction, b: Fraction): Fraction => ({ over: a.over * b.under, under: a.under * b.over });
/** Below, at or above zero as `a` is below, at or above `b`. */
export function compareFractions(a: Fraction, b: Fraction): number {
  const difference = a.over * b.under - b.over * a.under;
  return difference === 0n ? 0 : difference < 0n ? -1 : 1;
}

/** How far apart two floating numbers must be, relative to their size, for their order to be beyond doubt. */
const doubt = 1e-9;
/** Whether two floating numbers are so near each other that only exact ones can say which is larger. */
export const isClose = (a: number, b: number): boolean =>
  Math.abs(a - b) <= doubt * Math.max(1, Math.abs(a), Math.abs(b));

/** Below, at or above zero as points of the possible are below, at or above a percentage. `possible` is above zero. */
export function comparePercent(points: number, possible: number, percent: number): number {
  const [left, right] = [points * 100, percent * possible];
  if (!isClose(left, right)) return left - right;
  return compareFractions(times(fractionOf(points), fractionOf(100)), times(fractionOf(percent), fractionOf(possible)));
}

/** Whether points reach a percentage of the possible. */
export const reachesPercent = (points: number, possible: number, percent: number): boolean =>
  comparePercent(points, possible, percent) >= 0;

/** A percentage to show: at most one decimal, never rounded up to a threshold that is not met. */
export const showPercent = (points: number, possible: number): string =>
  `${Math.floor((points / possible) * 1000 + 1e-6) / 10} %`;
