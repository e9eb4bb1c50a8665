import { useMemo, useState } from "react";
import type { LayerCount } from "../../../../core/placement/membership.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { BoardColumn } from "./BoardColumn.tsx";
import { BoardColumns } from "./BoardColumns.tsx";
import { BoardSelection } from "./BoardSelection.tsx";
import { BoardSwitches } from "./BoardSwitches.tsx";
import styles from "./board.module.css";
import { allShown, type Column, type Switches, staffAt, useColumns } from "./useBoard.ts";
import { type Moving, useMoving } from "./useMoving.ts";
import { useSelection } from "./useSelection.ts";

interface BoardProps {
  count: LayerCount;
  onWhy(personId: string): void;
}

/** Groups side by side: people are dragged from one to another, and what that breaks is said before they are let go. */
export function Board({ count, onWhy }: BoardProps) {
  const { plan, t } = useWorkbench();
  const { layer } = count;
  const [switches, setSwitches] = useState<Switches>(allShown);
  const columns = useColumns(count, switches);
  const staff = useMemo(() => new Set(staffAt(plan, t)), [plan, t]);
  const selection = useSelection();
  const moving = useMoving(count, selection);
  return (
    <section className={styles.board} aria-label="Board">
      <BoardSwitches {...{ layer, switches }} set={setSwitches} />
      <BoardColumns columns={columns} onOutside={() => moving.here(null)}>
        {(column, { onSide, full }) => (
          <BoardColumn
            {...{ column, selection, staff, full, onWhy, onSide }}
            isPrivate={layer.private}
            over={<Effect {...{ moving, column }} />}
            isOver={moving.effectOn(column) !== null}
            onDragStart={(event, index) => moving.begin(column, event, index)}
            onDragOver={(event) => moving.hover(column, event)}
            onDrop={(event) => moving.drop(column, event)}
            onHere={(isHere) => moving.here(isHere ? column : null)}
            onPut={() => moving.put(column.group?.id ?? null)}
          />
        )}
      </BoardColumns>
      <BoardSelection {...{ count, moving, onWhy }} onDone={selection.clear} />
    </section>
  );
}

/** What the selection would make of a group: its count before and after, and what that breaks. */
function Effect({ moving, column }: { moving: Moving; column: Column }) {
  const effect = moving.effectOn(column);
  if (!effect) return null;
  return (
    <>
      {column.group && (
        <b>
          {effect.before} → {effect.after}
        </b>
      )}
      {effect.breaks.map((says) => (
        <span key={says} className={base.wrong}>
          {says}
        </span>
      ))}
    </>
  );
}
