/** One id in several rows: equal rows, conflicting rows, and rows in two sections. Source: semantics.md section 2. */

import { fold } from "../text/caseless.ts";
import { anyConflict, disagree } from "./facts.ts";
import type { RosterIdentity } from "./known.ts";
import type { RosterRow } from "./rows.ts";
import { type Judging, rowKey } from "./verdict.ts";

type OpenRow = ReturnType<Judging["openRows"]>[number];

/** Line numbers as they are said: of many the first, and how many more. */
function sayLines(lines: readonly number[]): string {
  const first = lines.slice(0, 6).join(", ");
  return lines.length > 6 ? `${first} and ${lines.length - 6} more` : first;
}

/** Judges the open rows of one id among themselves. */
export function judgeRepeats(judging: Judging, known: RosterIdentity, chosen: ReadonlySet<string>): void {
  const open = judging.openRows(known);
  if (open.length < 2) return;
  const conflicting = anyConflict(open.map(({ row }) => row));
  const picked = open.filter(({ row }) => chosen.has(rowKey(row)));
  const [choice] = picked;
  if (conflicting && (picked.length !== 1 || !choice)) {
    const lines = sayLines(open.map(({ row }) => row.line));
    const says = `lines ${lines} disagree about this person; choose the one that is right`;
    for (const { at } of open) judging.settle(at, "duplicate", says, true);
    return;
  }
  judgeFirsts(judging, open, conflicting ? (choice ?? null) : null);
}

/** Of the lines of each section the first stands: the chosen one, where lines disagree, before all others. */
function judgeFirsts(judging: Judging, open: OpenRow[], choice: OpenRow | null): void {
  const first = new Map<string, RosterRow>();
  for (const entry of choice ? [choice, ...open.filter((other) => other !== choice)] : open) {
    const { at, row } = entry;
    const code = fold(row.sectionCode);
    const stands = first.get(code);
    if (stands) judging.settle(at, "duplicate", `the same as line ${stands.line}`);
    else if (choice && entry !== choice && disagree(row, choice.row))
      judging.settle(at, "duplicate", `line ${choice.row.line} was chosen instead`);
    else first.set(code, row);
  }
}
