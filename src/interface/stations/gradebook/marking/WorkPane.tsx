import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { sayInstant } from "../../../../core/clock/local-time.ts";
import { sayLate } from "../../../../core/gradebook/cells.ts";
import { exceeds, readMark, sayExceeds, sayMark } from "../../../../core/gradebook/entry.ts";
import type { Sheet } from "../../../../core/gradebook/sheet.ts";
import { fullName } from "../../../../core/plan/lookup.ts";
import { progressByItem, progressLookup } from "../../../../core/plan/progress.ts";
import type { Item } from "../../../../core/plan/types.ts";
import { groupsThen, sharers } from "../../../../core/reach/group-work.ts";
import { resolveDates, resolvedInstant } from "../../../../core/timing/resolving/resolve.ts";
import { Button } from "../../../kit/Button.tsx";
import { TextField } from "../../../kit/Fields.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { Views } from "../../../kit/Views.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { sayCell } from "../grid/say.ts";
import type { Marks } from "../useMarks.ts";
import styles from "./marking.module.css";
import { useWork } from "./useWork.ts";

/** Goes on in the queue, past some students whose work is marked with this one. */
type Go = (past: string[]) => void;
export interface Unsent {
  typed: string | null;
  comment: string | null;
  note: string | null;
}

interface WorkPaneProps {
  sheet: Sheet;
  item: Item;
  personId: string;
  marks: Marks;
  /** Where the queue goes on; null at its end. */
  next: Go | null;
  previous: Go | null;
  /** What was typed and could not be stored, by item and student. */
  unsent: Map<string, Unsent>;
}

/** A hand-in and its mark side by side: points, a comment that is read by whom it is for, a note that only staff read. */
export function WorkPane({ sheet, item, personId, marks, next, previous, unsent }: WorkPaneProps) {
  const { plan, t, store, state } = useWorkbench();
  const tell = (says: string) => store.tell("wrong", says);
  const { reach } = sheet;
  const person = plan.people[personId];
  const found = progressLookup(reach.progress);
  const latest = found.handIns(personId, item.id).reduce((last, { at }) => Math.max(last, at), 0);
  // Within a scope a group is marked together where all of it lies in that.
  const groupIds = (item.split ? groupsThen(plan, item.split.layerId, personId, latest || t) : []).filter(
    (id) => state.scope === null || state.scope.own.includes(id),
  );
  const sharedBy = found.mark(personId, item.id)?.shared;
  const shared = sharedBy !== undefined && groupIds.includes(sharedBy) ? sharedBy : undefined;
  // Work of a group is marked for the group, unless this student has a mark of their own.
  const hasOwn = found.mark(personId, item.id) !== undefined && sharedBy === undefined;
  const [holderId, setHolder] = useState(shared ?? (hasOwn ? personId : (groupIds[0] ?? personId)));
  const groupId = holderId === personId ? null : holderId;
  const handIns = progressByItem(reach.rawProgress).handIns.get(item.id) ?? [];
  const { work, keep } = useWork(item.id, personId, groupId ?? groupIds[0] ?? null, handIns.length);
  const cell = sheet.cell(item, personId);
  const groupMark = progressByItem(reach.rawProgress)
    .groupMarks.get(item.id)
    ?.find((one) => one.groupId === groupId);
  const current = groupId ? (groupMark ?? null) : sharedBy === undefined ? (cell?.mark ?? null) : null;
  const remark = (groupId ? work?.shared : work?.own) ?? null;
  const members = groupId ? sharers(plan, item, groupId, handIns, groupMark?.at ?? t) : [];
  const key = `${item.id}/${personId}`;
  // What could not be stored stands here again when one comes back to it.
  const [typed, setTyped] = useState<string | null>(unsent.get(key)?.typed ?? null);
  const [comment, setComment] = useState<string | null>(unsent.get(key)?.comment ?? null);
  const [note, setNote] = useState<string | null>(unsent.get(key)?.note ?? null);
  const [wrong, setWrong] = useState<string | null>(null);
  /** A mark of more points than there are that was asked about once. */
  const asked = useRef<string | null>(null);
  const pane = useRef<HTMLDivElement>(null);
  const dirty = typed !== null || comment !== null || note !== null;

  /**
   * Takes what was typed to be stored; gives the storing, which goes on behind, or null where it is no mark or has to be
   * asked about. What was typed belongs to this student and this holder, whatever stands on the screen by then.
   */
  const take = (excuse = false): (() => Promise<boolean>) | null => {
    const read = typed === null ? null : readMark(typed, { possible: item.points });
    if (read && "wrong" in read) {
      setWrong(read.wrong);
      return null;
    }
    const mark = excuse ? { points: null, excused: true } : typed === null ? undefined : (read?.mark ?? null);
    if (mark && exceeds(item, mark) && asked.current !== typed) {
      asked.current = typed;
      setWrong(`${sayExceeds(item, mark)}. Store it again to give it all the same.`);
      return null;
    }
    setWrong(null);
    const whose = groupId ? { groupId } : { personId };
    const written = { comment: comment ?? remark?.comment ?? "", note: note ?? remark?.note ?? "" };
    const seen = remark && { comment: remark.comment, note: remark.note };
    const writes = (comment !== null || note !== null) && work !== null;
    return async () => {
      if (mark !== undefined && !(await marks.give([{ itemId: item.id, ...whose, mark }]))) return false;
      return !writes || (await keep(holderId, written, seen)) === "kept";
    };
  };
  /** Stores behind what is on the screen; what could not be stored is told, and kept for when one comes back. */
  const storeBehind = (store: () => Promise<boolean>) => {
    const kept = { typed, comment, note };
    void store().then((isStored) => {
      if (isStored) unsent.delete(key);
      else {
        unsent.set(key, kept);
        tell(
          `What you typed for ${person ? fullName(person) : "somebody"}, ${item.title}, was not stored. Go back to it: it is kept there.`,
        );
      }
    });
  };
  const save = async (excuse = false): Promise<void> => {
    const store = take(excuse);
    if (!store || !(await store())) return;
    unsent.delete(key);
    setTyped(null);
    setComment(null);
    setNote(null);
  };
  /** Storing and going on is one step: the next work stands there before the next key can arrive. */
  const go = (to: "next" | "previous") => {
    const store = dirty ? take() : null;
    if (dirty && !store) return;
    const forward = to === "next" ? next : previous;
    if (!forward) {
      if (store) void save();
      return;
    }
    if (store) storeBehind(store);
    // A mark for a group takes the others of it out of the queue, too.
    flushSync(() => forward(groupId ? members : []));
  };
  const latestGo = useRef(go);
  latestGo.current = go;
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key === "Enter") {
        event.preventDefault();
        latestGo.current("next");
      } else if (event.altKey && (event.key === "ArrowDown" || event.key === "ArrowUp")) {
        event.preventDefault();
        latestGo.current(event.key === "ArrowDown" ? "next" : "previous");
      }
    };
    addEventListener("keydown", listen);
    return () => removeEventListener("keydown", listen);
  }, []);
  // Before the next key arrives, and not after the page was painted.
  useLayoutEffect(() => pane.current?.querySelector<HTMLInputElement>("input")?.focus(), []);

  const index = reach.indexOf.get(personId);
  const due =
    index === undefined ? null : resolvedInstant(plan, resolveDates(plan, item, reach.memberships(index)), "due");
  const say = (at: number) => sayInstant(at, plan.course.timeZone);
  const nameOf = (id: string) => {
    const one = plan.people[id];
    return one ? fullName(one) : "somebody";
  };
  return (
    <div className={styles.pane} ref={pane}>
      <header className={styles.paneHead}>
        <h3>
          {person && fullName(person)}, {item.title}
        </h3>
        <p className={base.soft}>
          {sayCell(cell, item)}
          {due !== null && `. Due for them ${say(due)}`}
        </p>
      </header>
      <section className={styles.work} aria-label="What was handed in">
        {!work && <p className={base.soft}>Fetching the work</p>}
        {item.kind === "discussion" && (
          <a href={`/threads/${store.courseId}/${item.id}${groupIds[0] ? `?group=${groupIds[0]}` : ""}`}>
            Read and answer the thread
          </a>
        )}
        {work?.handIns.length === 0 && <p className={base.soft}>Nothing has been handed in.</p>}
        {work?.handIns.map(({ id, at, body, link, file, by }, order) => (
          <details key={id} open={order === 0}>
            <summary>
              {order === 0 ? "Handed in" : "Earlier,"} {say(at)}
              {by !== null && ` by ${nameOf(by)} for the group`}
              {due !== null && at > due && <span className={base.wrong}>, {sayLate(at - due)} late</span>}
            </summary>
            {(body || (!link && !file)) && <p className={styles.body}>{body || "No text."}</p>}
            {link && (
              <p>
                <a href={link} target="_blank" rel="noreferrer">
                  {link}
                </a>
              </p>
            )}
            {file && (
              <p>
                <a href={`${store.address}/attachments/${file.id}`} target="_blank" rel="noreferrer">
                  {file.name}
                </a>
              </p>
            )}
          </details>
        ))}
      </section>
      <div className={styles.form}>
        <SubmitForm onSubmit={() => go("next")}>
          {groupIds.length > 0 && (
            <Views
              label="The mark is for"
              value={holderId}
              onChange={(value) => {
                setHolder(value);
                setTyped(null);
                setComment(null);
                setNote(null);
              }}
              options={[
                ...groupIds.map((id) => ({ value: id, label: `all of ${plan.groups[id]?.name}` })),
                { value: personId, label: `${person?.givenName} ${person?.familyName} alone` },
              ]}
            />
          )}
          {groupId && (
            <p className={base.soft}>
              Goes to {plural(members.length, "member")} as of the hand-in: {members.map(nameOf).join("; ")}. A mark of
              their own beats it.
            </p>
          )}
          <TextField
            label={`Mark, of ${item.points}`}
            value={typed ?? sayMark(current)}
            onChange={setTyped}
            error={wrong}
            inputMode="decimal"
          />
          <TextField
            label={groupId ? "Comment, for all of the group" : "Comment, for the student"}
            value={comment ?? remark?.comment ?? ""}
            onChange={setComment}
            lines={4}
            isDisabled={!work}
          />
          <TextField
            label="Note, for staff alone"
            value={note ?? remark?.note ?? ""}
            onChange={setNote}
            lines={2}
            isDisabled={!work}
            hint={remark && remark.at > 0 ? `Last written ${say(remark.at)} by ${remark.by}.` : undefined}
          />
          <div className={styles.paneActions}>
            <Button onPress={() => go("previous")} isDisabled={!previous}>
              Previous
            </Button>
            <Button onPress={() => go("next")} isDisabled={!next}>
              Next
            </Button>
            <Button quiet onPress={() => void save(true)}>
              Excuse
            </Button>
            <span className={base.push} />
            <Button strong type="submit" isDisabled={!dirty} aria-label={next ? "Store and go on" : "Store"}>
              {next ? "Store and go on" : "Store"}
            </Button>
          </div>
          <p className={base.soft}>
            Ctrl with Enter stores and goes on; Alt with an arrow goes on or back, and keeps what was typed.
          </p>
        </SubmitForm>
      </div>
      {state.scope === null && (
        <a href={`/look/${store.courseId}/${personId}/item/${item.id}`} target="_blank" rel="noreferrer">
          See it as they do
        </a>
      )}
    </div>
  );
}
