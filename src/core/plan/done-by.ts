/** What one person did in all of a course, an item after another. */
import { type Progress, progressByItem } from "./progress.ts";

export interface Done {
  handIns: number;
  marks: number;
  openings: number;
  /** When they handed something in last, epoch milliseconds; null where they never did. */
  lastHandIn: number | null;
}

/** Counted by walking: others may have their turn after each item, since of a large course most rows are read for it. */
export function* doneBy(progress: Progress, personId: string): Generator<void, Done> {
  const { marks, handIns, openings } = progressByItem(progress);
  const done: Done = { handIns: 0, marks: 0, openings: 0, lastHandIn: null };
  for (const rows of marks.values()) {
    done.marks += rows.filter((row) => row.personId === personId).length;
    yield;
  }
  for (const rows of openings.values()) {
    done.openings += rows.filter((row) => row.personId === personId).length;
    yield;
  }
  for (const rows of handIns.values()) {
    for (const row of rows) {
      if (row.personId !== personId) continue;
      done.handIns++;
      done.lastHandIn = Math.max(done.lastHandIn ?? row.at, row.at);
    }
    yield;
  }
  return done;
}
