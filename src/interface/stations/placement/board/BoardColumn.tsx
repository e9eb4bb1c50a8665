import { useVirtualizer } from "@tanstack/react-virtual";
import { ChevronDown, ChevronUp } from "lucide-react";
import { type DragEvent, type KeyboardEvent, type ReactNode, useRef, useState } from "react";
import { fullName } from "../../../../core/plan/lookup.ts";
import { Button } from "../../../kit/Button.tsx";
import { Stripe } from "../../../kit/Stripe.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import styles from "./board.module.css";
import { personHeight } from "./rows.ts";
import type { Column } from "./useBoard.ts";
import type { Selection } from "./useSelection.ts";

interface ColumnProps {
  column: Column;
  isPrivate: boolean;
  selection: Selection;
  /** Who are not students, and are not counted. */
  staff: ReadonlySet<string>;
  /** Something of the selection would come here: what it makes of the group. */
  isOver: boolean;
  over: ReactNode;
  /** Whether a short column is shown in full, and the press that changes it; null where it has all its room. */
  full: { isFull: boolean; toggle(): void } | null;
  onDragStart(event: DragEvent, index: number): void;
  onDragOver(event: DragEvent): void;
  onDrop(event: DragEvent): void;
  /** The keys come here, or leave. */
  onHere(isHere: boolean): void;
  /** The selection is put down here by key. */
  onPut(): void;
  onWhy(personId: string): void;
  onSide(step: -1 | 1): void;
}

/** A group as a column: a list box whose people can be selected, dragged, and moved by key. */
export function BoardColumn(props: ColumnProps) {
  const {
    column,
    isPrivate,
    selection,
    staff,
    isOver,
    over,
    full,
    onDragStart,
    onDragOver,
    onDrop,
    onHere,
    onPut,
    onWhy,
    onSide,
  } = props;
  const { plan } = useWorkbench();
  const { group, places, size, held } = column;
  const frame = useRef<HTMLDivElement>(null);
  const [active, setActive] = useState(0);
  const rows = useVirtualizer({
    count: places.length,
    getScrollElement: () => frame.current,
    estimateSize: () => personHeight,
    overscan: 6,
  });
  const title = group?.name ?? "Unplaced";
  const optionId = (index: number) => `on-board-${group?.id ?? "none"}-${index}`;
  const at = Math.min(active, Math.max(0, places.length - 1));
  const press = (event: KeyboardEvent) => {
    const steps: Record<string, number> = {
      ArrowDown: 1,
      ArrowUp: -1,
      PageDown: 12,
      PageUp: -12,
      Home: -1e9,
      End: 1e9,
    };
    const step = steps[event.key];
    if (step !== undefined) {
      const next = Math.max(0, Math.min(places.length - 1, at + step));
      if (event.shiftKey && places.length > 0) {
        if (!selection.has(places[at] as Column["places"][number])) selection.choose(places, at, "toggle");
        selection.choose(places, next, "range");
      }
      setActive(next);
      rows.scrollToIndex(next);
    } else if (event.key === " " && places.length > 0) selection.choose(places, at, "toggle");
    else if (event.key === "Enter") onPut();
    else if (event.key === "ArrowLeft" || event.key === "ArrowRight") onSide(event.key === "ArrowLeft" ? -1 : 1);
    else if (event.key === "Escape") selection.clear();
    else if (event.key.toLowerCase() === "a" && (event.ctrlKey || event.metaKey))
      places.forEach((place, index) => {
        if (!selection.has(place)) selection.choose(places, index, "toggle");
      });
    else return;
    event.preventDefault();
  };
  return (
    <div
      role="group"
      aria-label={title}
      className={styles.column}
      data-over={isOver || undefined}
      onDragOver={onDragOver}
      onDrop={onDrop}
    >
      <header className={styles.columnHead}>
        {group && <Stripe stripe={group.stripe} isPrivate={isPrivate} />}
        <strong className={styles.columnName} title={title}>
          {title}
        </strong>
        <span className={styles.size} data-off={isOff(group, size) || undefined}>
          {size}
          {group?.max != null && ` of ${group.max}`}
        </span>
        {full && (
          <Button
            quiet
            className={styles.open}
            aria-label={`${title}, ${full.isFull ? "short" : "in full"}`}
            onPress={full.toggle}
          >
            {full.isFull ? <ChevronUp size={14} /> : <ChevronDown size={14} />}
          </Button>
        )}
      </header>
      <div className={styles.over} aria-live="polite">
        {over}
      </div>
      <div
        ref={frame}
        className={styles.people}
        role="listbox"
        tabIndex={0}
        aria-label={`${title}, ${size}`}
        aria-multiselectable
        aria-activedescendant={places.length > 0 ? optionId(at) : undefined}
        data-column={group?.id ?? ""}
        onFocus={() => onHere(true)}
        onBlur={() => onHere(false)}
        onKeyDown={press}
      >
        <div style={{ height: rows.getTotalSize(), position: "relative" }} role="presentation">
          {rows.getVirtualItems().map(({ index, start, key }) => {
            const place = places[index] as Column["places"][number];
            const person = plan.people[place.personId];
            const isSelected = selection.has(place);
            return (
              // biome-ignore lint/a11y/useKeyWithClickEvents: the list box around it takes the keys
              // biome-ignore lint/a11y/useFocusableInteractive: the list box keeps the focus and names the active one
              <div
                key={key}
                id={optionId(index)}
                role="option"
                aria-selected={isSelected}
                aria-setsize={places.length}
                aria-posinset={index + 1}
                className={styles.person}
                style={{ transform: `translateY(${start}px)` }}
                data-active={index === at || undefined}
                draggable
                onDragStart={(event) => onDragStart(event, index)}
                onClick={(event) => {
                  setActive(index);
                  selection.choose(
                    places,
                    index,
                    event.shiftKey ? "range" : event.ctrlKey || event.metaKey ? "toggle" : "alone",
                  );
                }}
                onDoubleClick={() => onWhy(place.personId)}
              >
                <span className={styles.personName} title={person && fullName(person)}>
                  {person ? fullName(person) : ""}
                </span>
                {group?.leads.includes(place.personId) && <span className={styles.aside}>leads</span>}
                {staff.has(place.personId) && <span className={styles.aside}>staff</span>}
                {held.has(place.personId) && <span className={styles.aside}>held</span>}
              </div>
            );
          })}
        </div>
        {places.length === 0 && (
          // biome-ignore lint/a11y/useFocusableInteractive: the list box keeps the focus, and there is nobody to choose
          <div role="option" aria-disabled aria-selected={false} className={styles.nobody}>
            Nobody
          </div>
        )}
      </div>
    </div>
  );
}

const isOff = (group: Column["group"], size: number) =>
  group !== null && ((group.max !== null && size > group.max) || (group.min !== null && size < group.min));
