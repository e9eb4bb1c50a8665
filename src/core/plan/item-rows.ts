/** Rows by the item that they are of. Those of an item may wait to be read until somebody asks for them. */
export class ItemRows<Row> {
  private readonly lists: Map<string, () => Row[]>;

  constructor(lists: Iterable<readonly [string, () => Row[]]> = []) {
    this.lists = new Map(lists);
  }

  /** Of lists that are there already. */
  static of<Row>(lists: Iterable<readonly [string, Row[]]>): ItemRows<Row> {
    const made = new ItemRows<Row>();
    for (const [itemId, rows] of lists) made.set(itemId, rows);
    return made;
  }

  get(itemId: string): Row[] | undefined {
    return this.lists.get(itemId)?.();
  }
  has(itemId: string): boolean {
    return this.lists.has(itemId);
  }
  /** Whether there is no item with a list. */
  isEmpty(): boolean {
    return this.lists.size === 0;
  }
  set(itemId: string, rows: Row[]): void {
    this.lists.set(itemId, () => rows);
  }
  delete(itemId: string): void {
    this.lists.delete(itemId);
  }
  keys(): Iterable<string> {
    return this.lists.keys();
  }
  /** All lists, which are read for it. */
  *values(): Generator<Row[]> {
    for (const read of this.lists.values()) yield read();
  }
  *[Symbol.iterator](): Generator<[string, Row[]]> {
    for (const [itemId, read] of this.lists) yield [itemId, read()];
  }
  /** Whether an item has the very same list in both; what nobody asked for yet is not read for it. */
  isSame(itemId: string, other: ItemRows<Row>): boolean {
    return this.lists.get(itemId) === other.lists.get(itemId) || this.get(itemId) === other.get(itemId);
  }
  /** The same lists, of which some may be replaced: what waits to be read is read once for both. */
  copy(): ItemRows<Row> {
    return new ItemRows(this.lists);
  }
}

/** Rows that are read when they are first asked for, and once. */
export function readLater<Row>(read: () => Row[]): () => Row[] {
  let rows: Row[] | null = null;
  return () => {
    rows ??= read();
    return rows;
  };
}
