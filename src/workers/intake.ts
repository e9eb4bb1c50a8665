/** Reading, reconciling, comparing and applying rosters away from the page. No logic of its own. */

import "./page-locale.ts";
import { expose } from "comlink";
import type { ReadOn } from "../core/formats/oneroster/read.ts";
import type { SourceFile } from "../core/formats/read.ts";
import { writeCsv } from "../core/formats/text.ts";
import type { TextTable, Unreadable } from "../core/formats/text-table.ts";
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
export interface IntakeProgress {
  says: string;
  /** 0 to 1. */
  share: number;
}
type OnProgress = (progress: IntakeProgress) => void;
interface ReadFiles {
  samples: Sample[];
  unreadable: Unreadable[];
}
/** Verdicts of the rows come apart from it. */
export type LookedAt = Omit<Looked, "reconciled"> & { reconciled: Omit<Looked["reconciled"], "rows"> };

const sendable = (judged: Judged): Judged => ({ ...judged, row: plainRow(judged.row) });

let plan: Plan | null = null;
let sources: Source[] = [];
let rows: RosterRow[] = [];
let looked: Looked | null = null;

const samplesFor = (codes: string[]) => sources.map((source) => sampleOf(source, codes));

async function read(
  files: SourceFile[],
  { codes, on }: { codes: string[]; on: ReadOn },
  onProgress: OnProgress,
): Promise<ReadFiles> {
  const progressed = (share: number) => onProgress({ says: "Reading", share });
  const found = await readFiles(files, { codes, on, progressed });
  sources = found.sources;
  return { samples: samplesFor(codes), unreadable: found.unreadable };
}

/**
 * Reconciles what was read. `onRows` is given the verdicts in pieces, so that the page takes a short breath for each
 * and never a long one.
 */
async function lookAt(
  choices: TableChoice[],
  { options, sectionLayer }: { options: Choices; sectionLayer: string | null },
  onProgress: OnProgress,
  onRows: (rows: Judged[]) => void,
): Promise<LookedAt> {
  onProgress({ says: "Reconciling", share: 0 });
  const result = look(plan as Plan, sources, choices, options, sectionLayer);
  ({ rows } = result);
  looked = result;
  const { rows: judged, ...reconciled } = result.reconciled;
  const piece = 5000;
  for (let from = 0; from < judged.length; from += piece) {
    await onRows(judged.slice(from, from + piece).map(sendable));
    onProgress({ says: "Reconciling", share: from / judged.length });
  }
  return { reconciled, consequences: result.consequences };
}

/** Sends the rows, and gives what the server answered; status 0 where no answer came. */
async function apply(
  address: string,
  { body, options }: { body: Record<string, unknown>; options: Omit<Choices, "now"> },
  onProgress: OnProgress,
): Promise<{ status: number; body: Record<string, unknown> }> {
  onProgress({ says: "Applying", share: 0.5 });
  const request = { ...body, options: { ...options, changesOnly: changesOf(sources) }, rows: rows.map(plainRow) };
  const headers = { "content-type": "application/json" };
  const response = await fetch(address, { method: "POST", headers, body: JSON.stringify(request) }).catch(() => null);
  if (!response) return { status: 0, body: { detail: notAnswered } };
  return { status: response.status, body: (await response.json().catch(() => ({}))) as Record<string, unknown> };
}
const notAnswered =
  "The server did not answer, so it is not known whether the roster was applied. Press Apply again: it is never applied twice.";

const functions = {
  setPlan(published: Plan) {
    plan = published;
  },
  read,
  /** A roster that was pulled: a table already. */
  takeTable(table: TextTable, codes: string[]): ReadFiles {
    sources = [{ contents: [table], chosen: 0 }];
    return { samples: samplesFor(codes), unreadable: [] };
  },
  chooseSheet(source: number, sheet: number, codes: string[]): ReadFiles {
    sources = sources.map((one, at) => (at === source ? { ...one, chosen: sheet } : one));
    return { samples: samplesFor(codes), unreadable: [] };
  },
  look: lookAt,
  compare: (choices: TableChoice[], scope: Scope, now: number): Comparison =>
    compare(plan as Plan, sources, choices, scope, now),
  /** The rows that need somebody, as delimited text to be mended and read again. */
  mend(): string {
    const { header, rows: cells } = looked ? mendable(sources, looked.reconciled) : { header: [], rows: [] };
    return writeCsv(header, cells);
  },
  apply,
};
export type IntakeWorker = typeof functions;
expose(functions);
