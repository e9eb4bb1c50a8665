/**
 * A bound that no groups can go below, for measuring how near forming comes. A number's sum in a group of n lies on
 * the grid of its values, and cannot be nearer to n times the mean than the grid allows; the sums add up to the
 * whole, so that of all groups just so many round up as the fractions add up to, those with the largest fractions.
 * A category's counts are the same with a grid of one. Gathering and partners are bounded by nothing.
 */
import type { Instance } from "./instance.ts";

/** The least sum of distances of whole numbers from targets, where the whole numbers add up to what the targets do. */
export function roundingLoss(targets: number[]): number {
  const fractions = targets.map((target) => target - Math.floor(target + 1e-9)).map((one) => Math.max(0, one));
  const up = Math.round(fractions.reduce((sum, one) => sum + one, 0));
  return [...fractions].sort((a, b) => b - a).reduce((sum, one, at) => sum + (at < up ? 1 - one : one), 0);
}

/** The largest step on which all values lie, or 0 where they have more than three decimals. */
function gridOf(values: number[]): number {
  const whole = values.map((value) => value * 1000);
  if (whole.some((value) => Math.abs(value - Math.round(value)) > 1e-6)) return 0;
  const divisor = (a: number, b: number): number => (b === 0 ? a : divisor(b, a % b));
  return whole.map((value) => Math.abs(Math.round(value))).reduce(divisor, 0) / 1000;
}

/** `values` are the numbers of each number wish, in the order of the instance's people; null where one is blank. */
export function lowerBound(instance: Instance, values: (number | null)[][]): number {
  if (instance.above === Number.POSITIVE_INFINITY) return 0;
  const sizes = Array.from({ length: instance.bins }, (_, at) => instance.low + Number(at < instance.above));
  let bound = 0;
  for (const [term, { factor }] of instance.numbers.entries()) {
    const own = values[term] ?? [];
    if (own.some((value) => value === null) || own.length === 0) continue;
    const numbers = own as number[];
    const grid = gridOf(numbers);
    if (grid === 0) continue;
    const mean = numbers.reduce((sum, value) => sum + value, 0) / numbers.length;
    bound += factor * grid * roundingLoss(sizes.map((size) => (size * mean) / grid));
  }
  for (const { factor, share } of instance.categories)
    for (const part of share) bound += factor * roundingLoss(sizes.map((size) => size * part));
  return bound;
}
