import { useVirtualizer } from "@tanstack/react-virtual";
import { type ReactNode, useMemo, useRef, useState } from "react";
import { useSize } from "../../../kit/useSize.ts";
import { useEffectWhen } from "../../../kit/when.ts";
import styles from "./board.module.css";
import { columnsInRow, fitsOneRow, fullWidth, hidesSome, rowsOfColumns } from "./rows.ts";
import type { Column } from "./useBoard.ts";

/** What the place of a column adds to it. */
export interface ColumnPlace {
  /** Arrows lead to the column before or after. */
  onSide(step: -1 | 1): void;
  /** Whether a short column is shown in full, and the press that changes it; null where it has all its room. */
  full: { isFull: boolean; toggle(): void } | null;
}
interface ColumnsProps {
  columns: readonly Column[];
  /** The drag went past all columns. */
  onOutside(): void;
  children(column: Column, place: ColumnPlace): ReactNode;
}

const idOf = (column: Column | undefined) => column?.group?.id ?? "";

/** Side by side while they fit; else who is unplaced at the left in full, and the groups in rows of short columns. */
export function BoardColumns({ columns, onOutside, children }: ColumnsProps) {
  const frame = useRef<HTMLDivElement>(null);
  const scroll = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(frame);
  const [full, setFull] = useState<string | null>(null);
  const own = fullWidth(columns.length, width);
  const isOneRow = fitsOneRow(columns.length, width);
  const rows = useMemo(
    () => (isOneRow ? [] : rowsOfColumns(columns, { width, room: height - 8, full })),
    [columns, isOneRow, width, height, full],
  );
  const down = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: (index) => rows[index]?.height ?? 0,
    overscan: 1,
  });
  // Heights are asked anew when rows are others.
  useEffectWhen([rows, down], () => down.measure());

  /** The keys go there at once where it is on the screen, so that the next one does not land in the column before. */
  const onSide = (index: number) => (step: -1 | 1) => {
    const next = columns[index + step];
    if (!next) return;
    const focus = () => {
      const column = frame.current?.querySelector<HTMLElement>(`[data-column="${idOf(next)}"]`);
      column?.focus();
      return column !== undefined && column !== null;
    };
    const isThere = focus();
    const row = rows.findIndex((one) => one.columns.includes(index + step));
    if (row >= 0) down.scrollToIndex(row);
    if (!isThere) requestAnimationFrame(() => requestAnimationFrame(focus));
  };
  /** `height`: of the row that it stands in; null where it has all its room. */
  const draw = (index: number, height: number | null) => {
    const column = columns[index] as Column;
    const id = idOf(column);
    const isFull = full === id;
    const toggle = () => setFull(isFull ? null : id);
    const canOpen = height !== null && (isFull || hidesSome(column, height));
    return (
      <div key={id || "none"} className={styles.place} style={height === null ? { width: own } : undefined}>
        {children(column, { onSide: onSide(index), full: canOpen ? { isFull, toggle } : null })}
      </div>
    );
  };
  const inFull = columns.flatMap(({ group }, index) => (isOneRow || !group ? [index] : []));
  const template = { gridTemplateColumns: `repeat(${columnsInRow(width)}, minmax(0, 1fr))` };
  return (
    <div
      ref={frame}
      role="group"
      aria-label="Groups"
      className={styles.columns}
      onDragLeave={(event) => event.target === frame.current && onOutside()}
    >
      {inFull.map((index) => draw(index, null))}
      {!isOneRow && (
        <div ref={scroll} className={styles.rows}>
          <div style={{ height: down.getTotalSize(), position: "relative" }}>
            {down.getVirtualItems().map(({ index, start, size }) => (
              <div
                key={index}
                className={styles.row}
                style={{ ...template, height: size, transform: `translateY(${start}px)` }}
              >
                {rows[index]?.columns.map((at) => draw(at, size))}
              </div>
            ))}
          </div>
        </div>
      )}
    </div>
  );
}
