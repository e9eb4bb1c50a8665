/**
 * Tables that differ in a few rows from one before. A draft changes a table of a hundred thousand rows again and
 * again and seldom looks at the whole of it: a changed table is its changes until somebody asks for the rest, and
 * what was known of the table before is known of it at the price of the changes.
 */
import { collect } from "../sets/collect.ts";
import { type Course, type Plan, type Table, type TableName, tableNames } from "./types.ts";

type Row = { id: string };
type Rows = Table<Row>;
/** Rows by id as they are now; null: taken away. */
export type Changes = ReadonlyMap<string, Row | null>;

/** A step from one table to the next. What changed is remembered longer than the tables in between are held. */
interface Step {
  from: WeakRef<Source>;
  changes: Changes;
  before: Step | null;
  /** Rows that changed in this step and those before. */
  count: number;
}
const mostRemembered = 20_000;

/** A table as another with some rows added, replaced or taken away, in that order. */
class Changed {
  /** Held only until this table is whole. */
  #from: Source | null;
  readonly step: Step;
  #whole: Rows | null = null;
  constructor(from: Source, changes: Changes) {
    this.#from = from;
    const before = from instanceof Changed ? from.step : null;
    const count = changes.size + (before?.count ?? 0);
    const isShort = count <= mostRemembered;
    this.step = {
      from: new WeakRef(from),
      changes,
      before: isShort ? before : null,
      count: isShort ? count : changes.size,
    };
  }
  /** A row as it is in this table. */
  row(id: string): Row | null {
    let at: Source = this;
    while (at instanceof Changed && at.#whole === null) {
      const row = at.step.changes.get(id);
      if (row !== undefined) return row;
      at = at.#from as Source;
    }
    return rowsOf(at)[id] ?? null;
  }
  get isWhole(): boolean {
    return this.#whole !== null;
  }
  get whole(): Rows {
    if (this.#whole) return this.#whole;
    const steps: Changed[] = [];
    let at: Source = this;
    while (at instanceof Changed && at.#whole === null) {
      steps.push(at);
      at = at.#from as Source;
    }
    const base = rowsOf(at);
    const whole: Rows = {};
    const ids = idsOf.get(base) ?? Object.keys(base);
    // Of a hundred thousand rows a loop over ids that are known makes the copy soonest.
    for (const id of ids) whole[id] = base[id] as Row;
    const added: string[] = [];
    let isLess = false;
    for (const { step } of steps.reverse())
      for (const [id, row] of step.changes) {
        if (!row) isLess = delete whole[id];
        else {
          if (!(id in whole)) added.push(id);
          whole[id] = row;
        }
      }
    if (!isLess) idsOf.set(whole, added.length === 0 ? ids : [...ids, ...added]);
    madeBy.set(whole, this);
    this.#whole = whole;
    this.#from = null;
    return whole;
  }
}

/** A table as the list of its rows: put together by their ids when somebody asks for one. */
class Listed {
  readonly list: readonly Row[];
  #whole: Rows | null = null;
  constructor(list: readonly Row[]) {
    this.list = list;
  }
  get whole(): Rows {
    if (this.#whole) return this.#whole;
    const whole: Rows = {};
    for (const row of this.list) whole[row.id] = row;
    madeBy.set(whole, this);
    this.#whole = whole;
    return whole;
  }
}
type Source = Rows | Changed | Listed;

// Ids of a whole table in its order, where the next is made from them.
const idsOf = new WeakMap<Rows, string[]>();
// A table that was made whole is still known by its changes, or its list.
const madeBy = new WeakMap<Rows, Changed | Listed>();

const madeTables = Symbol("tables known by their changes or lists");
type Made = Partial<Record<TableName, Changed | Listed>>;
type Holder = Plan & { [madeTables]?: Made };

// One getter a table name, so that all plans with the same tables made so have one shape.
const whole = Object.fromEntries(
  tableNames.map((name) => [
    name,
    {
      enumerable: true,
      configurable: true,
      get(this: Holder) {
        return this[madeTables]?.[name]?.whole;
      },
    },
  ]),
);

/** What a table is known by. */
export function sourceOf(plan: Plan, name: TableName): object {
  return (plan as Holder)[madeTables]?.[name] ?? known(plan[name] as Rows);
}
const known = (source: Rows): Source => madeBy.get(source) ?? source;

/** A row of a table; null where there is none. Asks for no more of the table than that. */
export function rowIn(plan: Plan, name: TableName, id: string): { id: string } | null {
  const source = sourceOf(plan, name) as Source;
  if (source instanceof Changed) return source.row(id);
  const rows = rowsOf(source);
  return Object.hasOwn(rows, id) ? (rows[id] as Row) : null;
}

function planOver(plan: Plan, own: Partial<Plan>, made: Made): Plan {
  const next = {} as Holder;
  for (const name of Object.keys(plan) as (keyof Plan)[]) {
    if (name in made) Object.defineProperty(next, name, whole[name] as PropertyDescriptor);
    else Object.assign(next, { [name]: own[name] ?? plan[name] });
  }
  // Not enumerable: whoever spreads a plan has its tables whole.
  Object.defineProperty(next, madeTables, { value: made });
  return next;
}

/** The plan with some rows of a table changed. */
export function withChanges(plan: Plan, name: TableName, changes: Changes): Plan {
  const changed = new Changed(sourceOf(plan, name) as Source, changes);
  return planOver(plan, {}, { ...(plan as Holder)[madeTables], [name]: changed });
}

/** The plan with its course changed. */
export const withCourse = (plan: Plan, fields: Partial<Plan["course"]>): Plan =>
  planOver(plan, { course: { ...plan.course, ...fields } }, (plan as Holder)[madeTables] ?? {});

/** A plan out of the rows of its tables, in their order. Tables shorter than `longList` are put together at once. */
export function planOfRows(
  course: Course,
  rows: Record<TableName, readonly { id: string }[]>,
  { longList = 10_000 } = {},
): Plan {
  const own: Partial<Record<TableName, Rows>> = {};
  const made: Made = {};
  for (const name of tableNames) {
    const listed = new Listed(rows[name]);
    if (listed.list.length < longList) own[name] = listed.whole;
    else made[name] = listed;
  }
  const names = Object.fromEntries(tableNames.map((name) => [name, null]));
  return planOver({ course, ...names } as unknown as Plan, own as Partial<Plan>, made);
}

/** The same plan with every table whole: for one that is kept long, or read much. */
export const wholePlan = (plan: Plan): Plan => ({ ...plan });

const isTable = (source: Source): boolean => !(source instanceof Changed) || source.isWhole;
function rowsOf(source: Source): Rows {
  return source instanceof Changed || source instanceof Listed ? source.whole : source;
}
const listOf = (source: Source): readonly Row[] =>
  source instanceof Listed ? source.list : Object.values(rowsOf(source));

/** The steps to a table from the nearest one before that is looked for, the first one first; null: not known. */
function stepsTo(to: Source, isIt: (source: Source) => boolean): { from: Source; steps: Step[] } | null {
  if (isIt(to)) return { from: to, steps: [] };
  const steps: Step[] = [];
  for (let step = to instanceof Changed ? to.step : null; step; step = step.before) {
    steps.push(step);
    const from = step.from.deref();
    if (from && isIt(from)) return { from, steps: steps.reverse() };
  }
  return null;
}

/**
 * Rows in which a table may differ from one that it was made from, the first change first, as they are in the later;
 * null: not known.
 */
export function changesSince(before: Plan, after: Plan, name: TableName): Changes | null {
  const old = sourceOf(before, name);
  const found = stepsTo(sourceOf(after, name) as Source, (source) => source === old);
  return found && new Map(found.steps.flatMap(({ changes }) => [...changes]));
}

/** Rows by key after some steps, from those before; lists in which nothing changed are the same ones. */
function indexAfter(
  before: Map<string, Row[]>,
  from: Source,
  steps: Step[],
  key: (row: Row) => string,
): Map<string, Row[]> | null {
  const index = new Map(before);
  const own = new Set<string>();
  const listOf = (at: string): Row[] => {
    const list = index.get(at) ?? [];
    if (own.has(at)) return list;
    own.add(at);
    const copy = [...list];
    index.set(at, copy);
    return copy;
  };
  const now = new Map<string, Row | null>();
  for (const { changes } of steps)
    for (const [id, row] of changes) {
      const was =
        now.get(id) ?? (now.has(id) ? null : from instanceof Changed ? from.row(id) : (rowsOf(from)[id] ?? null));
      now.set(id, row);
      const kept = row ?? was;
      if (!kept) continue;
      const list = listOf(key(kept));
      const place = was ? list.findIndex((each) => each.id === id) : list.length;
      // Come over from another key: its place would have to be found.
      if (place < 0) return null;
      if (row) list[place] = row;
      else list.splice(place, 1);
      if (list.length === 0) {
        index.delete(key(kept));
        own.delete(key(kept));
      }
    }
  return index;
}

/**
 * The rows of a table by a key of theirs, in the table's order: found once a table, and carried over its changes.
 * A list in which nothing changed stays the same list.
 */
export function rowsBy<Name extends TableName>(
  name: Name,
  key: (row: Plan[Name][string]) => string,
): (plan: Plan) => Map<string, Plan[Name][string][]> {
  type Index = Map<string, Plan[Name][string][]>;
  const kept = new WeakMap<Source, Index>();
  const carried = (source: Source): Index | null => {
    // Where nothing is known yet, the table that all this was made from is asked: whatever else is made from it finds it known.
    const found = stepsTo(source, (each) => kept.has(each)) ?? stepsTo(source, isTable);
    if (!found) return null;
    const before = kept.get(found.from) ?? collect(listOf(found.from), key as (row: Row) => string);
    kept.set(found.from, before as Index);
    // Of a long draft only the last step keeps what is known.
    if (found.from instanceof Changed && !found.from.isWhole) kept.delete(found.from);
    return indexAfter(before, found.from, found.steps, key as (row: Row) => string) as Index | null;
  };
  return (plan) => {
    const source = sourceOf(plan, name) as Source;
    const ready = kept.get(source);
    if (ready) return ready;
    const index = carried(source) ?? collect(Object.values(plan[name]) as Plan[Name][string][], key);
    kept.set(source, index);
    return index;
  };
}
