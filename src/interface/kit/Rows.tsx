/** A virtualised list of rows: any length, one height. */

import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, type ReactNode, useRef } from "react";
import { Scrollable } from "./Scrollable.tsx";

interface RowsProps {
  count: number;
  height?: number;
  className?: string;
  /** As tall as its rows, up to this CSS length. */
  upTo?: string;
  label: string;
  children(index: number): ReactNode;
}

export function Rows({ count, height = 30, className, upTo, label, children }: RowsProps) {
  const frame = useRef<HTMLElement>(null);
  const rows = useVirtualizer({
    count,
    getScrollElement: () => frame.current,
    estimateSize: () => height,
    overscan: 12,
  });
  /** Arrows lead from a control of a row to the same one of the next. */
  const step = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const from = (event.target as HTMLElement).closest<HTMLElement>("[data-row]");
    if (!by || !from || event.defaultPrevented || !isPassive(event.target as HTMLElement)) return;
    const next = Number(from.dataset.row) + by;
    if (next < 0 || next >= count) return;
    event.preventDefault();
    const place = controlsOf(from).indexOf(event.target as HTMLElement);
    rows.scrollToIndex(next);
    const row = frame.current?.querySelector<HTMLElement>(`[data-row="${next}"]`);
    const controls = row ? controlsOf(row) : [];
    (controls[place] ?? controls[0])?.focus();
  };
  return (
    <Scrollable
      ref={frame}
      className={className}
      style={{ overflow: "auto", ...(upTo ? { height: `min(${upTo}, ${count * height + 2}px)` } : {}) }}
      aria-label={label}
      onKeyDown={step}
    >
      <div style={{ height: rows.getTotalSize(), position: "relative" }}>
        {rows.getVirtualItems().map((row) => (
          <div
            key={row.key}
            data-row={row.index}
            style={{
              position: "absolute",
              top: 0,
              left: 0,
              right: 0,
              height,
              transform: `translateY(${row.start}px)`,
            }}
          >
            {children(row.index)}
          </div>
        ))}
      </div>
    </Scrollable>
  );
}

const controlsOf = (row: HTMLElement): HTMLElement[] => [
  ...row.querySelectorAll<HTMLElement>("button:not(:disabled), a[href], input"),
];
/** Whether arrows mean nothing to a control itself. */
const isPassive = (control: HTMLElement): boolean =>
  control.matches("button:not([aria-haspopup]), a[href], input[type=checkbox]");
