/** What the stations ask the workbench for: state, the drafted plan, reach at the chosen moment, and the review. */
import {
  createContext,
  type ReactNode,
  useCallback,
  useContext,
  useDeferredValue,
  useEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
} from "react";
import { createPortal } from "react-dom";
import { replay } from "../../core/commands.ts";
import { marksSince } from "../../core/plan/progress.ts";
import type { Plan } from "../../core/plan/types.ts";
import { type Reach, reachAt } from "../../core/reach/reach.ts";
import { reachWithMarks } from "../../core/reach/update.ts";
import { waitingIn } from "../../core/review/draft.ts";
import { type Parted, partDraft } from "../../core/review/leaving.ts";
import type { Store, WorkbenchState } from "./store.ts";
import { type AuditState, useAudit } from "./useAudit.ts";
import { type ReviewState, useReview } from "./useReview.ts";
import type { ActionId } from "./views.ts";

interface Workbench {
  store: Store;
  state: WorkbenchState;
  /** The plan as drafted, with what is being written and tried on it. */
  plan: Plan;
  /** The chosen moment, epoch milliseconds. */
  t: number;
  /** Reach of the drafted plan at the chosen moment. */
  reach: Reach;
  /** What of the draft is published next, and what stays drafted. */
  parted: Parted;
  /** Whether it is of the draft and the ticks as they are now: a moment ago they may have been others. */
  isParted: boolean;
  /** What that does to people, at the present. */
  review: ReviewState;
  /** What is found in the draft at the chosen moment. */
  audit: AuditState;
  whyElement: HTMLElement | null;
  /** Unfolds the Why panel: something in it waits for an answer. */
  showWhy(): void;
}

const Context = createContext<Workbench | null>(null);

export function useWorkbench(): Workbench {
  const workbench = useContext(Context);
  if (!workbench) throw new Error("useWorkbench stands outside the workbench");
  return workbench;
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
  const { store, state } = useWorkbench();
  const choose = useCallback(
    (value: Value) => store.setPlace(name, value === usual ? null : value),
    [store, name, usual],
  );
  return [(state.place[name] ?? usual) as Value, choose];
}

/** Begins what was found by its name in the field of the top rule. */
export function useActions(begin: Partial<Record<ActionId, () => void>>): void {
  const { target } = useWorkbench().state;
  const latest = useRef(begin);
  latest.current = begin;
  useEffect(() => {
    if (target?.kind === "action") latest.current[target.id as ActionId]?.();
  }, [target]);
}

/** What is selected, as the address says it: the id of an item, group, person or layer. */
export function useSelected(name: "layer" | "item" | "group" | "person"): [string | null, (id: string | null) => void] {
  const { store, state } = useWorkbench();
  const select = useCallback((id: string | null) => store.setPlace(name, id), [store, name]);
  return [state.place[name] ?? null, select];
}

export const useWorkbenchState = (store: Store): WorkbenchState => useSyncExternalStore(store.subscribe, store.get);

export function WorkbenchProvider({
  store,
  state,
  whyElement,
  showWhy,
  children,
}: Pick<Workbench, "store" | "state" | "whyElement" | "showWhy"> & { children: ReactNode }) {
  const tried = useTried(state);
  const plan = state.asWas?.plan ?? tried ?? state.drafted.plan;
  const t = state.moment ?? state.now;
  const { progress } = state;
  const before = useRef<Reach | null>(null);
  const reach = useMemo(() => {
    // A mark that is given touches little: the rest of what was found out stays.
    const last = before.current;
    const changes = last && last.plan === plan && last.t === t ? marksSince(last.rawProgress, progress) : null;
    const made = last && changes ? reachWithMarks(last, progress, changes) : reachAt(plan, progress, t);
    before.current = made;
    return made;
  }, [plan, progress, t]);
  // What is left out may lag behind typing and dragging; the screen does not wait for it.
  const lagging = useDeferredValue(state);
  const { leftOut, drafted, draft, published, now } = lagging;
  const parted = useMemo((): Parted => {
    const held = waitingIn(draft);
    if (leftOut.size === 0 && held.length === 0) return { taken: drafted, staying: new Set(), needs: new Map() };
    return partDraft(published, draft.commands, new Set([...leftOut, ...held]), { now });
  }, [leftOut, drafted, draft, published, now]);
  const isParted = draft === state.draft && leftOut === state.leftOut && published === state.published;
  const review = useReview(lagging, parted);
  const audit = useAudit(state, parted, t);
  return (
    <Context value={{ store, state, plan, t, reach, parted, isParted, review, audit, whyElement, showWhy }}>
      {children}
    </Context>
  );
}

/** The draft with what is being tried on it; null where nothing is, or where it cannot be. */
function useTried({ tried, drafted, now }: WorkbenchState): Plan | null {
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is tried does not hang on the minute
  return useMemo(() => {
    if (tried.length === 0) return null;
    const { plan, refused } = replay(
      drafted.plan,
      tried.map(({ command }) => command),
      { now },
    );
    return refused.length > 0 ? null : plan;
  }, [tried, drafted.plan]);
}

/** Shows its children in the Why panel. */
export function Why({ children }: { children: ReactNode }) {
  const { whyElement } = useWorkbench();
  return whyElement ? createPortal(children, whyElement) : null;
}
