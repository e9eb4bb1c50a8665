import { ChevronDown, ChevronRight } from "lucide-react";
import type { DragEvent } from "react";
import { sayAudience } from "../../../core/reach/explain.ts";
import { countBits } from "../../../core/sets/bits.ts";
import { RowCheck } from "../../kit/RowCheck.tsx";
import { stripeColour } from "../../kit/Stripe.tsx";
import { useReach, useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { CrossingMark } from "./CrossingMark.tsx";
import { crossing, sayCrossing } from "./crossings.ts";
import type { GridProps } from "./grid.ts";
import { ItemIcon } from "./ItemIcon.tsx";
import type { Drop } from "./moving.ts";
import styles from "./reach.module.css";
import { sayForWhom } from "./sayForWhom.ts";
import type { OutlineRow } from "./useOutline.ts";

interface RowProps extends GridProps {
  row: OutlineRow;
  index: number;
  start: number;
  template: string;
  check(itemId: string, isSelected: boolean, range: boolean): void;
  drop: Drop | null;
  setDrop(drop: Drop | null): void;
  letGo(): void;
  movedWith(itemId: string): string[];
}

/** One item: its box, its title, for whom it is, and its crossing with each column. */
export function CrossingRow(props: RowProps) {
  const {
    row,
    index,
    start,
    template,
    columns,
    at,
    setAt,
    selected,
    check,
    folded,
    fold,
    stranded,
    flags,
    inOrder,
    edit,
  } = props;
  const { drop, setDrop, letGo, movedWith } = props;
  const { plan } = useWorkbench();
  const reach = useReach();
  const { item, depth, children } = row;
  const isAt = at?.itemId === item.id;
  const isFirst = !at && index === 0;
  const meant = countBits(reach.meant(item));
  const isFolded = folded.has(item.id);
  const flag = flags.get(item.id);

  const over = (event: DragEvent<HTMLElement>) => {
    if (!drop) return;
    event.preventDefault();
    const { top, height } = event.currentTarget.getBoundingClientRect();
    const share = (event.clientY - top) / height;
    const where = item.kind === "folder" ? (share < 0.3 ? "before" : "into") : share < 0.5 ? "before" : "after";
    if (drop.overId !== item.id || drop.where !== where) setDrop({ ...drop, overId: item.id, where });
  };
  return (
    <div
      role="row"
      tabIndex={-1}
      aria-rowindex={index + 2}
      aria-selected={selected.has(item.id)}
      className={styles.row}
      data-chosen={isAt || undefined}
      data-drop={drop?.overId === item.id && !drop.itemIds.includes(item.id) ? drop.where : undefined}
      style={{ gridTemplateColumns: template, transform: `translateY(${start}px)` }}
      onDragOver={over}
      onDrop={(event) => {
        event.preventDefault();
        letGo();
      }}
    >
      <span role="gridcell" tabIndex={-1}>
        <RowCheck
          label={`Select ${item.title}`}
          isSelected={selected.has(item.id)}
          onChange={(isSelected, range) => check(item.id, isSelected, range)}
        />
      </span>
      <span role="rowheader" tabIndex={-1} className={styles.itemName} style={{ paddingLeft: depth * 18 }}>
        {children > 0 && (
          <button
            type="button"
            tabIndex={-1}
            className={styles.foldButton}
            aria-label={isFolded ? `Unfold ${item.title}` : `Fold ${item.title}`}
            aria-expanded={!isFolded}
            onClick={() => fold(item.id, !isFolded)}
          >
            {isFolded ? <ChevronRight size={14} aria-hidden /> : <ChevronDown size={14} aria-hidden />}
          </button>
        )}
        <button
          type="button"
          tabIndex={(isAt && at?.columnId === null) || isFirst ? 0 : -1}
          data-at={(isAt && at?.columnId === null) || undefined}
          className={`${base.plainButton} ${styles.title}`}
          data-leaf={children === 0 || undefined}
          draggable={inOrder}
          onDragStart={(event) => {
            event.dataTransfer.effectAllowed = "move";
            event.dataTransfer.setData("text/plain", item.title);
            setDrop({ itemIds: movedWith(item.id), overId: item.id, where: "before" });
          }}
          onDragEnd={() => setDrop(null)}
          onClick={() => setAt({ itemId: item.id, columnId: null })}
          onDoubleClick={() => edit(item.id)}
        >
          <ItemIcon item={item} />
          <span className={base.cut} data-unpublished={!item.published || undefined}>
            {item.title}
          </span>
          {isFolded && (
            <span className={styles.inside}>
              {children}
              <span className="visually-hidden"> within</span>
            </span>
          )}
          {flag && <span className={styles.flag}>{flag}</span>}
          {!item.published && <span className={styles.flag}>unpublished</span>}
        </button>
      </span>
      <span role="gridcell" tabIndex={-1} className={styles.audience} title={`For ${sayAudience(plan, item.audience)}`}>
        {sayForWhom(plan, item, meant, reach.students.length)}
      </span>
      {columns.map((column) => {
        const one = crossing(reach, item, column.members, stranded.get(item.id));
        const here = isAt && at?.columnId === column.id;
        return (
          <span key={column.id} role="gridcell" tabIndex={-1}>
            <button
              type="button"
              tabIndex={here ? 0 : -1}
              data-at={here || undefined}
              className={styles.crossing}
              aria-label={`${item.title}, ${column.name}: ${sayCrossing(one)}`}
              title={sayCrossing(one)}
              onClick={() => setAt({ itemId: item.id, columnId: column.id })}
            >
              <CrossingMark
                crossing={one}
                colour={column.isPrivate || !column.stripe ? "var(--ink-soft)" : stripeColour(column.stripe)}
              />
            </button>
          </span>
        );
      })}
    </div>
  );
}
