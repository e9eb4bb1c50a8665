/**
 * The cells of a table by row and column. Those of a long text stay in the text, and are cut out of it when they are
 * asked for: most rows of a roster say what is known already, which can be seen where they stand.
 */
export interface Cells {
  /** The cell without the space around it; empty where the row has no such column. */
  cell(row: number, column: number): string;
  /** Whether a cell is exactly this text. */
  holds(row: number, column: number, text: string): boolean;
  isEmpty(row: number, column: number): boolean;
  /** How many cells the row has. */
  width(row: number): number;
  row(row: number): string[];
  /** At least the length of the longest cell. */
  readonly longest: number;
}

/** A leading apostrophe that made a formula harmless on the way out is taken off on the way in. */
export const withoutGuard = (cell: string): string => (/^'+[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell);

/** Cells that are strings already. */
export class ListedCells implements Cells {
  readonly longest: number;
  constructor(private readonly rows: readonly string[][]) {
    let longest = 0;
    for (const cells of rows) for (const cell of cells) longest = Math.max(longest, cell.length);
    this.longest = longest;
  }
  cell = (row: number, column: number): string => this.rows[row]?.[column] ?? "";
  holds = (row: number, column: number, text: string): boolean => this.cell(row, column) === text;
  isEmpty = (row: number, column: number): boolean => this.cell(row, column) === "";
  width = (row: number): number => this.rows[row]?.length ?? 0;
  row = (row: number): string[] => this.rows[row] ?? [];
}

/** What String.trim takes off, by its code. */
const isSpace = (code: number): boolean =>
  code === 32 || (code >= 9 && code <= 13) || (code >= 160 && /\s/.test(String.fromCharCode(code)));

/** Numbers in a row that grows. */
class Numbers {
  private held = new Int32Array(1 << 12);
  length = 0;
  push(number: number): void {
    if (this.length === this.held.length) {
      const wider = new Int32Array(this.held.length * 2);
      wider.set(this.held);
      this.held = wider;
    }
    this.held[this.length++] = number;
  }
  done = (): Int32Array => this.held.slice(0, this.length);
}

/** Cells that stand in a text. */
export class CutCells implements Cells {
  constructor(
    private readonly text: string,
    /** Where the cells of each row begin among the bounds, and where those of the last one end. */
    private readonly first: Int32Array,
    /** Where each cell begins and ends in the text, without the space around it. */
    private readonly bounds: Int32Array,
    readonly longest: number,
    private readonly guarded: boolean,
  ) {}
  get count(): number {
    return this.first.length - 1;
  }
  /** The same without the rows before one. */
  from = (row: number): CutCells =>
    new CutCells(this.text, this.first.subarray(row), this.bounds, this.longest, this.guarded);
  width(row: number): number {
    return ((this.first[row + 1] as number) - (this.first[row] as number)) >> 1;
  }
  cell(row: number, column: number): string {
    const at = (this.first[row] as number) + 2 * column;
    if (column < 0 || at >= (this.first[row + 1] as number)) return "";
    const cell = this.text.slice(this.bounds[at], this.bounds[at + 1]);
    return this.guarded ? withoutGuard(cell) : cell;
  }
  holds(row: number, column: number, text: string): boolean {
    if (this.guarded) return this.cell(row, column) === text;
    const at = (this.first[row] as number) + 2 * column;
    if (column < 0 || at >= (this.first[row + 1] as number)) return text === "";
    const from = this.bounds[at] as number;
    return (this.bounds[at + 1] as number) - from === text.length && this.text.startsWith(text, from);
  }
  isEmpty(row: number, column: number): boolean {
    const at = (this.first[row] as number) + 2 * column;
    return column < 0 || at >= (this.first[row + 1] as number) || this.bounds[at] === this.bounds[at + 1];
  }
  row(row: number): string[] {
    return Array.from({ length: this.width(row) }, (_, column) => this.cell(row, column));
  }
}

interface CutOptions {
  delimiter: string;
  /** Told how much of the text is read, 0 to 1. */
  progressed?: ((share: number) => void) | undefined;
  /** Whether an apostrophe before a sign of a formula is a guard, and no part of the text. */
  isGuarded?: boolean;
}

/**
 * The cells of a text without quotation marks, and the line of each row; blank rows are left out. Null where it has
 * quotation marks: then the parser reads it.
 */
export function cutCells(
  text: string,
  { delimiter, progressed, isGuarded = true }: CutOptions,
): { cells: CutCells; lines: number[] } | null {
  if (text.includes('"') || delimiter.length !== 1) return null;
  const [first, bounds] = [new Numbers(), new Numbers()];
  const lines: number[] = [];
  let longest = 0;
  // Jumping from mark to mark is several times quicker than looking at each character.
  let next = text.indexOf(delimiter);
  for (let line = 1, rowFrom = 0; rowFrom <= text.length; line++) {
    const newline = text.indexOf("\n", rowFrom);
    const rowEnd = newline < 0 ? text.length : newline;
    const cellsFrom = bounds.length;
    let isBlank = true;
    for (let from = rowFrom; from <= rowEnd; ) {
      const end = next >= 0 && next < rowEnd ? next : rowEnd;
      let until = end;
      while (from < until && isSpace(text.charCodeAt(from))) from++;
      while (from < until && isSpace(text.charCodeAt(until - 1))) until--;
      bounds.push(from);
      bounds.push(until);
      if (from < until) isBlank = false;
      if (until - from > longest) longest = until - from;
      from = end + 1;
      if (end === next) next = text.indexOf(delimiter, from);
    }
    if (isBlank) bounds.length = cellsFrom;
    else {
      first.push(cellsFrom);
      lines.push(line);
    }
    rowFrom = rowEnd + 1;
    if (line % 20_000 === 0) progressed?.(rowEnd / text.length);
  }
  first.push(bounds.length);
  progressed?.(1);
  const guarded = isGuarded && text.includes("'") && /'[=+\-@\t\r]/.test(text);
  return { cells: new CutCells(text, first.done(), bounds.done(), longest, guarded), lines };
}
