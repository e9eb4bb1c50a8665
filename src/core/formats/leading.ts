/** What stands before or within a roster's cells and is none of it: titles above the header, marks of spreadsheets. */

/** Rows among which the header is looked for. */
const rowsRead = 10;
const filled = (cells: readonly string[]): number => cells.reduce((sum, cell) => sum + Number(cell !== ""), 0);

/**
 * The place of the header among the first rows: a title above it fills one cell where others fill several. No row is
 * passed over that might be a header.
 */
export function headerAt(rows: readonly (readonly string[])[]): number {
  const first = rows.slice(0, rowsRead).map(filled);
  const widest = Math.max(0, ...first);
  const at = first.findIndex((cells) => cells > (widest >= 5 ? 2 : 1));
  return widest < 2 || at < 0 ? 0 : at;
}

/** What is said of the rows above the header. */
export const saysAbove = (above: readonly (readonly string[])[]): string[] =>
  above.length === 0
    ? []
    : [
        `Left out above the header: ${above.map((cells) => `"${cells.filter((cell) => cell !== "").join(" ")}"`).join(", ")}.`,
      ];

/** "sep=;" on the first line tells a spreadsheet what divides cells: the rest of the text, with its line kept, and the mark. */
export function withoutSeparatorLine(text: string): { text: string; delimiter: string | null } {
  const found = /^"?sep=(.)"?[ \t]*(?=\r|\n)/i.exec(text);
  return found ? { text: text.slice(found[0].length), delimiter: found[1] ?? null } : { text, delimiter: null };
}

/** A cell that a spreadsheet was made to keep as text: ="0012345". */
export const withoutTextMark = (cell: string): string => {
  const found = /^="(.*)"$/s.exec(cell);
  return found ? (found[1] ?? "").replaceAll('""', '"') : cell;
};

// Marks without width that belong to no name, and joiners where there is nothing but plain letters and digits to join.
const anyInvisible = /[\u00ad\u200b-\u200d\u2060\ufeff]/;
const invisible = /[\u200b\u2060\ufeff\u00ad]|(?<=[!-~])[\u200c\u200d]|[\u200c\u200d](?=[!-~])/g;
/** Characters that nobody sees, and that make an id another one, taken off. */
export function withoutInvisible(text: string): { text: string; notes: string[] } {
  // Almost every file has none, which is quickly seen.
  const count = anyInvisible.test(text) ? (text.match(invisible)?.length ?? 0) : 0;
  if (count === 0) return { text, notes: [] };
  return {
    text: text.replace(invisible, ""),
    notes: [`Taken off: ${count === 1 ? "1 invisible character" : `${count} invisible characters`}.`],
  };
}
