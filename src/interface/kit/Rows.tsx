/** A virtualised list of rows: any length, one height. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { type ReactNode, useRef } from "react";

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
  const frame = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count,
    getScrollElement: () => frame.current,
    estimateSize: () => height,
    overscan: 12,
  });
  return (
    // A list that scrolls must be reachable by keyboard even where none of its rows is.
    <section
      ref={frame}
      className={className}
      style={{ overflow: "auto", ...(upTo ? { height: `min(${upTo}, ${count * height + 2}px)` } : {}) }}
      aria-label={label}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: scrollable region
      tabIndex={0}
    >
      <div style={{ height: rows.getTotalSize(), position: "relative" }}>
        {rows.getVirtualItems().map((row) => (
          <div
            key={row.key}
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
    </section>
  );
}
