import type { VirtualItem } from "@tanstack/react-virtual";
import { memo } from "react";
import { sayLate } from "../../../../core/gradebook/cells.ts";
import { sayMark } from "../../../../core/gradebook/entry.ts";
import type { Sheet } from "../../../../core/gradebook/sheet.ts";
import { sayTotal, wordOf } from "../../../../core/gradebook/totals.ts";
import type { ShownColumn } from "../../../../core/gradebook/view.ts";
import { fullName, homeEnrolment, lookup } from "../../../../core/plan/lookup.ts";
import type { Group } from "../../../../core/plan/types.ts";
import { hasBit } from "../../../../core/sets/bits.ts";
import { takesFocus } from "../../../kit/focus.ts";
import { Stripe } from "../../../kit/Stripe.tsx";
import { codesBeside } from "../../codesBeside.ts";
import styles from "../gradebook.module.css";
import { type Line, meanOf, subtotalOf } from "./lines.ts";
import { sayCell, shapes } from "./say.ts";

export const rowHeight = 30;
export const groupHeight = 38;
export const nameWidth = 300;

interface Placed {
  top: number;
  width: number;
  /** Counted from 1, the header being the first. */
  rowIndex: number;
  across: VirtualItem[];
  columns: ShownColumn[];
  sheet: Sheet;
  /** Percent of each student's total; null until they are counted. */
  totals: Float64Array | null;
}
interface StudentProps extends Placed {
  personId: string;
  index: number;
  /** The layer by which rows are grouped. */
  groupBy: string | null;
  /** The column of the cell that is looked at, where it is in this row; and the first cell of all is reached by Tab. */
  at: number | null;
  first: boolean;
  /** Columns selected in this row, from and to; null: none. */
  from: number | null;
  to: number | null;
  /** What is being typed into the cell that is looked at. */
  typed: string | null;
  wrong: boolean;
  choose(personId: string, itemId: string, extend: boolean): void;
  begin(text: string): void;
  type(text: string): void;
  leave(): void;
  showTotal(personId: string): void;
}

/** The student's group of the first layer in which they are, but for the one by which rows are grouped already. */
function stripeOf(
  { reach }: Sheet,
  index: number,
  groupBy: string | null,
): { group: Group; isPrivate: boolean } | null {
  const { layers, groupsOfLayer } = lookup(reach.plan);
  for (const layer of layers) {
    if (layer.id === groupBy) continue;
    const group = (groupsOfLayer.get(layer.id) ?? []).find(({ id }) => {
      const bits = reach.membershipSets.groups.get(id);
      return bits !== undefined && hasBit(bits, index);
    });
    if (group) return { group, isPrivate: layer.private };
  }
  return null;
}

/** The total of a student by their place, with its word; null until totals are counted. */
function totalIn({ sheet, totals }: Placed, index: number): { percent: number | null; word: string | null } | null {
  if (!totals) return null;
  const percent = totals[index] as number;
  if (Number.isNaN(percent)) return { percent: null, word: null };
  return { percent, word: wordOf(sheet.reach.plan.course.grading.scale, percent) };
}

/** A student: name, groups, section, total, and the cells in sight. */
export const StudentRow = memo(function StudentRow(props: StudentProps) {
  const { personId, index, sheet, columns, across, at, typed, from, to } = props;
  const { plan, t } = sheet.reach;
  const person = plan.people[personId];
  const name = person ? fullName(person) : "";
  const stripe = stripeOf(sheet, index, props.groupBy);
  const home = plan.sections[homeEnrolment(plan, personId, t)?.sectionId ?? ""];
  const total = totalIn(props, index);
  return (
    <div
      role="row"
      tabIndex={-1}
      aria-rowindex={props.rowIndex}
      className={styles.row}
      style={{ top: props.top, width: props.width }}
    >
      <span role="rowheader" tabIndex={-1} className={styles.rowHead} style={{ width: nameWidth }}>
        <span>{name}</span>
        {stripe && <Stripe stripe={stripe.group.stripe} isPrivate={stripe.isPrivate} />}
        <small>{codesBeside(home ? [home.code] : [], stripe ? [stripe.group] : [])}</small>
        <button
          type="button"
          tabIndex={-1}
          className={styles.total}
          aria-label={`Total of ${name}: ${total ? sayTotal(total) : "being counted"}. Open it`}
          onClick={() => props.showTotal(personId)}
        >
          {total ? (total.percent === null ? "–" : sayTotal(total)) : "…"}
        </button>
      </span>
      {across.map((place) => {
        const item = (columns[place.index] as ShownColumn).item;
        const cell = sheet.cell(item, personId);
        const here = at === place.index;
        const selected = from !== null && to !== null && place.index >= from && place.index <= to;
        return (
          <span
            key={item.id}
            role="gridcell"
            aria-colindex={place.index + 2}
            aria-selected={selected || undefined}
            tabIndex={-1}
            className={styles.place}
            style={{ left: place.start, width: place.size }}
          >
            {here && typed !== null ? (
              <input
                data-cell
                ref={takesFocus}
                aria-label={`Mark of ${name} on ${item.title}`}
                aria-invalid={props.wrong}
                className={styles.input}
                value={typed}
                onChange={(event) => props.type(event.target.value)}
                onBlur={props.leave}
              />
            ) : (
              <button
                type="button"
                data-cell
                data-at={here || undefined}
                data-selected={selected || undefined}
                data-shared={cell?.mark?.shared !== undefined || undefined}
                data-state={cell?.state}
                tabIndex={here || (props.first && place.index === 0) ? 0 : -1}
                className={styles.cell}
                aria-label={`${name}, ${item.title}: ${sayCell(cell, item)}`}
                onClick={(event) => props.choose(personId, item.id, event.shiftKey)}
                onDoubleClick={() => props.begin(sayMark(cell?.mark ?? null))}
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
});

const percentOf = (value: number | null) => (value === null ? "" : `${Math.round(value)} %`);

/** A group: its stripe, how many are under it, and what each column comes to. */
export function GroupRow({
  line,
  isPrivate,
  ...props
}: Placed & { line: Extract<Line, { kind: "group" }>; isPrivate: boolean }) {
  const { sheet, across, columns } = props;
  const { group, indexes } = line;
  const name = group?.name ?? "In no group";
  const { totals } = props;
  return (
    <div
      role="row"
      tabIndex={-1}
      aria-rowindex={props.rowIndex}
      className={styles.groupRow}
      style={{ top: props.top, width: props.width }}
    >
      <span role="rowheader" tabIndex={-1} className={styles.rowHead} style={{ width: nameWidth }}>
        {group && <Stripe stripe={group.stripe} isPrivate={isPrivate} />}
        <strong>{name}</strong>
        <small>{indexes.length}</small>
        <span className={styles.groupTotal}>{totals ? percentOf(meanOf(totals, indexes)) : "…"}</span>
      </span>
      {across.map((place) => {
        const { item } = columns[place.index] as ShownColumn;
        const { mean, toMark, missing } = subtotalOf(sheet.column(item), indexes);
        const says = `${name}, ${item.title}: mean ${percentOf(mean) || "none"}, ${toMark} to be marked, ${missing} missing`;
        return (
          <span
            key={item.id}
            role="gridcell"
            tabIndex={-1}
            aria-colindex={place.index + 2}
            aria-label={says}
            title={says}
            className={styles.subtotal}
            style={{ left: place.start, width: place.size }}
          >
            <span>{percentOf(mean)}</span>
            <small>
              {toMark > 0 && `▸${toMark}`} {missing > 0 && `○${missing}`}
            </small>
          </span>
        );
      })}
    </div>
  );
}
