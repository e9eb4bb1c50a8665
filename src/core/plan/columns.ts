/**
 * Plan and progress written down a column at a time, as the workbench is sent them: each id once, numbers as steps from one
 * row to the next, and values that repeat as places in a list. They are written and read in pieces of some thousand rows,
 * so that others have their turn between two of them.
 */
import { z } from "zod";
import { ItemRows, readLater } from "./item-rows.ts";
import { type ByItem, type Progress, progressByItem, progressOf } from "./progress.ts";
import { planOfRows } from "./tables.ts";
import { type Course, type Plan, type Table, type TableName, tableNames } from "./types.ts";

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

/** Another number as soon as pieces are written or read otherwise: what was stored by the one before is of no use then. */
export const writtenAs = 1;

type Row = Record<string, unknown>;
type PlanRow = { id: string };
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
  const [first] = values;
  if (typeof first !== "object" && values.every((value) => value === first)) return { same: first };
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

/** What people did in columns, piece by piece, each of one item: the rows of one can be read without those of others. */
export function progressPieces(progress: Progress): Generator<Piece> {
  const byItem = progressByItem(progress);
  function* tables(): Tables {
    for (const name of listNames)
      for (const rows of (byItem[name] as ItemRows<unknown>).values()) yield [name, rows as Row[]];
  }
  return piecesOf(tables());
}

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

/** Puts a plan together: `add` takes its pieces one after another, `made` gives what they come to. */
export function planReader(course: Course) {
  const lists = Object.fromEntries(tableNames.map((name) => [name, []])) as unknown as Record<TableName, PlanRow[]>;
  const ids = idList();
  function add(piece: Piece): void {
    ids.take(piece);
    const list = lists[piece.of as TableName];
    for (const row of readRows(piece, ids.all)) list.push(row as unknown as PlanRow);
  }
  return { add, made: () => planOfRows(course, lists) };
}

/** The same of what people did. The rows of an item are read when somebody asks for them. */
export function progressReader() {
  const ids = idList();
  const pieces = Object.fromEntries(listNames.map((name) => [name, new Map<string, Piece[]>()])) as Record<
    string,
    Map<string, Piece[]>
  >;
  function add(piece: Piece): void {
    ids.take(piece);
    const ofItem = pieces[piece.of] as Map<string, Piece[]>;
    const itemId = itemOf(piece);
    const known = ofItem.get(itemId);
    if (known) known.push(piece);
    else ofItem.set(itemId, [piece]);
  }
  function made(): Progress {
    const lists = listNames.map((name) => {
      const later = [...(pieces[name] as Map<string, Piece[]>)].map(
        ([itemId, some]) => [itemId, readLater(() => some.flatMap((piece) => readRows(piece, ids.all)))] as const,
      );
      return [name, new ItemRows(later)] as const;
    });
    return progressOf(Object.fromEntries(lists) as unknown as ByItem);
  }
  return { add, made };
}

/** The item that all rows of a piece are of. */
function itemOf({ fields }: Piece): string {
  const column = fields.find(([name]) => name === "itemId")?.[1];
  if (column && "same" in column && typeof column.same === "string") return column.same;
  throw new Error("A piece of what people did is of one item.");
}

/** The ids that pieces named so far, by their places. Values that repeat are one value: rows are never changed in place. */
function idList() {
  const all: (string | null)[] = [null];
  return {
    all,
    take({ ids }: Piece): void {
      for (const id of ids) all.push(id);
    },
  };
}
