/** Reading, reconciling, comparing and applying rosters away from the page. No logic of its own. */

import type { ReadOn } from "../core/formats/oneroster/read.ts";
import type { SourceFile } from "../core/formats/read.ts";
import { type TextTable, type Unreadable, writeCsv } from "../core/formats/text.ts";
import type { Comparison, Scope } from "../core/intake/compare.ts";
import { plainRow, type RosterRow } from "../core/intake/rows.ts";
import {
  changesOf,
  compare,
  type Looked,
  look,
  mendable,
  readFiles,
  type Sample,
  type Source,
  sampleOf,
  type TableChoice,
} from "../core/intake/session.ts";
import type { Judged, ReconcileOptions } from "../core/intake/verdict.ts";
import type { Plan } from "../core/plan/types.ts";

/** What a person chose; what the files themselves name as ended is known here. */
type Choices = Omit<ReconcileOptions, "changesOnly">;
export type IntakeRequest =
  | { kind: "plan"; plan: Plan }
  | { kind: "read"; files: SourceFile[]; codes: string[]; on: ReadOn }
  /** A roster that was pulled: a table already. */
  | { kind: "table"; table: TextTable; codes: string[] }
  | { kind: "sheet"; source: number; sheet: number; codes: string[] }
  | { kind: "look"; choices: TableChoice[]; options: Choices; sectionLayer: string | null }
  | { kind: "compare"; choices: TableChoice[]; scope: Scope; now: number }
  | { kind: "mend" }
  | { kind: "apply"; address: string; body: Record<string, unknown>; options: Omit<Choices, "now"> };

export type IntakeAnswer =
  | { kind: "read"; samples: Sample[]; unreadable: Unreadable[] }
  | { kind: "looked"; looked: Omit<Looked, "reconciled"> & { reconciled: Omit<Looked["reconciled"], "rows"> } }
  | { kind: "compared"; comparison: Comparison }
  | { kind: "mended"; csv: string }
  | { kind: "applied"; status: number; body: Record<string, unknown> };

/** Every message names the question it belongs to. */
export type IntakeMessage = { id: number } & (
  | IntakeAnswer
  | { kind: "progress"; says: string; share: number }
  /** Verdicts come in pieces, so that the page takes a short breath for each and never a long one. */
  | { kind: "rows"; rows: Judged[] }
  | { kind: "failed"; sentence: string }
);

const sendable = (judged: Judged): Judged => ({ ...judged, row: plainRow(judged.row) });

let plan: Plan | null = null;
let sources: Source[] = [];
let rows: RosterRow[] = [];
let looked: Looked | null = null;

async function answer(id: number, request: IntakeRequest): Promise<IntakeAnswer | null> {
  const progress = (says: string) => (share: number) =>
    postMessage({ id, kind: "progress", says, share } satisfies IntakeMessage);
  switch (request.kind) {
    case "plan":
      plan = request.plan;
      return null;
    case "read": {
      const { files, codes, on } = request;
      const read = await readFiles(files, { codes, on, progressed: progress("Reading") });
      sources = read.sources;
      return {
        kind: "read",
        samples: sources.map((source) => sampleOf(source, request.codes)),
        unreadable: read.unreadable,
      };
    }
    case "table":
      sources = [{ contents: [request.table], chosen: 0 }];
      return { kind: "read", samples: sources.map((source) => sampleOf(source, request.codes)), unreadable: [] };
    case "sheet":
      sources = sources.map((source, at) => (at === request.source ? { ...source, chosen: request.sheet } : source));
      return { kind: "read", samples: sources.map((source) => sampleOf(source, request.codes)), unreadable: [] };
    case "look": {
      progress("Reconciling")(0);
      const result = look(plan as Plan, sources, request.choices, request.options, request.sectionLayer);
      ({ rows } = result);
      looked = result;
      const { rows: judged, ...reconciled } = result.reconciled;
      const piece = 5000;
      for (let from = 0; from < judged.length; from += piece) {
        postMessage({ id, kind: "rows", rows: judged.slice(from, from + piece).map(sendable) } satisfies IntakeMessage);
        progress("Reconciling")(from / judged.length);
      }
      return { kind: "looked", looked: { reconciled, consequences: result.consequences } };
    }
    case "compare":
      return {
        kind: "compared",
        comparison: compare(plan as Plan, sources, request.choices, request.scope, request.now),
      };
    case "mend": {
      const { header, rows: cells } = looked ? mendable(sources, looked.reconciled) : { header: [], rows: [] };
      return { kind: "mended", csv: writeCsv(header, cells) };
    }
    case "apply": {
      progress("Applying")(0.5);
      const response = await fetch(request.address, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({
          ...request.body,
          options: { ...request.options, changesOnly: changesOf(sources) },
          rows: rows.map(plainRow),
        }),
      });
      const body = (await response.json().catch(() => ({}))) as Record<string, unknown>;
      return { kind: "applied", status: response.status, body };
    }
  }
}

addEventListener("message", async ({ data }: MessageEvent<IntakeRequest & { id: number }>) => {
  const { id, ...request } = data;
  try {
    const made = await answer(id, request as IntakeRequest);
    if (made) postMessage({ id, ...made } satisfies IntakeMessage);
  } catch (error) {
    const isLost = request.kind === "apply";
    postMessage({
      id,
      kind: "failed",
      sentence: isLost
        ? "The server did not answer, so it is not known whether the roster was applied. Press Apply again: it is never applied twice."
        : `This could not be read: ${(error as Error).message}. Nothing was changed.`,
    } satisfies IntakeMessage);
  }
});
