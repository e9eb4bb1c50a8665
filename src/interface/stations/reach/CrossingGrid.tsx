import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, useRef, useState } from "react";
import { RowCheck } from "../../kit/RowCheck.tsx";
import { Stripe } from "../../kit/Stripe.tsx";
import { useEffectWhen } from "../../kit/when.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { CrossingRow } from "./CrossingRow.tsx";
import type { GridProps } from "./grid.ts";
import { type Drop, moveBy, moveTo } from "./moving.ts";
import styles from "./reach.module.css";
import type { OutlineRow } from "./useOutline.ts";

/** Items as rows, groups as columns. One cell is in the tab order; arrow keys move it. */
export function CrossingGrid(props: GridProps) {
  const { rows, columns, at, setAt, selected, select, folded, fold, inOrder, edit, open } = props;
  const { store, plan } = useWorkbench();
  const frame = useRef<HTMLDivElement>(null);
  const [drop, setDrop] = useState<Drop | null>(null);
  const lastChecked = useRef<string | null>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => frame.current,
    estimateSize: () => 30,
    overscan: 6,
    paddingStart: 46,
  });
  const width = columns.length > 24 ? 40 : columns.length > 12 ? 46 : 62;
  // Titles take what they need first; where there is more room (cqi: of the grid's own width) the crossings spread out.
  const spread = `clamp(${width}px, (100cqi - 760px) / ${Math.max(1, columns.length)}, 120px)`;
  const template = `24px minmax(210px, 620px) clamp(120px, 20cqi, 260px) repeat(${columns.length}, ${spread})`;
  const row = Math.max(
    0,
    rows.findIndex(({ item }) => item.id === at?.itemId),
  );
  const column = columns.findIndex(({ id }) => id === at?.columnId);
  // What was chosen elsewhere, by the command field say, or is moved, comes into view.
  const chosen = at && plan.items[at.itemId];
  // Rows change with every draft, only a choice scrolls.
  useEffectWhen([chosen?.id, chosen?.parentId, chosen?.position], () => {
    const found = rows.findIndex(({ item }) => item.id === chosen?.id);
    if (found >= 0) virtual.scrollToIndex(found);
  });
  const focusAt = () => requestAnimationFrame(() => frame.current?.querySelector<HTMLElement>("[data-at]")?.focus());

  const check = (itemId: string, isSelected: boolean, range: boolean) => {
    const from = range ? rows.findIndex(({ item }) => item.id === lastChecked.current) : -1;
    const to = rows.findIndex(({ item }) => item.id === itemId);
    const ids = from < 0 ? [itemId] : rows.slice(Math.min(from, to), Math.max(from, to) + 1).map(({ item }) => item.id);
    select(ids, isSelected);
    lastChecked.current = itemId;
  };
  /** The chosen rows where the one that is moved is among them, otherwise that one alone. */
  const movedWith = (itemId: string) =>
    selected.has(itemId) ? rows.map(({ item }) => item.id).filter((id) => selected.has(id)) : [itemId];

  const move = (event: KeyboardEvent) => {
    const current = rows[row];
    if (!current || (event.target as HTMLElement).closest("input")) return;
    const { item } = current;
    if (event.altKey && event.key.startsWith("Arrow")) {
      event.preventDefault();
      const command = inOrder ? moveBy(plan, item, movedWith(item.id), event.key) : null;
      if (command && store.draft([command])) focusAt();
      return;
    }
    if (column < 0 && at) {
      if (event.key === "Enter") return edit(at.itemId);
      if (event.key === " ") {
        event.preventDefault();
        return check(item.id, !selected.has(item.id), event.shiftKey);
      }
      if (event.key === "ArrowRight" && folded.has(item.id)) return fold(item.id, false);
      if (event.key === "ArrowLeft" && current.children > 0 && !folded.has(item.id)) return fold(item.id, true);
    }
    const step = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[event.key];
    if (!step) return;
    event.preventDefault();
    const next = rows[Math.min(rows.length - 1, Math.max(0, row + (step[0] as number)))];
    const to = Math.min(columns.length - 1, column + (step[1] as number));
    if (!next) return;
    setAt({ itemId: next.item.id, columnId: to < 0 ? null : (columns[to]?.id ?? null) });
    virtual.scrollToIndex(rows.indexOf(next));
    focusAt();
  };
  const letGo = () => {
    if (drop) {
      const command = moveTo(plan, drop);
      if (command) store.draft([command]);
    }
    setDrop(null);
  };
  const allSelected = rows.length > 0 && rows.every(({ item }) => selected.has(item.id));
  return (
    <div
      ref={frame}
      role="grid"
      aria-label="Crossings"
      aria-rowcount={rows.length + 1}
      aria-colcount={columns.length + 3}
      aria-multiselectable="true"
      className={styles.grid}
      onKeyDown={move}
      tabIndex={-1}
    >
      <div style={{ height: virtual.getTotalSize(), position: "relative", minWidth: "fit-content" }}>
        <div role="row" tabIndex={-1} className={styles.headRow} style={{ gridTemplateColumns: template }}>
          <span role="columnheader" tabIndex={-1}>
            <RowCheck
              label="Select all items"
              isSelected={allSelected}
              onChange={(isSelected) =>
                select(
                  rows.map(({ item }) => item.id),
                  isSelected,
                )
              }
            />
          </span>
          <span role="columnheader" tabIndex={-1}>
            Item
          </span>
          <span role="columnheader" tabIndex={-1}>
            For
          </span>
          {columns.map((one) => {
            const { within } = one;
            const name = (
              <span className={columns.length > 12 && one.stripe ? "visually-hidden" : styles.groupName}>
                {one.name}
              </span>
            );
            return (
              <span key={one.id} role="columnheader" tabIndex={-1} title={one.name} className={styles.groupHead}>
                {one.stripe && <Stripe stripe={one.stripe} isPrivate={one.isPrivate} />}
                {within ? (
                  <button
                    type="button"
                    className={base.plainButton}
                    onClick={() => open(within)}
                    title={`Look into ${one.name}`}
                  >
                    {name}
                  </button>
                ) : (
                  name
                )}
              </span>
            );
          })}
        </div>
        {virtual.getVirtualItems().map((line) => (
          <CrossingRow
            key={rows[line.index]?.item.id}
            {...props}
            row={rows[line.index] as OutlineRow}
            index={line.index}
            start={line.start}
            template={template}
            check={check}
            drop={drop}
            setDrop={setDrop}
            letGo={letGo}
            movedWith={movedWith}
          />
        ))}
      </div>
      {rows.length === 0 && <p className={base.soft}>No item fits what is shown.</p>}
    </div>
  );
}
