import { useRef, useState } from "react";
import { flushSync } from "react-dom";
import { exceeds, readMark, sayExceeds } from "../../../../core/gradebook/entry.ts";
import { fullName } from "../../../../core/plan/lookup.ts";
import { isolated } from "../../../../core/text/names.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import type { NewMark } from "../useMarks.ts";
import type { Held, Unsent, WorkPaneProps } from "./useHolder.ts";

const nothingTyped: Unsent = { typed: null, comment: null, note: null };

/** What is typed about a student's work, and its way to where it is stored. */
export function useWriting({ item, personId, marks, next, previous, unsent }: WorkPaneProps, held: Held) {
  const { plan, store } = useWorkbench();
  const key = `${item.id}/${personId}`;
  // What could not be stored stands here again when one comes back to it.
  const [written, setWritten] = useState<Unsent>(unsent.get(key) ?? nothingTyped);
  const [wrong, setWrong] = useState<string | null>(null);
  /** A mark of more points than there are that was asked about once. */
  const asked = useRef<string | null>(null);
  const { typed, comment, note } = written;
  const dirty = typed !== null || comment !== null || note !== null;

  /** The mark that was typed; undefined: none was; a sentence where it is no mark, or has to be asked about. */
  const readTyped = (excuse: boolean): NewMark["mark"] | undefined | { wrong: string } => {
    const read = typed === null ? null : readMark(typed, { possible: item.points, isTyped: true });
    if (read && "wrong" in read) return read;
    if (excuse) return { points: null, excused: true };
    if (typed === null) return undefined;
    const mark = read?.mark ?? null;
    if (!mark || !exceeds(item, mark) || asked.current === typed) return mark;
    asked.current = typed;
    return { wrong: `${sayExceeds(item, mark)}. Store it again to give it all the same.` };
  };
  /**
   * Takes what was typed to be stored; gives the storing, which goes on behind, or null where it cannot be. What was typed
   * belongs to this student and this holder, whatever stands on the screen by then.
   */
  const take = (excuse = false): (() => Promise<boolean>) | null => {
    const mark = readTyped(excuse);
    setWrong(mark && "wrong" in mark ? mark.wrong : null);
    if (mark && "wrong" in mark) return null;
    const { groupId, holderId, remark, work, keep } = held;
    const whose = groupId ? { groupId } : { personId };
    const text = { comment: comment ?? remark?.comment ?? "", note: note ?? remark?.note ?? "" };
    const seen = remark && { comment: remark.comment, note: remark.note };
    const writes = (comment !== null || note !== null) && work !== null;
    return async () => {
      if (mark !== undefined && !(await marks.give([{ itemId: item.id, ...whose, mark }]))) return false;
      return !writes || (await keep(holderId, text, seen)) === "kept";
    };
  };
  /** Stores behind what is on the screen; what could not be stored is told, and kept for when one comes back. */
  const storeBehind = async (storing: () => Promise<boolean>) => {
    if (await storing()) return void unsent.delete(key);
    unsent.set(key, written);
    const person = plan.people[personId];
    const whose = `${person ? isolated(fullName(person)) : "somebody"}, ${item.title}`;
    store.tell("wrong", `What you typed for ${whose}, was not stored. Go back to it: it is kept there.`);
  };
  const save = async (excuse = false): Promise<void> => {
    const storing = take(excuse);
    if (!storing || !(await storing())) return;
    unsent.delete(key);
    setWritten(nothingTyped);
  };
  /** Storing and going on is one step: the next work stands there before the next key can arrive. */
  const go = (to: "next" | "previous") => {
    const forward = to === "next" ? next : previous;
    if (!forward) return void (dirty && save());
    const storing = dirty ? take() : null;
    if (dirty && !storing) return;
    if (storing) void storeBehind(storing);
    // A mark for a group takes the others of it out of the queue, too.
    flushSync(() => forward(held.members));
  };
  return {
    typed,
    comment,
    note,
    dirty,
    wrong,
    write: (changes: Partial<Unsent>) => setWritten((before) => ({ ...before, ...changes })),
    forget: () => setWritten(nothingTyped),
    save,
    go,
  };
}

export type Writing = ReturnType<typeof useWriting>;
