/** Reading and reconciling rosters away from the page. No logic of its own. */

import { readTable, type TextTable, type Unreadable } from "../core/formats/text.ts";
import { type ColumnMatch, matchColumns } from "../core/intake/columns.ts";
import { type Reconciled, type ReconcileOptions, reconcile } from "../core/intake/reconcile.ts";
import { type RosterRow, rosterRows } from "../core/intake/rows.ts";
import type { Plan } from "../core/plan/types.ts";

export interface SourceFile {
  name: string;
  content: Uint8Array | string;
}
export type IntakeRequest =
  | { kind: "read"; id: number; files: SourceFile[]; codes: string[] }
  | {
      kind: "reconcile";
      id: number;
      plan: Plan;
      tables: { table: TextTable; match: ColumnMatch; sectionCode: string }[];
      options: ReconcileOptions;
    };
export type IntakeAnswer =
  | {
      kind: "read";
      id: number;
      tables: { table: TextTable; match: ColumnMatch }[];
      unreadable: Unreadable[];
    }
  | { kind: "reconcile"; id: number; rows: RosterRow[]; reconciled: Reconciled };

addEventListener("message", ({ data }: MessageEvent<IntakeRequest>) => {
  if (data.kind === "read") {
    const read = data.files.map(({ name, content }) => readTable(name, content));
    const tables = read
      .filter((table): table is TextTable => !("unreadable" in table))
      .map((table) => ({ table, match: matchColumns(table, data.codes) }));
    const unreadable = read.filter((table): table is Unreadable => "unreadable" in table);
    postMessage({ kind: "read", id: data.id, tables, unreadable } satisfies IntakeAnswer);
  } else {
    const rows = data.tables.flatMap(({ table, match, sectionCode }) => rosterRows(table, match, sectionCode));
    postMessage({
      kind: "reconcile",
      id: data.id,
      rows,
      reconciled: reconcile(data.plan, rows, data.options),
    } satisfies IntakeAnswer);
  }
});
