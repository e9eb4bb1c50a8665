/** What the stations ask the workbench for: parts of its state, the drafted plan, reach at the chosen moment, and the review. */

import {
  createContext,
  type Context as ReactContext,
  type ReactNode,
  useCallback,
  useContext,
  useDeferredValue,
  useEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import { createPortal } from "react-dom";
import { useStore } from "zustand";
import { useShallow } from "zustand/react/shallow";
import { replay } from "../../core/commands.ts";
import { studentsAt } from "../../core/plan/lookup.ts";
import { marksSince, type Progress } from "../../core/plan/progress.ts";
import type { Plan } from "../../core/plan/types.ts";
import { type Reach, reachAt } from "../../core/reach/reach.ts";
import { reachWithMarks } from "../../core/reach/update.ts";
import { waitingIn } from "../../core/review/draft.ts";
import { type Parted, partDraft } from "../../core/review/leaving.ts";
import { useMemoWhen } from "../kit/when.ts";
import { counted, type OpenState } from "./state.ts";
import type { Store } from "./store.ts";
import { type AuditState, useAudit } from "./useAudit.ts";
import { type ReviewState, useReview } from "./useReview.ts";
import type { ActionId } from "./views.ts";

interface Workbench {
  store: Store;
  /** The plan as drafted, with what is being written and tried on it. */
  plan: Plan;
  /** The chosen moment, epoch milliseconds. */
  t: number;
  whyElement: HTMLElement | null;
  /** Unfolds the Why panel: something in it waits for an answer. */
  showWhy(): void;
}
interface DraftReview {
  /** What of the draft is published next, and what stays drafted. */
  parted: Parted;
  /** Whether it is of the draft and the ticks as they are now: a moment ago they may have been others. */
  isParted: boolean;
  /** What that does to people, at the present. */
  review: ReviewState;
}

// Several contexts: whoever reads one is not drawn anew when another changes.
const Context = createContext<Workbench | null>(null);
const ReachContext = createContext<(() => Reach) | null>(null);
const DraftReviewContext = createContext<DraftReview | null>(null);
const FindingsContext = createContext<AuditState | null>(null);

function useInside<Value>(context: ReactContext<Value | null>): Value {
  const value = useContext(context);
  if (value === null) throw new Error("This stands outside the workbench");
  return value;
}

export const useWorkbench = (): Workbench => useInside(Context);
/** Reach of the drafted plan at the chosen moment: found out when the first asks, since of a large course it takes long. */
export const useReach = (): Reach => useInside(ReachContext)();
/** Everybody who is a student at the chosen moment, by name: person ids. */
export function useStudents(): readonly string[] {
  const { plan, t } = useWorkbench();
  return useMemo(() => studentsAt(plan, t), [plan, t]);
}
export const useDraftReview = (): DraftReview => useInside(DraftReviewContext);
/** What is found in the draft at the chosen moment. */
export const useFindings = (): AuditState => useInside(FindingsContext);

/** These parts of the workbench's state: whoever asks is drawn anew when one of them changes, and at nothing else. */
export function useParts<Name extends keyof OpenState>(...names: Name[]): Pick<OpenState, Name> {
  const { store } = useWorkbench();
  return usePartsOf(store, names);
}

function usePartsOf<Name extends keyof OpenState>(store: Store, names: Name[]): Pick<OpenState, Name> {
  return useStore(
    store.state,
    useShallow(() => {
      const state = store.course();
      return Object.fromEntries(names.map((name) => [name, state[name]])) as Pick<OpenState, Name>;
    }),
  );
}

/** State of a station that stays while one is at another: a filter, say, over a review and back. */
export function useKept<Value>(name: string, initial: Value): [Value, (value: Value) => void] {
  const { store } = useWorkbench();
  const [value, setValue] = useState(() => (store.kept.has(name) ? (store.kept.get(name) as Value) : initial));
  const keep = useCallback(
    (next: Value) => {
      store.kept.set(name, next);
      setValue(next);
    },
    [store, name],
  );
  return [value, keep];
}

/** What is looked at, as the address says it: a view, a filter. What is usual stands in no address. */
export function usePlace<Value extends string>(name: string, usual: Value): [Value, (value: Value) => void] {
  const { store } = useWorkbench();
  const { place } = useParts("place");
  const choose = useCallback(
    (value: Value) => store.setPlace(name, value === usual ? null : value),
    [store, name, usual],
  );
  return [(place[name] ?? usual) as Value, choose];
}

/** Begins what was found by its name in the field of the top rule. */
export function useActions(begin: Partial<Record<ActionId, () => void>>): void {
  const { target } = useParts("target");
  const latest = useRef(begin);
  latest.current = begin;
  useEffect(() => {
    if (target?.kind === "action") latest.current[target.id as ActionId]?.();
  }, [target]);
}

/** What is selected, as the address says it: the id of an item, group, person or layer. */
export function useSelected(name: "layer" | "item" | "group" | "person"): [string | null, (id: string | null) => void] {
  const { store } = useWorkbench();
  const { place } = useParts("place");
  const select = useCallback((id: string | null) => store.setPlace(name, id), [store, name]);
  return [place[name] ?? null, select];
}

export function WorkbenchProvider({
  store,
  whyElement,
  showWhy,
  children,
}: Pick<Workbench, "store" | "whyElement" | "showWhy"> & { children: ReactNode }) {
  const state = usePartsOf(store, ["asWas", "drafted", "tried", "moment", "now", "progress"]);
  const tried = useTried(state);
  const plan = state.asWas?.plan ?? tried ?? state.drafted.plan;
  const t = state.moment ?? state.now;
  const reach = useReachAt(plan, state.progress, t);
  const workbench = useMemo(() => ({ store, plan, t, whyElement, showWhy }), [store, plan, t, whyElement, showWhy]);
  return (
    <Context value={workbench}>
      <ReachContext value={reach}>
        <Counted>{children}</Counted>
      </ReachContext>
    </Context>
  );
}

/** Reach at a moment; a mark that is given touches little: the rest of what was found out stays. */
function useReachAt(plan: Plan, progress: Progress, t: number): () => Reach {
  const before = useRef<Reach | null>(null);
  return useMemo(() => {
    let made: Reach | null = null;
    const make = (): Reach => {
      const last = before.current;
      const changes = last && last.plan === plan && last.t === t ? marksSince(last.rawProgress, progress) : null;
      return last && changes ? reachWithMarks(last, progress, changes) : reachAt(plan, progress, t);
    };
    return () => {
      made ??= make();
      before.current = made;
      return made;
    };
  }, [plan, progress, t]);
}

/** What workers count of the draft: the review and the audit. */
function Counted({ children }: { children: ReactNode }) {
  const state = useParts(...counted);
  const { t } = useWorkbench();
  // What is left out may lag behind typing and dragging; the screen does not wait for it.
  const lagging = useDeferredValue(state);
  const { leftOut, drafted, draft, published, now } = lagging;
  const parted = useMemo((): Parted => {
    const waiting = waitingIn(draft);
    if (leftOut.size === 0 && waiting.length === 0) return { taken: drafted, staying: new Set(), needs: new Map() };
    return partDraft(published, draft.commands, new Set([...leftOut, ...waiting]), { now });
  }, [leftOut, drafted, draft, published, now]);
  const isParted = draft === state.draft && leftOut === state.leftOut && published === state.published;
  const review = useReview(lagging, parted);
  const findings = useAudit(state, parted, t);
  const draftReview = useMemo(() => ({ parted, isParted, review }), [parted, isParted, review]);
  return (
    <DraftReviewContext value={draftReview}>
      <FindingsContext value={findings}>{children}</FindingsContext>
    </DraftReviewContext>
  );
}

/** The draft with what is being tried on it; null where nothing is, or where it cannot be. */
function useTried({ tried, drafted, now }: Pick<OpenState, "tried" | "drafted" | "now">): Plan | null {
  // What is tried does not hang on the minute.
  return useMemoWhen([tried, drafted.plan], () => {
    if (tried.length === 0) return null;
    const { plan, refused } = replay(
      drafted.plan,
      tried.map(({ command }) => command),
      { now },
    );
    return refused.length > 0 ? null : plan;
  });
}

/** Shows its children in the Why panel. */
export function Why({ children }: { children: ReactNode }) {
  const { whyElement } = useWorkbench();
  return whyElement ? createPortal(children, whyElement) : null;
}
