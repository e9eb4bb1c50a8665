/** Rows by a key of theirs, in their order. */
export function collect<Row, Key>(rows: readonly Row[], key: (row: Row) => Key): Map<Key, Row[]> {
  const found = new Map<Key, Row[]>();
  for (const row of rows) {
    const at = key(row);
    const list = found.get(at);
    if (list) list.push(row);
    else found.set(at, [row]);
  }
  return found;
}
