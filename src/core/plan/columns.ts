/**
 * Plan and progress written down a column at a time, as the workbench is sent them: each id once, numbers as steps from one
 * row to the next, and values that repeat as places in a list. They are written and read in pieces of some thousand rows,
 * so that others have their turn between two of them.
 */
import { z } from "zod";
import type { Progress } from "./progress.ts";
import { type Course, type Plan, type Table, tableNames } from "./types.ts";

const Numbers = z.array(z.number().int());
/** The values of one field, row after row. */
const Column = z.union([
  /** The same in every row. */
  z.strictObject({ same: z.unknown() }),
  /** Ids, as steps from one place in the list of ids to the next. Places are counted from 1; 0 is null. */
  z.strictObject({ ids: Numbers }),
  /** Whole numbers, as steps from one to the next. */
  z.strictObject({ steps: Numbers }),
  /** Places in a list of values, counted from 0. */
  z.strictObject({ values: z.array(z.unknown()), at: Numbers }),
  /** As they are. */
  z.strictObject({ each: z.array(z.unknown()) }),
]);
type Column = z.infer<typeof Column>;

const listNames = ["marks", "handIns", "openings", "groupMarks"] as const satisfies (keyof Progress)[];
/** Some rows of one table. */
export const Piece = z.strictObject({
  of: z.enum([...tableNames, ...listNames]),
  count: z.number().int(),
  /** Ids that no earlier piece named. They go on the list of all ids. */
  ids: z.array(z.string()),
  /** In the order in which rows have them. */
  fields: z.array(z.tuple([z.string(), Column])),
  /** By field, which of the rows do not have it. */
  without: z.record(z.string(), Numbers),
});
export type Piece = z.infer<typeof Piece>;

type Row = Record<string, unknown>;
type Tables = Iterable<readonly [Piece["of"], Row[]]>;
/** Rows of a piece at most: some milliseconds of work. */
const mostRows = 10_000;

const idPattern = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;

/** The ids that were met so far, in that order. */
function collectIds() {
  const places = new Map<unknown, number>([[null, 0]]);
  let fresh: string[] = [];
  return {
    /** Undefined for what is no id. */
    placeOf(value: unknown): number | undefined {
      const known = places.get(value);
      if (known !== undefined || typeof value !== "string" || !idPattern.test(value)) return known;
      fresh.push(value);
      places.set(value, places.size);
      return places.size - 1;
    },
    /** Those that were met since this was asked last. */
    takeFresh(): string[] {
      const taken = fresh;
      fresh = [];
      return taken;
    },
  };
}
type Ids = ReturnType<typeof collectIds>;

const stepsOf = (numbers: number[]): number[] => numbers.map((number, at) => number - (numbers[at - 1] ?? 0));

/** Null where something else than ids is among them, or no id at all. */
function idColumn(values: unknown[], ids: Ids): Column | null {
  if (typeof values.find((value) => value !== null) !== "string") return null;
  const places: number[] = [];
  for (const value of values) {
    const place = ids.placeOf(value);
    if (place === undefined) return null;
    places.push(place);
  }
  return { ids: stepsOf(places) };
}

/** Values of which at least half repeat; null where they do not. */
function repeatedColumn(values: unknown[]): Column | null {
  const found: unknown[] = [];
  const at: number[] = [];
  // Text may read like an object written down: each has places of its own.
  const [plain, objects] = [new Map<unknown, number>(), new Map<unknown, number>()];
  for (const value of values) {
    const isObject = typeof value === "object" && value !== null;
    const places = isObject ? objects : plain;
    const key = isObject ? JSON.stringify(value) : value;
    const known = places.get(key);
    if (known === undefined) {
      places.set(key, found.length);
      found.push(value);
      if (found.length > 16 + values.length / 2) return null;
    }
    at.push(known ?? found.length - 1);
  }
  return found.length === 1 ? { same: found[0] } : { values: found, at };
}

function columnOf(values: unknown[], ids: Ids): Column {
  const short = idColumn(values, ids) ?? repeatedColumn(values);
  if (short) return short;
  return values.every(Number.isSafeInteger) ? { steps: stepsOf(values as number[]) } : { each: values };
}

function pieceOf(of: Piece["of"], rows: Row[], ids: Ids): Piece {
  const names = new Set<string>();
  for (const row of rows) for (const name of Object.keys(row)) names.add(name);
  const without: Piece["without"] = {};
  const fields = [...names].map((name): [string, Column] => {
    const values: unknown[] = [];
    rows.forEach((row, at) => {
      const value = row[name];
      if (value !== undefined) values.push(value);
      else {
        without[name] ??= [];
        without[name].push(at);
      }
    });
    return [name, columnOf(values, ids)];
  });
  return { of, count: rows.length, ids: ids.takeFresh(), fields, without };
}

function* piecesOf(tables: Tables): Generator<Piece> {
  const ids = collectIds();
  for (const [of, rows] of tables)
    for (let from = 0; from < rows.length; from += mostRows) yield pieceOf(of, rows.slice(from, from + mostRows), ids);
}

/** The tables of a plan in columns, piece by piece. */
export const planPieces = (plan: Plan): Generator<Piece> =>
  piecesOf(tableNames.map((name) => [name, Object.values(plan[name] as Table<Row>)] as const));

/** What people did in columns, piece by piece. */
export const progressPieces = (progress: Progress): Generator<Piece> =>
  piecesOf(listNames.map((name) => [name, progress[name] as unknown as Row[]] as const));

/** Gives the values of a column one after another. */
function reader(column: Column, ids: (string | null)[]): () => unknown {
  let [at, sum] = [0, 0];
  const step = (steps: number[]) => {
    sum += steps[at++] as number;
    return sum;
  };
  if ("same" in column) return () => column.same;
  if ("ids" in column) return () => ids[step(column.ids)];
  if ("steps" in column) return () => step(column.steps);
  if ("values" in column) return () => column.values[column.at[at++] as number];
  return () => column.each[at++];
}

function readRows({ count, fields, without }: Piece, ids: (string | null)[]): Row[] {
  // All rows have their fields in the same order from the beginning: such rows are made and read quickest.
  const template: Row = {};
  for (const [name, column] of fields) template[name] = "same" in column ? column.same : null;
  const varied = fields
    .filter(([name, column]) => !("same" in column) || without[name])
    .map(([name, column]) => ({ name, next: reader(column, ids), lacking: new Set(without[name]) }));
  const rows: Row[] = [];
  for (let at = 0; at < count; at++) {
    const row = { ...template };
    for (const { name, next, lacking } of varied)
      if (lacking.has(at)) delete row[name];
      else row[name] = next();
    rows.push(row);
  }
  return rows;
}

/** Reads pieces in the order in which they were written. Values that repeat are one value: rows are never changed in place. */
function reading(take: (of: Piece["of"], rows: Row[]) => void) {
  const ids: (string | null)[] = [null];
  return (piece: Piece) => {
    for (const id of piece.ids) ids.push(id);
    take(piece.of, readRows(piece, ids));
  };
}

/** Puts a plan together: `add` takes its pieces one after another, `made` gives what they come to. */
export function planReader(course: Course) {
  const tables = Object.fromEntries(tableNames.map((name) => [name, {}])) as Record<string, Table<Row>>;
  const add = reading((of, rows) => {
    const table = tables[of] as Table<Row>;
    for (const row of rows) table[row.id as string] = row;
  });
  return { add, made: () => ({ course, ...tables }) as unknown as Plan };
}

/** The same of what people did. */
export function progressReader() {
  const lists: Record<string, Row[]> = Object.fromEntries(listNames.map((name) => [name, []]));
  const add = reading((of, rows) => {
    const list = lists[of] as Row[];
    for (const row of rows) list.push(row);
  });
  return { add, made: () => lists as unknown as Progress };
}
