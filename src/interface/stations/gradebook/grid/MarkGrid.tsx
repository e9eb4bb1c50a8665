import { useVirtualizer } from "@tanstack/react-virtual";
import { useLayoutEffect, useMemo, useRef } from "react";
import { usualWidth } from "../../../../core/gradebook/view.ts";
import { useEffectWhen } from "../../../kit/when.ts";
import { useParts, useWorkbench } from "../../../workbench/context.tsx";
import styles from "../gradebook.module.css";
import { JudgedDialog } from "../JudgedDialog.tsx";
import type { EditingProps } from "./editing.ts";
import { GridHead } from "./GridHead.tsx";
import { GroupRow, groupHeight, nameWidth, rowHeight, StudentRow } from "./GridRow.tsx";
import { linesOf } from "./lines.ts";
import { useEditing } from "./useEditing.ts";
import { useTotals } from "./useTotals.ts";

const headHeight = 62;

/** Students as rows, items as columns; one cell is in the tab order, typing begins a mark. */
export function MarkGrid({ rows, ...props }: EditingProps & { rows: string[] }) {
  const { sheet, columns, view, at } = props;
  const { plan } = useWorkbench();
  const state = useParts("moment");
  const frame = useRef<HTMLDivElement>(null);
  const lines = useMemo(() => linesOf(sheet, rows, view.groupBy), [sheet, rows, view.groupBy]);
  const places = useMemo(
    () => new Map(lines.map((line, index) => [line.kind === "student" ? line.personId : index, index])),
    [lines],
  );
  const down = useVirtualizer({
    count: lines.length,
    getScrollElement: () => frame.current,
    estimateSize: (index) => (lines[index]?.kind === "group" ? groupHeight : rowHeight),
    overscan: 8,
    paddingStart: headHeight,
    scrollPaddingStart: headHeight,
  });
  const across = useVirtualizer({
    horizontal: true,
    count: columns.length,
    getScrollElement: () => frame.current,
    estimateSize: (index) => columns[index]?.width ?? usualWidth,
    overscan: 2,
    paddingStart: nameWidth,
    scrollPaddingStart: nameWidth,
  });
  // Rows and columns of other heights and widths are measured anew.
  // What they are made of changed.
  useEffectWhen([lines], () => down.measure());
  // What they are made of changed.
  useEffectWhen([columns], () => across.measure());

  // The cell is focused with the change that brings it, so that the next key finds it however fast it comes.
  const wantsFocus = useRef(false);
  const takeFocus = () => {
    const cell = wantsFocus.current ? frame.current?.querySelector<HTMLElement>("[data-at]") : null;
    if (!cell) return;
    wantsFocus.current = false;
    cell.focus();
  };
  useLayoutEffect(takeFocus);
  const focusCell = () => {
    wantsFocus.current = true;
    requestAnimationFrame(takeFocus);
  };
  const reveal = (row: number, column: number) => {
    down.scrollToIndex(row);
    across.scrollToIndex(column);
    focusCell();
  };
  const { row, column, range, typed, wrong, ...editing } = useEditing({ ...props, lines, places, reveal, focusCell });

  const width = across.getTotalSize();
  const inSight = across.getVirtualItems();
  const shared = { width, across: inSight, columns, sheet, totals: useTotals(sheet) };
  const firstStudent = lines.findIndex((line) => line.kind === "student");
  return (
    <>
      <div
        ref={frame}
        role="grid"
        aria-label="Marks"
        aria-rowcount={lines.length + 1}
        aria-colcount={columns.length + 1}
        aria-multiselectable
        className={styles.grid}
        onKeyDown={editing.key}
        onCopy={editing.copy}
        onPaste={editing.paste}
        tabIndex={-1}
      >
        <div style={{ height: down.getTotalSize(), width, position: "relative" }}>
          <GridHead width={width} across={inSight} columns={columns} resize={editing.resize} move={editing.move} />
          {down.getVirtualItems().map((place) => {
            const line = lines[place.index];
            if (!line) return null;
            const placed = { ...shared, top: place.start, rowIndex: place.index + 2 };
            if (line.kind === "group")
              return (
                <GroupRow
                  key={line.group?.id ?? "none"}
                  {...placed}
                  line={line}
                  isPrivate={line.group ? (plan.layers[line.group.layerId]?.private ?? false) : false}
                />
              );
            const here = place.index === row;
            const within = range !== null && place.index >= range.top && place.index <= range.bottom;
            return (
              <StudentRow
                key={line.personId}
                {...placed}
                personId={line.personId}
                index={line.index}
                groupBy={view.groupBy}
                at={here ? column : null}
                first={!at && place.index === firstStudent}
                from={within ? range.left : null}
                to={within ? range.right : null}
                typed={here ? typed : null}
                wrong={here && wrong !== null}
                choose={editing.choose}
                begin={editing.setTyped}
                type={editing.setTyped}
                leave={editing.left}
                showTotal={props.showTotal}
              />
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
            <span>underlined: shared</span>
            <span>blank: not theirs</span>
            {state.moment !== null && <span>States are those of the chosen moment; marks are today's.</span>}
          </>
        )}
      </div>
      {editing.pasted && (
        <JudgedDialog
          title="Marks, looked at first"
          judged={editing.pasted}
          marks={props.marks}
          onClose={editing.putAway}
        />
      )}
    </>
  );
}
