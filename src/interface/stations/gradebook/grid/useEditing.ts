/** What is chosen in the grid and typed into it: keys as a spreadsheet has them, ranges, filling, the clipboard. */
import { type ClipboardEvent, type KeyboardEvent, useCallback, useRef, useState } from "react";
import {
  exceeds,
  type JudgedMark,
  judgeBlock,
  judgeMark,
  readBlock,
  readMark,
  sayMark,
} from "../../../../core/gradebook/entry.ts";
import type { Sheet } from "../../../../core/gradebook/sheet.ts";
import { movedBefore, type SavedView, type ShownColumn } from "../../../../core/gradebook/view.ts";
import type { Marks, NewMark } from "../useMarks.ts";
import type { Line } from "./lines.ts";

export interface At {
  personId: string;
  itemId: string;
}
export interface EditingProps {
  sheet: Sheet;
  columns: ShownColumn[];
  marks: Marks;
  view: SavedView;
  setView(view: SavedView): void;
  /** Opens a student's total. */
  showTotal(personId: string): void;
  at: At | null;
  setAt(at: At): void;
}
interface Editing extends EditingProps {
  lines: Line[];
  /** The line of each student. */
  places: Map<string | number, number>;
  /** Brings a cell into sight and gives it the focus. */
  reveal(row: number, column: number): void;
  /** Gives the focus to the cell that is looked at. */
  focusCell(): void;
}

const steps: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  PageDown: [15, 0],
  PageUp: [-15, 0],
};

export function useEditing(editing: Editing) {
  const { sheet, columns, marks, view, setView, showTotal, at, setAt, lines, places, reveal, focusCell } = editing;
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [anchor, setAnchor] = useState<At | null>(null);
  const [pasted, setPasted] = useState<JudgedMark[] | null>(null);
  const columnOf = (one: At | null) => columns.findIndex(({ item }) => item.id === one?.itemId);
  const [row, column] = [at ? (places.get(at.personId) ?? -1) : -1, columnOf(at)];
  const corner = anchor ?? at;
  const [anchorRow, anchorColumn] = [corner ? (places.get(corner.personId) ?? -1) : -1, columnOf(corner)];
  const range = {
    top: Math.min(row, anchorRow),
    bottom: Math.max(row, anchorRow),
    left: Math.min(column, anchorColumn),
    right: Math.max(column, anchorColumn),
  };
  const isRange = row >= 0 && anchorRow >= 0 && (range.top !== range.bottom || range.left !== range.right);
  const chosenRows = () =>
    lines.slice(range.top, range.bottom + 1).flatMap((line) => (line.kind === "student" ? [line.personId] : []));

  const moveTo = (nextRow: number, nextColumn: number, extend = false) => {
    const c = Math.min(columns.length - 1, Math.max(0, nextColumn));
    const step = nextRow < row ? -1 : 1;
    let r = Math.min(lines.length - 1, Math.max(0, nextRow));
    // Lines of groups are passed over.
    while (lines[r]?.kind === "group" && lines[r + step]) r += step;
    if (lines[r]?.kind === "group") r = row;
    const [line, shown] = [lines[r], columns[c]];
    if (line?.kind !== "student" || !shown) return;
    if (!extend) setAnchor(null);
    else if (!anchor && at) setAnchor(at);
    setAt({ personId: line.personId, itemId: shown.item.id });
    reveal(r, c);
  };
  const choose = useCallback(
    (personId: string, itemId: string, extend: boolean) => {
      setAnchor((before) => (extend ? (before ?? at) : null));
      setAt({ personId, itemId });
    },
    [at, setAt],
  );

  /** Keeps what was typed: a number, x for excused, nothing to take the mark away. */
  const keep = (): boolean => {
    if (typed === null || !at) return true;
    const item = sheet.reach.plan.items[at.itemId];
    const read = readMark(typed, { possible: item?.points ?? null });
    if (read && "wrong" in read) {
      setWrong(read.wrong);
      return false;
    }
    setTyped(null);
    setWrong(null);
    if (item && read && exceeds(item, read.mark)) {
      // Looked at first, as what is pasted is.
      setPasted([judgeMark(sheet, item, at.personId, typed, { where: "typed" })]);
      return false;
    }
    void marks.give([{ ...at, mark: read ? read.mark : null }]);
    return true;
  };
  const everyCell = (mark: (personId: string, itemId: string) => NewMark["mark"] | undefined) =>
    chosenRows().flatMap((personId): NewMark[] =>
      columns.slice(range.left, range.right + 1).flatMap(({ item }) => {
        if (sheet.cell(item, personId)?.state === "not theirs") return [];
        const given = mark(personId, item.id);
        return given === undefined ? [] : [{ personId, itemId: item.id, mark: given }];
      }),
    );
  /** The mark of a cell as whoever typed it knows it: one that is on its way counts. */
  const markOf = (itemId: string, personId: string): NewMark["mark"] => {
    const sent = marks.underway(personId, itemId);
    if (sent !== undefined) return sent;
    const item = sheet.reach.plan.items[itemId];
    const mark = item && sheet.cell(item, personId)?.mark;
    return mark ? { points: mark.points, excused: mark.excused } : null;
  };
  const fillDown = () => {
    const [first, ...others] = chosenRows();
    if (!first || others.length === 0) return;
    const theirs = new Set(others);
    void marks.give(everyCell((personId, itemId) => (theirs.has(personId) ? markOf(itemId, first) : undefined)));
  };
  const copy = (event: ClipboardEvent) => {
    if (typed !== null || !at) return;
    event.preventDefault();
    const text = (isRange ? chosenRows() : [at.personId]).map((personId) =>
      columns
        .slice(range.left, range.right + 1)
        .map(({ item }) => sayMark(markOf(item.id, personId)))
        .join("\t"),
    );
    event.clipboardData.setData("text/plain", text.join("\n"));
  };
  const paste = (event: ClipboardEvent) => {
    if (typed !== null || !at) return;
    event.preventDefault();
    const block = readBlock(event.clipboardData.getData("text/plain"));
    const students = lines.flatMap((line) => (line.kind === "student" ? [line.personId] : []));
    const shown = columns.map(({ item }) => item);
    const [one] = block[0] ?? [];
    const fills = isRange && block.length === 1 && block[0]?.length === 1;
    const whole = fills
      ? chosenRows().map(() => Array.from({ length: range.right - range.left + 1 }, () => one as string))
      : block;
    const top = isRange ? (chosenRows()[0] as string) : at.personId;
    setPasted(
      judgeBlock(sheet, whole, students, shown, {
        row: students.indexOf(top),
        column: isRange ? range.left : column,
      }),
    );
  };
  const resize = (itemId: string, width: number | null) => {
    const { [itemId]: _, ...others } = view.widths;
    const wanted = width === null ? null : Math.min(600, Math.max(50, Math.round(width)));
    setView({ ...view, widths: wanted === null ? others : { ...others, [itemId]: wanted } });
  };
  const move = (itemId: string, before: string | null) =>
    setView({ ...view, order: movedBefore(sheet.columns, view.order, itemId, before) });

  const key = (event: KeyboardEvent) => {
    if (!at || column < 0) return;
    const command = event.ctrlKey || event.metaKey;
    const step = steps[event.key];
    if (typed !== null) {
      if (event.key === "Escape") {
        setTyped(null);
        setWrong(null);
        focusCell();
      } else if (event.key === "Enter" || event.key === "ArrowDown" || event.key === "ArrowUp" || event.key === "Tab") {
        event.preventDefault();
        if (!keep()) return;
        if (event.key === "Tab") moveTo(row, column + (event.shiftKey ? -1 : 1));
        else moveTo(row + (event.key === "ArrowUp" ? -1 : 1), column);
      }
      return;
    }
    const done = () => {
      event.preventDefault();
      event.stopPropagation();
    };
    if (event.altKey && (event.key === "ArrowLeft" || event.key === "ArrowRight")) {
      done();
      const side = event.key === "ArrowRight" ? 1 : -1;
      const here = columns[column] as ShownColumn;
      if (event.shiftKey) resize(here.item.id, here.width + side * 20);
      else {
        const next = columns[column + (side === 1 ? 2 : -1)];
        if (side === 1 || next) move(here.item.id, next?.item.id ?? null);
      }
    } else if (step && !command && !event.altKey) {
      done();
      moveTo(row + step[0], column + step[1], event.shiftKey);
    } else if (event.key === "Home" || event.key === "End") {
      done();
      const rowTo = command ? (event.key === "Home" ? 0 : lines.length - 1) : row;
      moveTo(rowTo, event.key === "Home" ? 0 : columns.length - 1, event.shiftKey);
    } else if (command && event.key.toLowerCase() === "d") {
      done();
      fillDown();
    } else if (command && event.key.toLowerCase() === "z" && !event.shiftKey && marks.canUndo) {
      done();
      marks.undo();
    } else if (command) {
      return;
    } else if (event.key === "t") {
      done();
      showTotal(at.personId);
    } else if (event.key === "Delete" || event.key === "Backspace") {
      done();
      void marks.give(isRange ? everyCell(() => null) : [{ ...at, mark: null }]);
    } else if (event.key === "Enter" || event.key === "F2") {
      done();
      const item = (columns[column] as ShownColumn).item;
      setTyped(sayMark(markOf(item.id, at.personId)));
    } else if (/^[0-9.,x]$/i.test(event.key) && !event.altKey) {
      done();
      setTyped(event.key);
    }
  };

  const leave = useRef(() => {});
  leave.current = () => {
    if (!keep()) setTyped(null);
  };
  const left = useCallback(() => leave.current(), []);
  return {
    row,
    column,
    /** Null where one cell is chosen, or none. */
    range: isRange ? range : null,
    typed,
    setTyped,
    wrong,
    choose,
    left,
    key,
    copy,
    paste,
    pasted,
    putAway: () => setPasted(null),
    resize,
    move,
  };
}
