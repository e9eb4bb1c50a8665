import { useVirtualizer } from "@tanstack/react-virtual";
import {
  CalendarDays,
  DoorOpen,
  File,
  FileText,
  Folder,
  FolderLock,
  Link,
  ListChecks,
  MessagesSquare,
  PenLine,
} from "lucide-react";
import { type KeyboardEvent, useEffect, useRef } from "react";
import type { Group, Item, ItemKind } from "../../../core/plan/types.ts";
import { countBits } from "../../../core/reach/bits.ts";
import { sayAudience } from "../../../core/reach/explain.ts";
import { useBench } from "../../bench/context.tsx";
import { Stripe, stripeColour } from "../../kit/Stripe.tsx";
import base from "../station.module.css";
import { CrossingMark } from "./CrossingMark.tsx";
import { type Crossing, sayCrossing } from "./crossings.ts";
import styles from "./reach.module.css";

const icons: Record<ItemKind, typeof File> = {
  folder: Folder,
  page: FileText,
  file: File,
  link: Link,
  discussion: MessagesSquare,
  assignment: PenLine,
  quiz: ListChecks,
  event: CalendarDays,
};
const IconOf = ({ item }: { item: Item }) => {
  const Icon =
    item.kind === "folder"
      ? item.seals
        ? item.audience.to === "everyone"
          ? Folder
          : FolderLock
        : DoorOpen
      : icons[item.kind];
  return <Icon size={15} strokeWidth={1.7} aria-hidden />;
};

interface GridProps {
  rows: { item: Item; depth: number; crossings: Crossing[] }[];
  groups: Group[];
  at: { itemId: string; groupId: string | null } | null;
  setAt(at: { itemId: string; groupId: string | null }): void;
  wrong: Set<string>;
  isPrivate: boolean;
  edit(itemId: string): void;
}

/** Items as rows, groups as columns. One cell is in the tab order; arrow keys move it. */
export function CrossingGrid({ rows, groups, at, setAt, wrong, isPrivate, edit }: GridProps) {
  const { plan, reach } = useBench();
  const frame = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => frame.current,
    estimateSize: () => 30,
    overscan: 10,
    paddingStart: 40,
  });
  const columns = `minmax(260px, 1fr) 148px repeat(${groups.length}, ${groups.length > 12 ? 46 : 62}px)`;
  const row = Math.max(
    0,
    rows.findIndex(({ item }) => item.id === at?.itemId),
  );
  const column = groups.findIndex(({ id }) => id === at?.groupId);
  // What was chosen elsewhere, by the command field say, comes into view.
  const chosen = at?.itemId;
  // biome-ignore lint/correctness/useExhaustiveDependencies: rows change with every draft, only a choice scrolls
  useEffect(() => {
    const found = rows.findIndex(({ item }) => item.id === chosen);
    if (found >= 0) virtual.scrollToIndex(found);
  }, [chosen]);
  const move = (event: KeyboardEvent) => {
    const step = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[event.key];
    if (event.key === "Enter" && at && column < 0) return edit(at.itemId);
    if (!step) return;
    event.preventDefault();
    const next = rows[Math.min(rows.length - 1, Math.max(0, row + (step[0] as number)))];
    const group = groups[Math.min(groups.length - 1, column + (step[1] as number))];
    if (!next) return;
    setAt({
      itemId: next.item.id,
      groupId: column + (step[1] as number) < 0 ? null : (group?.id ?? null),
    });
    virtual.scrollToIndex(rows.indexOf(next));
    requestAnimationFrame(() => frame.current?.querySelector<HTMLElement>("[data-at]")?.focus());
  };
  return (
    <div
      ref={frame}
      role="grid"
      aria-label="Crossings"
      aria-rowcount={rows.length + 1}
      aria-colcount={groups.length + 2}
      className={styles.grid}
      onKeyDown={move}
      tabIndex={-1}
    >
      <div style={{ height: virtual.getTotalSize(), position: "relative", minWidth: "fit-content" }}>
        <div role="row" tabIndex={-1} className={styles.headRow} style={{ gridTemplateColumns: columns }}>
          <span role="columnheader" tabIndex={-1}>
            Item
          </span>
          <span role="columnheader" tabIndex={-1}>
            For
          </span>
          {groups.map((group) => (
            <span key={group.id} role="columnheader" tabIndex={-1} title={group.name} className={styles.groupHead}>
              <Stripe stripe={group.stripe} isPrivate={isPrivate} />
              <span className={groups.length > 6 ? "visually-hidden" : styles.groupName}>{group.name}</span>
            </span>
          ))}
        </div>
        {virtual.getVirtualItems().map((line) => {
          const { item, depth, crossings } = rows[line.index] as GridProps["rows"][number];
          const isAt = at?.itemId === item.id;
          const first = !at && line.index === 0;
          const audience = countBits(reach.meant(item));
          return (
            <div
              key={item.id}
              role="row"
              tabIndex={-1}
              aria-rowindex={line.index + 2}
              className={styles.row}
              data-chosen={isAt || undefined}
              style={{ gridTemplateColumns: columns, transform: `translateY(${line.start}px)` }}
            >
              <span role="rowheader" tabIndex={-1} className={styles.itemName} style={{ paddingLeft: depth * 18 }}>
                <button
                  type="button"
                  tabIndex={(isAt && at?.groupId === null) || first ? 0 : -1}
                  data-at={(isAt && at?.groupId === null) || undefined}
                  className={`${base.plainButton} ${styles.title}`}
                  onClick={() => setAt({ itemId: item.id, groupId: null })}
                  onDoubleClick={() => edit(item.id)}
                >
                  <IconOf item={item} />
                  <span className={base.cut} data-unpublished={!item.published || undefined}>
                    {item.title}
                  </span>
                  {wrong.has(item.id) && <span className={styles.flag}>leak</span>}
                  {!item.published && <span className={styles.flag}>unpublished</span>}
                </button>
              </span>
              <span
                role="gridcell"
                tabIndex={-1}
                className={styles.audience}
                title={`For ${sayAudience(plan, item.audience)}`}
              >
                {audience === reach.students.length ? "everyone" : `${audience} of ${reach.students.length}`}
              </span>
              {crossings.map((one, index) => {
                const group = groups[index];
                if (!group) return null;
                const here = isAt && at?.groupId === group.id;
                return (
                  <span key={group.id} role="gridcell" tabIndex={-1}>
                    <button
                      type="button"
                      tabIndex={here ? 0 : -1}
                      data-at={here || undefined}
                      className={styles.crossing}
                      aria-label={`${item.title}, ${group.name}: ${sayCrossing(one)}`}
                      title={sayCrossing(one)}
                      onClick={() => setAt({ itemId: item.id, groupId: group.id })}
                    >
                      <CrossingMark
                        crossing={one}
                        colour={isPrivate ? "var(--ink-soft)" : stripeColour(group.stripe)}
                      />
                    </button>
                  </span>
                );
              })}
            </div>
          );
        })}
      </div>
      {rows.length === 0 && <p className={base.soft}>No item fits what is shown.</p>}
    </div>
  );
}
