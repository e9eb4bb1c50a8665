/** Sets of students as bits in 32-bit words: student n is bit n % 32 of word n / 32. */

export type Bits = Uint32Array;

export const emptyBits = (count: number): Bits => new Uint32Array((count + 31) >>> 5);

export function fullBits(count: number): Bits {
  const bits = emptyBits(count).fill(0xffffffff);
  // Bits past the last student stay clear, so that counting needs no mask.
  if (count % 32 !== 0) bits[bits.length - 1] = 0xffffffff >>> (32 - (count % 32));
  return bits;
}

export const setBit = (bits: Bits, index: number): void => {
  bits[index >>> 5] = (bits[index >>> 5] as number) | (1 << (index & 31));
};
export const clearBit = (bits: Bits, index: number): void => {
  bits[index >>> 5] = (bits[index >>> 5] as number) & ~(1 << (index & 31));
};
export const hasBit = (bits: Bits, index: number): boolean =>
  (((bits[index >>> 5] as number) >>> (index & 31)) & 1) === 1;

export const copyBits = (bits: Bits): Bits => bits.slice();

export function isEmpty(bits: Bits): boolean {
  for (let word = 0; word < bits.length; word++) if (bits[word] !== 0) return false;
  return true;
}

export function and(a: Bits, b: Bits): Bits {
  const result = new Uint32Array(a.length);
  for (let word = 0; word < a.length; word++) result[word] = (a[word] as number) & (b[word] as number);
  return result;
}
export function or(a: Bits, b: Bits): Bits {
  const result = new Uint32Array(a.length);
  for (let word = 0; word < a.length; word++) result[word] = (a[word] as number) | (b[word] as number);
  return result;
}
export function andNot(a: Bits, b: Bits): Bits {
  const result = new Uint32Array(a.length);
  for (let word = 0; word < a.length; word++) result[word] = (a[word] as number) & ~(b[word] as number);
  return result;
}

/** Whether everybody of one set is in another. */
export function isSubset(a: Bits, b: Bits): boolean {
  for (let word = 0; word < a.length; word++) if (((a[word] as number) & ~(b[word] as number)) !== 0) return false;
  return true;
}

/** Whether two sets have somebody in common. */
export function overlap(a: Bits, b: Bits): boolean {
  for (let word = 0; word < a.length; word++) if (((a[word] as number) & (b[word] as number)) !== 0) return true;
  return false;
}

/** Operations within one roster that make no new set where one side is everyone or nobody, as it most often is. */
export interface Algebra {
  everyone: Bits;
  nobody: Bits;
  both(a: Bits, b: Bits): Bits;
  either(a: Bits, b: Bits): Bits;
  without(a: Bits, b: Bits): Bits;
}
export function algebraOf(count: number): Algebra {
  const [everyone, nobody] = [fullBits(count), emptyBits(count)];
  return {
    everyone,
    nobody,
    both: (a, b) =>
      a === b || b === everyone ? a : a === everyone ? b : a === nobody || b === nobody ? nobody : and(a, b),
    either: (a, b) =>
      a === b || b === nobody ? a : a === nobody ? b : a === everyone || b === everyone ? everyone : or(a, b),
    without: (a, b) => (b === nobody ? a : a === nobody || a === b || b === everyone ? nobody : andNot(a, b)),
  };
}

/** How many bits of a word are set. */
export function countWord(word: number): number {
  const pairs = word - ((word >>> 1) & 0x55555555);
  const fours = (pairs & 0x33333333) + ((pairs >>> 2) & 0x33333333);
  return (((fours + (fours >>> 4)) & 0x0f0f0f0f) * 0x01010101) >>> 24;
}

export function countBits(bits: Bits): number {
  let count = 0;
  for (let word = 0; word < bits.length; word++) count += countWord(bits[word] as number);
  return count;
}

/** How many bits two sets share. */
export function countShared(a: Bits, b: Bits): number {
  let count = 0;
  for (let word = 0; word < a.length; word++) count += countWord((a[word] as number) & (b[word] as number));
  return count;
}

export function sameBits(a: Bits, b: Bits): boolean {
  if (a === b) return true;
  for (let word = 0; word < a.length; word++) if (a[word] !== b[word]) return false;
  return true;
}

/** Calls with every index of a set, ascending. */
export function eachBit(bits: Bits, call: (index: number) => void): void {
  for (let word = 0; word < bits.length; word++) {
    let value = bits[word] as number;
    while (value !== 0) {
      const low = value & -value;
      call(word * 32 + 31 - Math.clz32(low));
      value ^= low;
    }
  }
}

/** The indexes of a set, ascending. */
export function listBits(bits: Bits): number[] {
  const found: number[] = [];
  eachBit(bits, (index) => found.push(index));
  return found;
}
