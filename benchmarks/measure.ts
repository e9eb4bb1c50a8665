/** Measuring: the best, or the median, of several runs of each, interleaved, always as a ratio to a floor or peer of the same run. */
export interface Row {
  name: string;
  /** Milliseconds of ours. */
  ours: number;
  /** What it is held against: a floor (the least work there could be) or a peer. */
  against: { name: string; milliseconds: number; kind: "floor" | "peer" }[];
  /** What was measured, in sizes. */
  note: string;
  /** Megabytes that the process held at most. */
  memory?: number;
  /** The same at several sizes of a course, the smallest first; nothing else is it held against. */
  growth?: { students: number; milliseconds: number }[];
}

/** A small pass shows that every measure still runs; its figures mean nothing. */
export const isQuick = process.env.AMBER_BENCH === "quick";
/** A number of students, rows or rounds: as said, or much smaller in a small pass. */
export const sized = (full: number, quick: number): number => (isQuick ? quick : full);

/** Milliseconds of the fastest of `times` runs of each task, interleaved so that all share the machine's moods. */
export async function fastest<Name extends string>(
  tasks: Record<Name, () => unknown>,
  times = 7,
): Promise<Record<Name, number>> {
  const names = Object.keys(tasks) as Name[];
  const best = Object.fromEntries(names.map((name) => [name, Number.POSITIVE_INFINITY])) as Record<Name, number>;
  for (let round = 0; round < sized(times, 1); round++) {
    for (const name of names) {
      const started = performance.now();
      await tasks[name]();
      best[name] = Math.min(best[name], performance.now() - started);
    }
  }
  return best;
}

export const median = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1] as number;

/** Keeps a result alive, so that no run is optimised away. */
let kept = 0;
export const keep = (value: number): void => {
  kept = (kept + value) | 0;
};
