/** The access log of a course: who looked through whose eyes, and who saved which file. Source: semantics.md section 9. */
export const accessKinds = ["looked", "exported"] as const;
export type AccessKind = (typeof accessKinds)[number];

/** What somebody did within an hour, however often. */
export interface AccessLine {
  id: string;
  kind: AccessKind;
  /** Who did it. */
  by: string;
  /** Through whose eyes they looked; null where it is a file. */
  whose: string | null;
  /** The name of the file; empty where they looked. */
  what: string;
  /** When they did it first and last within that hour, in epoch milliseconds. */
  at: number;
  lastAt: number;
  times: number;
}
