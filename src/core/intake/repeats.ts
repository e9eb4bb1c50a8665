/** One id in several rows: equal rows, conflicting rows, and rows in two sections. Source: semantics.md section 2. */

import { fold } from "../text/caseless.ts";
import { disagree, equalRows } from "./facts.ts";
import type { RosterIdentity } from "./known.ts";
import type { RosterRow } from "./rows.ts";
import { type Judging, rowKey } from "./verdict.ts";

const inConflict = (a: RosterRow, b: RosterRow) =>
  fold(a.sectionCode) === fold(b.sectionCode) ? !equalRows(a, b) : disagree(a, b);

/** Judges the open rows of one id among themselves. */
export function judgeRepeats(judging: Judging, known: RosterIdentity, chosen: ReadonlySet<string>): void {
  const open = judging.openRows(known);
  if (open.length < 2) return;
  const conflicting = open.some((a, at) => open.slice(at + 1).some((b) => inConflict(a.row, b.row)));
  const picked = open.filter(({ row }) => chosen.has(rowKey(row)));
  const [choice] = picked;
  if (conflicting && (picked.length !== 1 || !choice)) {
    const lines = open.map(({ row }) => row.line).join(", ");
    for (const { at } of open)
      judging.settle(at, "duplicate", `lines ${lines} disagree about this person; choose the one that is right`, true);
    return;
  }
  const first = new Map<string, RosterRow>();
  for (const entry of conflicting && choice ? [choice, ...open.filter((other) => other !== choice)] : open) {
    const { at, row } = entry;
    const code = fold(row.sectionCode);
    const stands = first.get(code);
    if (stands) judging.settle(at, "duplicate", `the same as line ${stands.line}`);
    else if (conflicting && choice && entry !== choice && disagree(row, choice.row))
      judging.settle(at, "duplicate", `line ${choice.row.line} was chosen instead`);
    else first.set(code, row);
  }
}
