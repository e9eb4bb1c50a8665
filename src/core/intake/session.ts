/**
 * An intake under way, as the worker keeps it: the plan it is held against, the tables read, and the rows judged.
 * The page is sent samples and verdicts, never the files.
 */
import type { ReadOn } from "../formats/oneroster/read.ts";
import type { Contents } from "../formats/read.ts";
import { type Progressed, readFile, type SourceFile } from "../formats/read.ts";
import { cellsOf, firstRows, type TextTable, type Unreadable } from "../formats/text-table.ts";
import type { Plan } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";
import { shorten } from "../text/shorten.ts";
import { type ColumnMatch, matchColumns } from "./columns.ts";
import { type Comparison, compareList, type Scope } from "./compare.ts";
import { type Downstream, downstream } from "./downstream.ts";
import { reconcile } from "./reconcile.ts";
import { attributeNames, type RosterRow, rosterRows } from "./rows.ts";
import { takeIn, unusableRows } from "./take-in.ts";
import type { Reconciled, ReconcileOptions } from "./verdict.ts";

/** A table as the page sees it: its header, a sample, and how many rows there are. */
export interface Sample {
  name: string;
  sheet: string | null;
  /** Sheets of the same workbook, where there are several to choose from. */
  sheets: string[];
  header: string[];
  sample: string[][];
  count: number;
  match: ColumnMatch;
  /** What of the file was left out or taken otherwise, a sentence each. */
  notes: string[];
  /** Whether it holds only what changed: whoever it does not list is not missing. */
  changesOnly: boolean;
}
/** What is said of each table: which column is what, and the section of one that has no section column. */
export interface TableChoice {
  match: ColumnMatch;
  sectionCode: string;
}
/** Some people: those whom the course knows by their ids, and how many they are with the new ones. */
export interface Some {
  known: string[];
  count: number;
}
export interface Consequences {
  groups: { layerId: string; groupId: string; gains: Some; loses: Some }[];
  unplaced: { layerId: string; people: Some }[];
  datesMove: Some;
  doubleEnrolled: Some;
}
export interface Looked {
  reconciled: Reconciled;
  consequences: Consequences;
}

function withoutNew(plan: Plan, { groups, unplaced, datesMove, doubleEnrolled }: Downstream): Consequences {
  const some = (ids: string[]): Some => ({
    known: ids.filter((id) => plan.people[id] !== undefined),
    count: ids.length,
  });
  return {
    groups: groups.map((group) => ({ ...group, gains: some(group.gains), loses: some(group.loses) })),
    unplaced: unplaced.map(({ layerId, personIds }) => ({ layerId, people: some(personIds) })),
    datesMove: some(datesMove),
    doubleEnrolled: some(doubleEnrolled),
  };
}

/** The sheet that most looks like a roster: the most recognised columns, then the most rows. */
function likeliest(tables: TextTable[], codes: string[]): number {
  const scores = tables.map((table) => {
    const match = matchColumns(table, codes);
    return match.filter((field) => field !== "ignore" && field !== "attribute").length * 1e6 + table.lines.length;
  });
  return scores.indexOf(Math.max(...scores));
}

export interface Source {
  contents: TextTable[];
  chosen: number;
}

export interface ReadFiles {
  sources: Source[];
  unreadable: Unreadable[];
}

/** Reads files one after another. Names that come twice are told apart, so that a line is one line of one file. */
export async function readFiles(
  files: SourceFile[],
  { codes, progressed, on }: { codes: string[]; progressed: Progressed; on?: ReadOn },
): Promise<ReadFiles> {
  const sources: Source[] = [];
  const unreadable: Unreadable[] = [];
  const names = new Set<string>();
  for (const [at, file] of files.entries()) {
    const told = (share: number) => progressed((at + share) / files.length);
    const contents: Contents = await readFile(file, on ? { progressed: told, on } : { progressed: told });
    if ("unreadable" in contents) {
      unreadable.push(contents);
      continue;
    }
    // Of a workbook's sheets one is chosen; what else a file holds is taken in together.
    const lists = contents.kind === "sheets" ? [contents.tables] : contents.tables.map((table) => [table]);
    for (const own of lists) {
      const name = freeName(own[0]?.name ?? "", names);
      for (const each of own) each.name = name;
      sources.push({ contents: own, chosen: likeliest(own, codes) });
    }
  }
  return { sources, unreadable };
}

function freeName(name: string, taken: Set<string>): string {
  let free = name;
  for (let number = 2; taken.has(free); number++) free = `${name} (${number})`;
  taken.add(free);
  return free;
}

export const tableOf = ({ contents, chosen }: Source): TextTable => contents[chosen] as TextTable;

/** Letters of a cell that a sample shows. */
const mostSampled = 60;

export function sampleOf(source: Source, codes: string[]): Sample {
  const table = tableOf(source);
  return {
    name: table.name,
    sheet: table.sheet ?? null,
    sheets: source.contents.length > 1 ? source.contents.map(({ sheet }) => sheet ?? "") : [],
    header: table.header,
    sample: firstRows(table, 3).map((cells) => cells.map((cell) => shorten(cell, mostSampled))),
    count: table.lines.length,
    match: matchColumns(table, codes),
    notes: table.notes ?? [],
    changesOnly: table.changesOnly !== undefined,
  };
}

/** What the tables name as ended, where one of them is a list of changes; null of whole lists alone. */
export function changesOf(sources: Source[]): ReconcileOptions["changesOnly"] {
  const lists = sources.flatMap((source) => tableOf(source).changesOnly ?? []);
  return lists.length > 0 ? { ended: lists.flatMap(({ ended }) => ended) } : null;
}

/** Verdicts of every row, and what applying would do beyond the roster. */
export function look(
  plan: Plan,
  sources: Source[],
  choices: TableChoice[],
  options: Omit<ReconcileOptions, "changesOnly">,
  sectionLayer: string | null,
): Looked & { rows: RosterRow[] } {
  const known = attributeNames(plan.people);
  const rows = sources.flatMap((source, at) => {
    const choice = choices[at] as TableChoice;
    return rosterRows(tableOf(source), choice.match, choice.sectionCode, known);
  });
  const reconciled = reconcile(plan, rows, { ...options, changesOnly: changesOf(sources) });
  const { now, samePeople } = options;
  const next = takeIn(plan, reconciled, lookedAt, now, sectionLayer, samePeople, (_id, ...parts) => parts.join(" "));
  return { rows, reconciled, consequences: withoutNew(plan, downstream(plan, next, options.now)) };
}

/** The intake whose rows are only looked at: its ids are nobody's. */
const lookedAt = "00000000-0000-4000-8000-000000000000";

export const compare = (plan: Plan, sources: Source[], choices: TableChoice[], scope: Scope, t: number): Comparison =>
  compareList(
    plan,
    sources.map((source, at) => ({ table: tableOf(source), match: (choices[at] as TableChoice).match })),
    scope,
    t,
  );

/** The columns of several headers as one list; a name that one header has twice stands there twice. */
class Columns {
  readonly names: string[] = [];
  private readonly places = new Map<string, number>();
  /** Where each column of a header stands in the list. */
  placesOf(header: string[]): number[] {
    const counts = new Map<string, number>();
    return header.map((name) => {
      const count = (counts.get(fold(name)) ?? 0) + 1;
      counts.set(fold(name), count);
      const key = `${count} ${fold(name)}`;
      const place = this.places.get(key) ?? this.names.push(name) - 1;
      this.places.set(key, place);
      return place;
    });
  }
}

/**
 * Header and cells of the rows that cannot be used, each with its file, line and reason: ready to mend. Each row keeps
 * the columns of its own file; where a section was said of a whole file, it stands in a column of its own.
 */
export function mendable(sources: Source[], reconciled: Reconciled): { header: string[]; rows: string[][] } {
  const tables = new Map(
    sources.map(tableOf).map((table) => {
      const rowOf = new Map(table.lines.map((line, row) => [line, row]));
      return [table.name, { header: table.header, rowOf, cells: cellsOf(table) }];
    }),
  );
  const columns = new Columns();
  const found = unusableRows(reconciled).map(({ row, says }) => {
    const table = tables.get(row.file);
    const at = table?.rowOf.get(row.line) ?? -1;
    const cells = (table?.header ?? []).map((_, column) => table?.cells.cell(at, column) ?? "");
    const saysSection = cells.some((cell) => fold(cell.trim()) === fold(row.sectionCode));
    return {
      row,
      says,
      cells,
      places: columns.placesOf(table?.header ?? []),
      section: saysSection ? "" : row.sectionCode,
    };
  });
  const hasSections = found.some(({ section }) => section !== "");
  return {
    header: [...columns.names, ...(hasSections ? ["Section"] : []), "File", "Line", "Reason"],
    rows: found.map(({ row, says, cells, places, section }) => {
      const line = columns.names.map(() => "");
      places.forEach((place, column) => {
        line[place] = cells[column] as string;
      });
      return [...line, ...(hasSections ? [section] : []), row.file, String(row.line), says];
    }),
  };
}
