import { useVirtualizer } from "@tanstack/react-virtual";
import { type DragEvent, useMemo, useRef, useState } from "react";
import type { LayerCount } from "../../../../core/placement/membership.ts";
import { effectOfMove, type Place } from "../../../../core/placement/moving.ts";
import { lookup } from "../../../../core/plan/lookup.ts";
import { Button } from "../../../kit/Button.tsx";
import { Checkbox, Choice, TextField } from "../../../kit/Fields.tsx";
import { Stripe } from "../../../kit/Stripe.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import type { NewCommand } from "../../../workbench/store.ts";
import base from "../../station.module.css";
import { WithPeople } from "../../WithPeople.tsx";
import { BoardColumn } from "./BoardColumn.tsx";
import styles from "./board.module.css";
import { allShown, type Column, type Switches, staffAt, useColumns } from "./useBoard.ts";
import { useSelection } from "./useSelection.ts";

interface BoardProps {
  count: LayerCount;
  onWhy(personId: string): void;
}
/** Many groups are as narrow as names. */
const widthOf = (columns: number): number => (columns > 6 ? 152 : 208);

/** Groups side by side: people are dragged from one to another, and what that breaks is said before they are let go. */
export function Board({ count, onWhy }: BoardProps) {
  const { store, plan, t } = useWorkbench();
  const { layer } = count;
  const [switches, setSwitches] = useState<Switches>(allShown);
  const set = (fields: Partial<Switches>) => setSwitches({ ...switches, ...fields });
  const columns = useColumns(count, switches);
  const staff = useMemo(() => new Set(staffAt(plan, t)), [plan, t]);
  const selection = useSelection();
  const [over, setOver] = useState<{ groupId: string | null; copies: boolean } | null>(null);
  const frame = useRef<HTMLDivElement>(null);
  const across = useVirtualizer({
    horizontal: true,
    count: columns.length,
    getScrollElement: () => frame.current,
    estimateSize: () => widthOf(columns.length),
    overscan: 2,
  });
  const places = [...selection.places.values()];
  const copyable = layer.rule === "any number";
  const sources = [...new Set(places.flatMap(({ groupId }) => groupId ?? []))];
  const from = (groupId: string) => places.filter((place) => place.groupId === groupId).map(({ personId }) => personId);

  /** Where the layer allows several groups, a move leaves the one that somebody was dragged from. */
  const put = (groupId: string | null, copies = false) => {
    // Put down where they are, nothing happens.
    if (places.every((place) => place.groupId === groupId)) return;
    const personIds = [...new Set(places.map(({ personId }) => personId))];
    const leaves = groupId === null || (copyable && !copies);
    const commands: NewCommand[] = [
      ...(leaves
        ? sources
            .filter((source) => source !== groupId)
            .map((source) => ({ kind: "placement.remove" as const, groupId: source, personIds: from(source) }))
        : []),
      ...(groupId ? [{ kind: "placement.place" as const, groupId, personIds }] : []),
    ];
    if (commands.length > 0 && store.draft(commands)) selection.clear();
  };
  const begin = (column: Column) => (event: DragEvent, index: number) => {
    const place = column.places[index] as Place;
    const isMore = selection.has(place) && places.length > 1;
    if (!isMore) selection.choose(column.places, index, "alone");
    event.dataTransfer.effectAllowed = copyable ? "copyMove" : "move";
    event.dataTransfer.setData("text/plain", isMore ? `${places.length} people` : "1 person");
  };
  const hover = (column: Column) => (event: DragEvent) => {
    if (places.length === 0) return;
    event.preventDefault();
    const copies = copyable && (event.ctrlKey || event.altKey);
    event.dataTransfer.dropEffect = copies ? "copy" : "move";
    const groupId = column.group?.id ?? null;
    if (over?.groupId !== groupId || over.copies !== copies) setOver({ groupId, copies });
  };
  const effect = useMemo(
    () => over && effectOfMove(plan, layer, over.groupId, [...selection.places.values()], t, over.copies),
    [over, plan, layer, selection.places, t],
  );
  /** Arrows lead from column to column, scrolling to those that are not in sight. */
  const side = (index: number) => (step: -1 | 1) => {
    const next = index + step;
    if (next < 0 || next >= columns.length) return;
    const id = columns[next]?.group?.id ?? "";
    const focus = () => {
      const column = frame.current?.querySelector<HTMLElement>(`[data-column="${id}"]`);
      column?.focus();
      return column !== undefined && column !== null;
    };
    // The keys go there at once where it is on the screen, so that the next one does not land in the column before.
    const isThere = focus();
    across.scrollToIndex(next);
    if (!isThere) requestAnimationFrame(() => requestAnimationFrame(focus));
  };
  const others = lookup(plan).layers.filter(({ id }) => id !== layer.id);
  const pair = places.length === 2 && sources.length === 2 && layer.rule !== "any number";
  return (
    <section className={styles.board} aria-label="Board">
      <div className={styles.switches}>
        <TextField
          label="Find people"
          hideLabel
          placeholder="Find by name, id or e-mail"
          value={switches.text}
          onChange={(text) => set({ text })}
        />
        <Checkbox isSelected={switches.onlyUnplaced} onChange={(onlyUnplaced) => set({ onlyUnplaced })}>
          {layer.rule === "exactly one" ? "Only unplaced" : "Only those in no group"}
        </Checkbox>
        {others.length > 0 && (
          <Choice
            label="Not in"
            hideLabel
            value={switches.notIn ?? "-"}
            onChange={(id) => set({ notIn: id === "-" ? null : id })}
            options={[
              { value: "-", label: "In any layer or none" },
              ...others.map(({ id, name }) => ({ value: id, label: `Not in ${name}` })),
            ]}
          />
        )}
        <Checkbox isSelected={switches.staff} onChange={(isShown) => set({ staff: isShown })}>
          Staff
        </Checkbox>
      </div>
      <div className={styles.chosen} data-idle={places.length === 0 || undefined}>
        {places.length === 0 ? (
          <span>Select by click, Shift or Ctrl and drag; or Space, arrows to a column, and Enter to put down</span>
        ) : (
          <>
            <span>{places.length} selected</span>
            <Choice
              label="Move to"
              hideLabel
              placeholder="Move to group"
              value={null}
              options={count.groups.map(({ group, personIds }) => ({
                value: group.id,
                label: group.name,
                picture: <Stripe stripe={group.stripe} isPrivate={layer.private} />,
                aside: personIds.length,
              }))}
              onChange={(groupId) => put(groupId)}
            />
            {copyable && (
              <Choice
                label="Also into"
                hideLabel
                placeholder="Also into group"
                value={null}
                options={count.groups.map(({ group }) => ({ value: group.id, label: group.name }))}
                onChange={(groupId) => put(groupId, true)}
              />
            )}
            {pair && (
              <Button
                quiet
                onPress={() => {
                  const [one, other] = places as [Place, Place];
                  const personIds: [string, string] = [one.personId, other.personId];
                  if (store.draft([{ kind: "placement.swap", layerId: layer.id, personIds }])) selection.clear();
                }}
              >
                Swap them
              </Button>
            )}
            {sources.length > 0 && (
              <Button quiet onPress={() => put(null)}>
                Remove
              </Button>
            )}
            <LeadTheirs places={places} onDone={selection.clear} />
            <WithPeople
              quiet
              personIds={[...new Set(places.map(({ personId }) => personId))]}
              onDone={selection.clear}
            />
            {places.length === 1 && (
              <Button quiet onPress={() => onWhy(places[0]?.personId ?? "")}>
                Why here
              </Button>
            )}
          </>
        )}
      </div>
      <div
        ref={frame}
        role="group"
        aria-label="Groups"
        className={styles.columns}
        onDragLeave={(event) => event.target === frame.current && setOver(null)}
      >
        <div style={{ width: across.getTotalSize(), height: "100%", position: "relative" }}>
          {across.getVirtualItems().map(({ index, start }) => {
            const column = columns[index] as Column;
            const groupId = column.group?.id ?? null;
            const isOver = over?.groupId === groupId && places.some((place) => place.groupId !== groupId);
            return (
              <div
                key={groupId ?? "none"}
                className={styles.place}
                style={{ width: widthOf(columns.length), transform: `translateX(${start}px)` }}
              >
                <BoardColumn
                  column={column}
                  isPrivate={layer.private}
                  selection={selection}
                  staff={staff}
                  over={
                    isOver && effect ? (
                      <>
                        {groupId !== null && (
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
                    ) : null
                  }
                  onDragStart={begin(column)}
                  onDragOver={hover(column)}
                  onDrop={(event) => {
                    event.preventDefault();
                    const copies = over?.copies ?? false;
                    setOver(null);
                    put(groupId, copies);
                  }}
                  onHere={(isHere) => setOver(isHere ? { groupId, copies: false } : null)}
                  onPut={() => places.length > 0 && put(groupId)}
                  onWhy={onWhy}
                  onSide={side(index)}
                />
              </div>
            );
          })}
        </div>
      </div>
    </section>
  );
}

/** Whoever is selected leads the group that they stand in, or, where all of them do already, no longer. */
function LeadTheirs({ places, onDone }: { places: Place[]; onDone(): void }) {
  const { store, plan } = useWorkbench();
  const groupIds = [...new Set(places.flatMap(({ groupId }) => groupId ?? []))];
  const leads = groupIds.map((groupId) => {
    const theirs = places.filter((place) => place.groupId === groupId).map(({ personId }) => personId);
    return { groupId, theirs, now: plan.groups[groupId]?.leads ?? [] };
  });
  if (leads.length === 0) return null;
  const all = leads.every(({ theirs, now }) => theirs.every((id) => now.includes(id)));
  const next = leads.map(({ groupId, theirs, now }) => ({
    groupId,
    personIds: all ? now.filter((id) => !theirs.includes(id)) : [...new Set([...now, ...theirs])],
  }));
  return (
    <Button quiet onPress={() => store.draft([{ kind: "groups.leads", leads: next }]) && onDone()}>
      {all ? "Lead no longer" : leads.length === 1 ? "Lead the group" : "Lead their groups"}
    </Button>
  );
}
