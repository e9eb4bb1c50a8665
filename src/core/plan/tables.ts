/**
 * Tables that differ in a few rows from one before. A draft changes a table of a hundred thousand rows again and
 * again and seldom looks at the whole of it: a changed table is its changes until somebody asks for the rest, and
 * what was known of the table before is known of it at the price of the changes.
 */
import { type Plan, type Table, type TableName, tableNames } from "./types.ts";

type Row = { id: string };
type Rows = Table<Row>;
/** Rows by id as they are now; null: taken away. */
export type Changes = ReadonlyMap<string, Row | null>;

/** A table as another with some rows added, replaced or taken away, in that order. */
class Changed {
  #from: Source | null;
  readonly #before: WeakRef<Source>;
  #whole: Rows | null = null;
  constructor(
    from: Source,
    readonly changes: Changes,
  ) {
    this.#from = from;
    this.#before = new WeakRef(from);
  }
  /** The table before; it is held only until this one is whole, and may be gone then. */
  get from(): Source | undefined {
    return this.#from ?? this.#before.deref();
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
    const base = at instanceof Changed ? (at.#whole as Rows) : at;
    const whole: Rows = {};
    // Of a hundred thousand rows a loop makes the copy sooner than spreading does.
    for (const id in base) whole[id] = base[id] as Row;
    for (const { changes } of steps.reverse())
      for (const [id, row] of changes) {
        if (row) whole[id] = row;
        else delete whole[id];
      }
    changedOf.set(whole, this);
    this.#whole = whole;
    this.#from = null;
    return whole;
  }
}
type Source = Rows | Changed;

// A table that was made whole is still known by its changes.
const changedOf = new WeakMap<Rows, Changed>();

const changedTables = Symbol("tables known by their changes");
type Holder = Plan & { [changedTables]?: Partial<Record<TableName, Changed>> };

// One getter a table name, so that all plans with the same tables changed have one shape.
const whole = Object.fromEntries(
  tableNames.map((name) => [
    name,
    {
      enumerable: true,
      configurable: true,
      get(this: Holder) {
        return this[changedTables]?.[name]?.whole;
      },
    },
  ]),
);

/** What a table is known by. */
export function sourceOf(plan: Plan, name: TableName): object {
  return (plan as Holder)[changedTables]?.[name] ?? known(plan[name] as Rows);
}
const known = (source: Source): Source =>
  source instanceof Changed ? source : (changedOf.get(source) ?? (source as Source));

function holding(plan: Plan, own: Partial<Plan>, changed: Partial<Record<TableName, Changed>>): Plan {
  const next = {} as Holder;
  for (const name of Object.keys(plan) as (keyof Plan)[]) {
    if (name in changed) Object.defineProperty(next, name, whole[name] as PropertyDescriptor);
    else Object.assign(next, { [name]: own[name] ?? plan[name] });
  }
  // Not enumerable: whoever spreads a plan has its tables whole.
  Object.defineProperty(next, changedTables, { value: changed });
  return next;
}

/** The plan with some rows of a table changed. */
export function withChanges(plan: Plan, name: TableName, changes: Changes): Plan {
  const changed = new Changed(sourceOf(plan, name) as Source, changes);
  return holding(plan, {}, { ...(plan as Holder)[changedTables], [name]: changed });
}

/** The plan with its course changed. */
export const withCourse = (plan: Plan, fields: Partial<Plan["course"]>): Plan =>
  holding(plan, { course: { ...plan.course, ...fields } }, (plan as Holder)[changedTables] ?? {});

/** The same plan with every table whole: for one that is kept long, or read much. */
export const wholePlan = (plan: Plan): Plan => ({ ...plan });

const mostSteps = 5000;

/** The steps from one table to another, the last first; null: not known. */
function stepsBetween(from: Source, to: Source): Changed[] | null {
  const steps: Changed[] = [];
  let at: Source | undefined = to;
  while (at !== from) {
    if (!(at instanceof Changed) || steps.length >= mostSteps) return null;
    steps.push(at);
    at = at.from && known(at.from);
  }
  return steps;
}

/**
 * Rows in which a table may differ from one that it was made from, the first change first, as they are in the later;
 * null: not known.
 */
export function changesSince(before: Plan, after: Plan, name: TableName): Changes | null {
  const steps = stepsBetween(sourceOf(before, name) as Source, sourceOf(after, name) as Source);
  return steps && new Map(steps.reverse().flatMap(({ changes }) => [...changes]));
}

function rowIn(source: Source, id: string): Row | null {
  let at = source;
  while (at instanceof Changed) {
    const row = at.changes.get(id);
    if (row !== undefined) return row;
    at = at.from ?? at.whole;
  }
  return at[id] ?? null;
}

/** Rows by key, of a table of which the rows before some steps were known; null where the order would be lost. */
function afterSteps(
  before: Map<string, Row[]>,
  steps: Changed[],
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
  for (const { changes, from } of steps) {
    if (!from) return null;
    for (const [id, row] of changes) {
      const was = rowIn(from, id);
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
  }
  return index;
}

/** The rows of a table by a key of theirs, in the table's order: found once a table, and carried over its changes. */
export function rowsBy<Name extends TableName>(
  name: Name,
  key: (row: Plan[Name][string]) => string,
): (plan: Plan) => Map<string, Plan[Name][string][]> {
  type Index = Map<string, Plan[Name][string][]>;
  const kept = new WeakMap<Source, Index>();
  const carried = (source: Source): Index | null => {
    const steps: Changed[] = [];
    let at: Source | undefined = source;
    while (at && !kept.has(at)) {
      if (!(at instanceof Changed) || steps.length >= mostSteps) return null;
      steps.push(at);
      at = at.from && known(at.from);
    }
    const before = at && kept.get(at);
    // Of a long draft only the last step keeps what is known.
    if (at !== source && at instanceof Changed && !at.isWhole) kept.delete(at);
    return before ? (afterSteps(before, steps.reverse(), key as (row: Row) => string) as Index | null) : null;
  };
  return (plan) => {
    const source = sourceOf(plan, name) as Source;
    const ready = kept.get(source);
    if (ready) return ready;
    let index = carried(source);
    if (!index) {
      index = new Map();
      for (const row of Object.values(plan[name]) as Plan[Name][string][]) {
        const list = index.get(key(row));
        if (list) list.push(row);
        else index.set(key(row), [row]);
      }
    }
    kept.set(source, index);
    return index;
  };
}
