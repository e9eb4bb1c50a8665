/** Lines of the journal, and one of them opened. Source: semantics.md section 8. */
import type { RowWords } from "./row-words.ts";

export const journalKinds = [
  "publication",
  "planned",
  "intake",
  "placement",
  "marks",
  "attempts",
  "message",
  "members",
  "staff",
  "sections",
] as const;
export type JournalKind = (typeof journalKinds)[number];

export interface JournalLine {
  id: string;
  revision: number;
  at: number;
  by: string;
  kind: JournalKind;
  says: string;
}

export interface MarkLine {
  itemId: string;
  personId?: string;
  groupId?: string;
  from: { points: number | null; excused: boolean } | null;
  to: { points: number | null; excused: boolean } | null;
}
export interface JournalDetail {
  line: JournalLine;
  /** What changed, row by row. */
  rows: RowWords[];
  /** Rows past those that are told. */
  more: number;
  marks: MarkLine[];
  /** What of it could be reverted now, in rows, and what would stay; null where nothing of the plan changed. */
  revert: { rows: number; staying: string[] } | null;
}
