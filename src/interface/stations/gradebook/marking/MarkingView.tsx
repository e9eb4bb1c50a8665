import { useMemo, useRef, useState } from "react";
import { sayLate } from "../../../../core/gradebook/cells.ts";
import { countStates } from "../../../../core/gradebook/column.ts";
import type { Sheet } from "../../../../core/gradebook/sheet.ts";
import { handedInByGroup } from "../../../../core/gradebook/statistics.ts";
import { fullName, lookup } from "../../../../core/plan/lookup.ts";
import type { Item } from "../../../../core/plan/types.ts";
import type { Bits } from "../../../../core/sets/bits.ts";
import { sayNumber } from "../../../../core/text/locale.ts";
import { isolated } from "../../../../core/text/names.ts";
import { Choice } from "../../../kit/Fields.tsx";
import { Rows } from "../../../kit/Rows.tsx";
import { Stripe } from "../../../kit/Stripe.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { sayCell, shapes } from "../grid/say.ts";
import type { Marks } from "../useMarks.ts";
import styles from "./marking.module.css";
import { besideIn, queueOf, type Waiting, type Which } from "./queue.ts";
import type { Unsent } from "./useHolder.ts";
import { WorkPane } from "./WorkPane.tsx";

interface MarkingProps {
  sheet: Sheet;
  bits: Bits;
  columns: Item[];
  marks: Marks;
  at: { personId: string; itemId: string } | null;
  setAt(at: { personId: string; itemId: string }): void;
}

const whiches: { value: Which; label: string }[] = [
  { value: "to be marked", label: "to be marked" },
  { value: "handed in", label: "handed in" },
  { value: "not handed in", label: "not handed in" },
  { value: "everyone", label: "everyone it is for" },
];

/** The queue of what is to be marked in this filter, and one piece of work beside its mark. */
export function MarkingView({ sheet, bits, columns, marks, at, setAt }: MarkingProps) {
  const { plan } = useWorkbench();
  const [itemId, setItemId] = useState<string>(at?.itemId ?? "all");
  const [which, setWhich] = useState<Which>(() => {
    const item = at && plan.items[at.itemId];
    return item && sheet.cell(item, at.personId)?.state !== "handed in" ? "everyone" : "to be marked";
  });
  const items = useMemo(
    () => (itemId === "all" ? columns : columns.filter(({ id }) => id === itemId)),
    [columns, itemId],
  );
  const queue = useMemo(() => queueOf(sheet, bits, items, which), [sheet, bits, items, which]);
  // What was marked leaves the queue and stays on the screen until one goes on.
  const { next, previous } = useMemo(() => besideIn(sheet, items, queue, at), [sheet, items, queue, at]);
  const item = at ? plan.items[at.itemId] : undefined;
  const unsent = useRef(new Map<string, Unsent>());
  /** The next of the queue after where one is, past some students. */
  const after = (past: string[]): Waiting | undefined => {
    const from = queue.findIndex((one) => one.personId === next?.personId && one.item.id === next.item.id);
    return queue.slice(Math.max(0, from)).find((one) => one.item.id !== at?.itemId || !past.includes(one.personId));
  };
  const go = (one: Waiting) => setAt({ personId: one.personId, itemId: one.item.id });
  const toMark = useMemo(
    () => new Map(columns.map((one) => [one.id, countStates(sheet.column(one), bits)["handed in"]] as const)),
    [sheet, bits, columns],
  );
  const nameOf = (personId = "") => {
    const person = plan.people[personId];
    return person && item ? `${isolated(fullName(person))}, ${item.title}` : "";
  };
  const all = [...toMark.values()].reduce((sum, count) => sum + count, 0);
  return (
    <div className={styles.marking} data-marking>
      <div className={styles.queue}>
        <div className={styles.choices}>
          <Choice
            label="Column"
            hideLabel
            value={itemId}
            onChange={setItemId}
            options={[
              { value: "all", label: "Every column", aside: all },
              ...columns.map(({ id, title }) => ({ value: id, label: title, aside: toMark.get(id) })),
            ]}
          />
          <Choice label="Which" hideLabel value={which} onChange={setWhich} options={whiches} />
        </div>
        <p className={base.soft} aria-live="polite">
          {sayNumber(queue.length)} {which === "everyone" ? "in all" : which}
        </p>
        <Rows count={queue.length} height={44} label="Queue" className={styles.list as string}>
          {(index) => {
            const one = queue[index] as Waiting;
            const isHere = one.personId === at?.personId && one.item.id === at.itemId;
            return <WaitingRow one={one} sheet={sheet} isHere={isHere} go={() => go(one)} />;
          }}
        </Rows>
      </div>
      <p className="visually-hidden" role="status">
        {item && nameOf(at?.personId)}
      </p>
      <div className={styles.right}>
        {item && at && sheet.reach.indexOf.has(at.personId) ? (
          <WorkPane
            key={`${at.itemId}/${at.personId}`}
            sheet={sheet}
            item={item}
            personId={at.personId}
            marks={marks}
            next={next && ((past) => go(after(past) ?? next))}
            previous={previous && (() => go(previous))}
            unsent={unsent.current}
          />
        ) : (
          <p className={base.soft}>
            {queue.length > 0
              ? "Choose somebody's work, or begin with the first of the queue."
              : "Nothing in this filter waits to be marked."}
          </p>
        )}
        {items.length === 1 && <HandedIn sheet={sheet} item={items[0] as Item} bits={bits} />}
      </div>
    </div>
  );
}

interface WaitingRowProps {
  one: Waiting;
  sheet: Sheet;
  /** Whether it is the one that is looked at. */
  isHere: boolean;
  go(): void;
}

function WaitingRow({ one, sheet, isHere, go }: WaitingRowProps) {
  const { plan } = useWorkbench();
  const person = plan.people[one.personId];
  const cell = sheet.cell(one.item, one.personId);
  return (
    <button type="button" className={styles.waiting} aria-current={isHere || undefined} onClick={go}>
      <span>{person && fullName(person)}</span>
      <span className={styles.state} title={cell ? sayCell(cell, one.item) : ""}>
        {cell?.state === "marked" ? cell.mark?.points : cell && shapes[cell.state]}
      </span>
      <small>
        {one.item.title}
        {cell && cell.lateBy > 0 && <em>, {sayLate(cell.lateBy)} late</em>}
      </small>
    </button>
  );
}

/** Who has handed in and who has not, by group. */
function HandedIn({ sheet, item, bits }: { sheet: Sheet; item: Item; bits: Bits }) {
  const { plan } = useWorkbench();
  const layers = lookup(plan).layers;
  const [layerId, setLayerId] = useState(item.split?.layerId ?? layers[0]?.id ?? null);
  const parts = useMemo(
    () => (layerId ? handedInByGroup(sheet, layerId, item, bits) : []),
    [sheet, layerId, item, bits],
  );
  if (!layerId) return null;
  const names = (ids: string[]) =>
    ids
      .map((id) => plan.people[id])
      .map((person) => (person ? fullName(person) : ""))
      .join("; ");
  return (
    <section className={styles.handedIn} aria-label="Handed in, by group">
      <div className={base.bar}>
        <h4>Handed in, by group of</h4>
        <Choice
          label="Groups of"
          hideLabel
          value={layerId}
          onChange={setLayerId}
          options={layers.map(({ id, name }) => ({ value: id, label: name }))}
        />
      </div>
      <table className={base.table}>
        <thead>
          <tr>
            <th>Group</th>
            <th className={base.number}>Handed in</th>
            <th>Not yet</th>
          </tr>
        </thead>
        <tbody>
          {parts.map(({ group, handedIn, notYet }) => (
            <tr key={group?.id ?? "none"}>
              <td>
                {group && <Stripe stripe={group.stripe} isPrivate={plan.layers[group.layerId]?.private ?? false} />}{" "}
                {group?.name ?? "In no group"}
              </td>
              <td className={base.number}>
                {handedIn.length} of {handedIn.length + notYet.length}
              </td>
              <td>
                {notYet.length > 6 ? (
                  <details>
                    <summary>{plural(notYet.length, "student")}</summary>
                    {names(notYet)}
                  </details>
                ) : (
                  names(notYet) || "nobody"
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
