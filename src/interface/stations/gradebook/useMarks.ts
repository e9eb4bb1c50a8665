/** Marks given from the workbench: shown when they are stored, undone step by step, never over what another wrote unseen. */

import { useMemo, useRef, useState } from "react";
import { z } from "zod";
import * as api from "../../../api/gradebook.ts";
import { type Given, ownMark, sameMark, sayMark } from "../../../core/gradebook/entry.ts";
import type { Sheet } from "../../../core/gradebook/sheet.ts";
import { fullName } from "../../../core/plan/lookup.ts";
import { type MarkChange, markKey, progressByItem, withMarks } from "../../../core/plan/progress.ts";
import { isolated } from "../../../core/text/names.ts";
import { plural } from "../../kit/words.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import { ask, isFailure } from "../../workbench/fetch.ts";

/** A mark for a person, or a shared one for a group; null takes it away. */
export type NewMark = { itemId: string; mark: Given } & ({ personId: string } | { groupId: string });
type Step = (NewMark & { seen: Given })[];

const StoredMark = z.object({ points: z.number().nullable(), excused: z.boolean() }).nullable();
const StoredSteps = z.array(
  z.array(
    z.intersection(
      z.object({ itemId: z.string(), mark: StoredMark, seen: StoredMark }),
      z.union([z.object({ personId: z.string() }), z.object({ groupId: z.string() })]),
    ),
  ),
);
const mostSteps = 100;

/**
 * What can be taken back, in this tab and by whoever gave it: a reload keeps it. Taking back is safe at any time, since
 * the server leaves alone what anybody changed since.
 */
function keptSteps(key: string) {
  let steps: Step[] = [];
  try {
    steps = StoredSteps.parse(JSON.parse(sessionStorage.getItem(key) ?? "[]"));
  } catch {
    // What another version kept is not understood any more: then nothing can be taken back.
  }
  return {
    last: (): Step | undefined => steps.at(-1),
    any: (): boolean => steps.length > 0,
    set(next: (before: Step[]) => Step[]): void {
      steps = next(steps).slice(-mostSteps);
      sessionStorage.setItem(key, JSON.stringify(steps));
    },
  };
}

export interface Marks {
  /** Stores marks together; gives whether the server took them. */
  give(marks: NewMark[]): Promise<boolean>;
  /** A mark of somebody that is on its way to the server; undefined where there is none. */
  underway(personId: string, itemId: string): Given | undefined;
  undo(): void;
  canUndo: boolean;
  storing: boolean;
}

export function useMarks(sheet: Sheet): Marks {
  const { store } = useWorkbench();
  const [steps] = useState(() => keptSteps(`marks ${store.courseId} ${store.reader}`));
  const [undoable, setUndoable] = useState(steps.any);
  const [pending, setPending] = useState(0);
  /** What is asked goes one after another: what is given on top of another has seen that one. */
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const onTheWay = useRef(new Map<string, { mark: Given }>());
  const latest = useRef(sheet);
  latest.current = sheet;
  return useMemo(() => {
    const inTurn = <Result>(work: () => Promise<Result>): Promise<Result> => {
      setPending((count) => count + 1);
      const next = queue.current.then(work).finally(() => setPending((count) => count - 1));
      queue.current = next.catch(() => {});
      return next;
    };
    /** Known at once to whoever gives the next; gives how to forget it. */
    const announce = (wanted: Step): (() => void) => {
      const sent = wanted.map((one) => [markKey(one), { mark: one.mark }] as const);
      for (const [key, one] of sent) onTheWay.current.set(key, one);
      return () => {
        for (const [key, one] of sent) if (onTheWay.current.get(key) === one) onTheWay.current.delete(key);
      };
    };
    const seenOf = (mark: NewMark): Given => {
      const sent = onTheWay.current.get(markKey(mark));
      if (sent) return sent.mark;
      const { plan, rawProgress: given } = latest.current.reach;
      if ("groupId" in mark) {
        const found = progressByItem(given)
          .groupMarks.get(mark.itemId)
          ?.find(({ groupId }) => groupId === mark.groupId);
        return found ? { points: found.points, excused: found.excused } : null;
      }
      const item = plan.items[mark.itemId];
      return item ? ownMark(latest.current.cell(item, mark.personId)?.mark) : null;
    };
    const nameOf = (change: MarkChange) => {
      const { plan } = store.course().drafted;
      const person = "personId" in change ? plan.people[change.personId] : undefined;
      const who = "groupId" in change ? plan.groups[change.groupId]?.name : person && isolated(fullName(person));
      return `${who}, ${plan.items[change.itemId]?.title}`;
    };
    const send = async (wanted: Step): Promise<MarkChange[] | null> => {
      const answer = await ask(store.address, api.giveMarks, {
        body: {
          marks: wanted.map(({ mark, seen, ...whose }) => ({
            ...whose,
            points: mark?.points ?? null,
            excused: mark?.excused ?? false,
            seen,
          })),
        },
      });
      if (isFailure(answer)) {
        store.tell("wrong", answer.detail);
        return null;
      }
      const { stored, newer } = answer;
      store.setProgress(withMarks(store.course().progress, [...stored, ...newer]));
      const [first] = newer;
      if (first) {
        const mine = wanted.find((one) => markKey(one) === markKey(first));
        const more = newer.length > 1 ? ` So it was with ${newer.length - 1} more; theirs are shown.` : "";
        store.tell(
          "wrong",
          `Somebody else changed ${nameOf(first)} since you saw it. Theirs: ${sayMark(first.mark) || "no mark"}. Yours: ${sayMark(mine?.mark ?? null) || "no mark"}. Enter yours again to keep it.${more}`,
        );
      }
      return stored;
    };
    return {
      async give(marks) {
        const wanted = marks
          .map((mark) => ({ ...mark, seen: seenOf(mark) }))
          .filter((one) => !sameMark(one.mark, one.seen));
        if (wanted.length === 0) return true;
        const forget = announce(wanted);
        return inTurn(async () => {
          const stored = await send(wanted);
          forget();
          if (!stored) return false;
          const kept = new Set(stored.map(markKey));
          const done = wanted.filter((one) => kept.has(markKey(one)));
          if (done.length > 0) steps.set((before) => [...before, done]);
          setUndoable(steps.any());
          return done.length === wanted.length;
        });
      },
      undo() {
        void inTurn(async () => {
          const last = steps.last();
          if (!last) return;
          steps.set((before) => before.slice(0, -1));
          setUndoable(steps.any());
          // What was given is what is seen now: whoever changed it since is not undone.
          const stored = await send(last.map((one) => ({ ...one, mark: one.seen, seen: one.mark })));
          if (stored && stored.length >= last.length) store.tell("done", `${plural(last.length, "mark")} as before.`);
        });
      },
      underway: (personId, itemId) => onTheWay.current.get(markKey({ personId, itemId }))?.mark,
      canUndo: undoable || pending > 0,
      storing: pending > 0,
    };
  }, [store, steps, undoable, pending]);
}
