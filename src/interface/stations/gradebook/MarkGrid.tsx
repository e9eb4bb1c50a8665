import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, useRef, useState } from "react";
import { type Cell, type Cells, sayLate } from "../../../core/gradebook/cells.ts";
import { sayTotal, type Total } from "../../../core/gradebook/totals.ts";
import { fullName, homeEnrolment } from "../../../core/plan/lookup.ts";
import type { Mark } from "../../../core/plan/progress.ts";
import type { Item } from "../../../core/plan/types.ts";
import { useBench } from "../../bench/context.tsx";
import { isFailure, postJson } from "../../bench/fetch.ts";
import styles from "./gradebook.module.css";

interface MarkGridProps {
  rows: string[];
  columns: Item[];
  cells: Cells;
  totals(personId: string): Total;
  /** Opens a student's total. */
  showTotal(personId: string): void;
  at: { personId: string; itemId: string } | null;
  setAt(at: { personId: string; itemId: string }): void;
}

/** The shape of a state; the word stands beside it in the label and in the Why panel. */
const shapes: Record<Cell["state"], string> = {
  "not theirs": "",
  excused: "x",
  marked: "",
  "handed in": "▸",
  missing: "○",
  "not yet open": "·",
  waiting: "–",
};

const nameWidth = 290;
const columnWidth = 82;

/** Students as rows, items as columns; one cell is in the tab order, typing begins a mark. */
export function MarkGrid({ rows, columns, cells, totals, showTotal, at, setAt }: MarkGridProps) {
  const { store, state, plan, t } = useBench();
  const frame = useRef<HTMLDivElement>(null);
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const lines = useVirtualizer({
    count: rows.length,
    getScrollElement: () => frame.current,
    estimateSize: () => 30,
    overscan: 10,
    paddingStart: 62,
  });
  const across = useVirtualizer({
    horizontal: true,
    count: columns.length,
    getScrollElement: () => frame.current,
    estimateSize: () => columnWidth,
    overscan: 3,
    paddingStart: nameWidth,
  });
  const row = rows.indexOf(at?.personId ?? "");
  const column = columns.findIndex(({ id }) => id === at?.itemId);

  const focusCell = () => requestAnimationFrame(() => frame.current?.querySelector<HTMLElement>("[data-at]")?.focus());
  const moveTo = (nextRow: number, nextColumn: number) => {
    const r = Math.min(rows.length - 1, Math.max(0, nextRow));
    const c = Math.min(columns.length - 1, Math.max(0, nextColumn));
    const [personId, item] = [rows[r], columns[c]];
    if (!personId || !item) return;
    setAt({ personId, itemId: item.id });
    lines.scrollToIndex(r);
    across.scrollToIndex(c);
    focusCell();
  };

  const storeMark = async (item: Item, personId: string, points: number | null, excused: boolean) => {
    const old = cells.cell(item, personId)?.mark ?? null;
    const seen = old && { points: old.points, excused: old.excused };
    const answer = await postJson<{ stored: Mark | null }>(`${store.address}/marks`, {
      itemId: item.id,
      personId,
      points,
      excused,
      seen,
    });
    const replace = (mark: Mark | null) => {
      const marks = store
        .get()
        .progress.marks.filter((other) => other.itemId !== item.id || other.personId !== personId);
      store.setProgress({ ...store.get().progress, marks: mark ? [...marks, mark] : marks });
    };
    if (!isFailure(answer)) return replace(answer.stored);
    const newer = answer.body.newer as Mark | null | undefined;
    if (answer.status === 409) replace(newer ?? null);
    store.tell(
      "wrong",
      answer.status === 409
        ? `${answer.detail} Theirs: ${newer?.excused ? "excused" : (newer?.points ?? "no mark")}. Yours: ${excused ? "excused" : (points ?? "no mark")}.`
        : answer.detail,
    );
  };
  /** Keeps what was typed: a number, x for excused, nothing to take the mark away. */
  const keep = (): boolean => {
    if (typed === null || !at) return true;
    const item = plan.items[at.itemId];
    const text = typed.trim().replace(",", ".");
    const excused = /^x$/i.test(text);
    const points = text === "" || excused ? null : Number(text);
    if (
      !item ||
      (points !== null &&
        (!Number.isFinite(points) ||
          points < 0 ||
          points > 1_000_000 ||
          Math.abs(points * 1000 - Math.round(points * 1000)) > 1e-6))
    ) {
      setWrong(`"${typed}" is not a mark. Type points such as 14.5, or x to excuse.`);
      return false;
    }
    setTyped(null);
    setWrong(null);
    void storeMark(item, at.personId, points, excused);
    return true;
  };

  const key = (event: KeyboardEvent) => {
    if (!at || column < 0) return;
    const steps: Record<string, [number, number]> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
      PageDown: [15, 0],
      PageUp: [-15, 0],
    };
    const step = steps[event.key];
    if (typed === null) {
      if (step) {
        event.preventDefault();
        moveTo(row + step[0], column + step[1]);
      } else if (event.key === "Home" || event.key === "End") {
        event.preventDefault();
        moveTo(row, event.key === "Home" ? 0 : columns.length - 1);
      } else if (event.key === "t") {
        event.preventDefault();
        showTotal(at.personId);
      } else if (event.key === "Delete" || event.key === "Backspace") {
        event.preventDefault();
        const item = plan.items[at.itemId];
        if (item) void storeMark(item, at.personId, null, false);
      } else if (event.key === "Enter" || event.key === "F2") {
        event.preventDefault();
        const mark = cells.cell(columns[column] as Item, at.personId)?.mark;
        setTyped(mark?.excused ? "x" : String(mark?.points ?? ""));
      } else if (/^[0-9.,x]$/i.test(event.key) && !event.ctrlKey && !event.metaKey && !event.altKey) {
        event.preventDefault();
        setTyped(event.key);
      }
    } else if (event.key === "Escape") {
      setTyped(null);
      setWrong(null);
      focusCell();
    } else if (event.key === "Enter" || event.key === "ArrowDown" || event.key === "ArrowUp" || event.key === "Tab") {
      event.preventDefault();
      if (!keep()) return;
      if (event.key === "Tab") moveTo(row, column + (event.shiftKey ? -1 : 1));
      else moveTo(row + (event.key === "ArrowUp" ? -1 : 1), column);
    }
  };

  return (
    <>
      <div
        ref={frame}
        role="grid"
        aria-label="Marks"
        aria-rowcount={rows.length + 1}
        aria-colcount={columns.length + 1}
        className={styles.grid}
        onKeyDown={key}
        tabIndex={-1}
      >
        <div
          style={{
            height: lines.getTotalSize(),
            width: across.getTotalSize(),
            position: "relative",
          }}
        >
          <div role="row" tabIndex={-1} className={styles.headRow} style={{ width: across.getTotalSize() }}>
            <span role="columnheader" tabIndex={-1} className={styles.cornerHead} style={{ width: nameWidth }}>
              <span>Student</span>
              <span>Total</span>
            </span>
            {across.getVirtualItems().map((place) => {
              const item = columns[place.index] as Item;
              return (
                <span
                  key={item.id}
                  role="columnheader"
                  tabIndex={-1}
                  aria-colindex={place.index + 2}
                  className={styles.columnHead}
                  title={item.title}
                  style={{ left: place.start, width: columnWidth }}
                >
                  <span>{item.title}</span>
                  <small>of {item.points}</small>
                </span>
              );
            })}
          </div>
          {lines.getVirtualItems().map((line) => {
            const personId = rows[line.index] as string;
            const person = plan.people[personId];
            return (
              <div
                key={personId}
                role="row"
                tabIndex={-1}
                aria-rowindex={line.index + 2}
                className={styles.row}
                style={{ top: line.start, width: across.getTotalSize() }}
              >
                <span role="rowheader" tabIndex={-1} className={styles.rowHead} style={{ width: nameWidth }}>
                  <span>{person && fullName(person)}</span>
                  <small>{plan.sections[homeEnrolment(plan, personId, t)?.sectionId ?? ""]?.code}</small>
                  <button
                    type="button"
                    tabIndex={-1}
                    className={styles.total}
                    aria-label={`Total of ${person ? fullName(person) : ""}: ${sayTotal(totals(personId))}. Open it`}
                    onClick={() => showTotal(personId)}
                  >
                    {totals(personId).percent === null ? "–" : sayTotal(totals(personId))}
                  </button>
                </span>
                {across.getVirtualItems().map((place) => {
                  const item = columns[place.index] as Item;
                  const cell = cells.cell(item, personId);
                  const here = at?.personId === personId && at.itemId === item.id;
                  const first = !at && line.index === 0 && place.index === 0;
                  return (
                    <span
                      key={item.id}
                      role="gridcell"
                      aria-colindex={place.index + 2}
                      tabIndex={-1}
                      style={{
                        position: "absolute",
                        top: 0,
                        left: place.start,
                        width: columnWidth,
                        height: 30,
                      }}
                    >
                      {here && typed !== null ? (
                        <input
                          data-cell
                          // The field appears because its cell was typed into.
                          // biome-ignore lint/a11y/noAutofocus: focus stays where typing began
                          autoFocus
                          aria-label={`Mark of ${person ? fullName(person) : ""} on ${item.title}`}
                          aria-invalid={wrong !== null}
                          className={styles.input}
                          value={typed}
                          onChange={(event) => setTyped(event.target.value)}
                          onBlur={() => keep() || setTyped(null)}
                        />
                      ) : (
                        <button
                          type="button"
                          data-cell
                          data-at={here || undefined}
                          data-state={cell?.state}
                          tabIndex={here || first ? 0 : -1}
                          className={styles.cell}
                          aria-label={`${person ? fullName(person) : ""}, ${item.title}: ${sayCell(cell, item)}`}
                          onClick={() => setAt({ personId, itemId: item.id })}
                          onDoubleClick={() => setTyped(String(cell?.mark?.points ?? ""))}
                        >
                          {cell?.state === "marked" ? cell.mark?.points : cell && shapes[cell.state]}
                          {cell && cell.lateBy > 0 && <small>{sayLate(cell.lateBy)} late</small>}
                        </button>
                      )}
                    </span>
                  );
                })}
              </div>
            );
          })}
        </div>
      </div>
      <div className={styles.key}>
        {wrong ? (
          <span role="alert" className={styles.wrong}>
            {wrong}
          </span>
        ) : (
          <>
            <span>▸ to be marked</span>
            <span>○ missing</span>
            <span>x excused</span>
            <span>– waiting</span>
            <span>· not yet open</span>
            <span>blank: not theirs</span>
            {state.moment !== null && <span>States are those of the chosen moment; marks are today's.</span>}
          </>
        )}
      </div>
    </>
  );
}

export const sayCell = (cell: Cell | null, item: Item): string =>
  !cell
    ? "not enrolled"
    : `${cell.state === "marked" ? `${cell.mark?.points} of ${item.points}` : cell.state}${cell.lateBy > 0 ? `, ${sayLate(cell.lateBy)} late` : ""}`;
