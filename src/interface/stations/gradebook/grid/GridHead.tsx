import type { VirtualItem } from "@tanstack/react-virtual";
import { type DragEvent, type PointerEvent, useState } from "react";
import type { ShownColumn } from "../../../../core/gradebook/view.ts";
import { sayPoints } from "../../../../core/text/locale.ts";
import styles from "../gradebook.module.css";
import { nameWidth } from "./GridRow.tsx";

interface HeadProps {
  width: number;
  across: VirtualItem[];
  columns: ShownColumn[];
  resize(itemId: string, width: number | null): void;
  move(itemId: string, before: string): void;
}

/** Titles of the columns: dragged to another place, drawn wider at their edge. */
export function GridHead({ width, across, columns, resize, move }: HeadProps) {
  const [over, setOver] = useState<string | null>(null);
  const drop = (event: DragEvent, itemId: string) => {
    event.preventDefault();
    setOver(null);
    const moved = event.dataTransfer.getData("text/plain");
    if (moved && moved !== itemId) move(moved, itemId);
  };
  const draw = (event: PointerEvent<HTMLElement>, column: ShownColumn) => {
    event.preventDefault();
    const from = event.clientX - column.width;
    const edge = event.currentTarget;
    edge.setPointerCapture(event.pointerId);
    const follow = (next: globalThis.PointerEvent) => resize(column.item.id, next.clientX - from);
    const end = () => {
      edge.removeEventListener("pointermove", follow);
      edge.removeEventListener("pointerup", end);
    };
    edge.addEventListener("pointermove", follow);
    edge.addEventListener("pointerup", end);
  };
  return (
    <div role="row" tabIndex={-1} className={styles.headRow} style={{ width }}>
      <span role="columnheader" tabIndex={-1} className={styles.cornerHead} style={{ width: nameWidth }}>
        <span>Student</span>
        <span>Total</span>
      </span>
      {across.map((place, at) => {
        const column = columns[place.index] as ShownColumn;
        const { item, band } = column;
        const begins = at === 0 || columns[place.index - 1]?.band !== band;
        return (
          // Columns are moved by Alt and an arrow key as well.
          <span
            key={item.id}
            role="columnheader"
            tabIndex={-1}
            aria-colindex={place.index + 2}
            className={styles.columnHead}
            data-over={over === item.id || undefined}
            title={item.title}
            draggable
            onDragStart={(event) => event.dataTransfer.setData("text/plain", item.id)}
            onDragOver={(event) => {
              event.preventDefault();
              setOver(item.id);
            }}
            onDragLeave={() => setOver(null)}
            onDrop={(event) => drop(event, item.id)}
            style={{ left: place.start, width: place.size }}
          >
            {band !== "" && begins && <em>{band}</em>}
            <span>{item.title}</span>
            <small>of {sayPoints(item.points ?? 0)}</small>
            <span
              className={styles.edge}
              aria-hidden="true"
              onPointerDown={(event) => draw(event, column)}
              onDoubleClick={() => resize(item.id, null)}
              draggable
              onDragStart={(event) => {
                event.preventDefault();
                event.stopPropagation();
              }}
            />
          </span>
        );
      })}
    </div>
  );
}
