/**
 * The bench's state: the published plan, the draft over it, progress, the chosen moment and selection.
 * A command is applied here at once, then sent; the server applies the same one before it keeps it.
 */
import { v7 } from "uuid";
import { quote } from "../../core/gradebook/filter.ts";
import { apply, type Command, type NewCommand, type Replay, replay, sayCommand } from "../../core/plan/apply.ts";
import { isRefusal } from "../../core/plan/command.ts";
import { noProgress, type Progress } from "../../core/plan/progress.ts";
import type { Plan } from "../../core/plan/types.ts";
import { type Failure, getJson, isFailure, postJson } from "./fetch.ts";

export const stations = ["intake", "placement", "reach", "timing", "gradebook", "review"] as const;
export type Station = (typeof stations)[number];

export interface Notice {
  id: number;
  tone: "done" | "wrong";
  says: string;
}
/** What follows from the last drafted change at a press: it stands in the tray until the next one. */
export interface Offer {
  says: string;
  take(): void;
}
export interface BenchState {
  status: "loading" | "ready" | "failed";
  failure: string;
  revision: number;
  published: Plan;
  /** Groups that are whole within what one was given, of an instructor or support person; null for the coordinator. */
  scope: string[] | null;
  draft: { version: number; commands: Command[]; undone: Command[] };
  /** The draft carried over the published plan. */
  drafted: Replay;
  progress: Progress;
  /** The present, epoch milliseconds; moves on with the clock unless the server's is fixed. */
  now: number;
  /** The moment of the time rail; null follows the present. */
  moment: number | null;
  station: Station;
  /** Words for the student, group or item that the command field chose. */
  target: { kind: "person" | "group" | "item"; id: string } | null;
  notice: Notice | null;
  offer: Offer | null;
  sending: number;
}

interface DraftAnswer {
  version: number;
  commands: Command[];
  undone: Command[];
}

export function createStore(courseId: string, firstStation: Station) {
  const address = `/api/courses/${courseId}`;
  let state: BenchState = {
    status: "loading",
    failure: "",
    revision: 0,
    scope: null,
    published: null as unknown as Plan,
    draft: { version: 0, commands: [], undone: [] },
    drafted: null as unknown as Replay,
    progress: noProgress,
    now: Date.now(),
    moment: null,
    station: firstStation,
    target: null,
    notice: null,
    offer: null,
    sending: 0,
  };
  const listeners = new Set<() => void>();
  const set = (changes: Partial<BenchState>) => {
    state = { ...state, ...changes };
    for (const listener of listeners) listener();
  };
  /** Requests that change the draft go one after another, in the order in which they were made. */
  let queue: Promise<unknown> = Promise.resolve();
  let noticeId = 0;
  let clockOffset = 0;
  let clockFixed = false;

  const present = () => (clockFixed ? state.now : Date.now() + clockOffset);
  const tell = (tone: Notice["tone"], says: string) => set({ notice: { id: ++noticeId, tone, says } });
  const carry = (plan: Plan, commands: Command[], now: number) => replay(plan, commands, { now });

  async function load(): Promise<void> {
    const [plan, progress, draft] = await Promise.all([
      getJson<{ revision: number; plan: Plan; scope: string[] | null }>(`${address}/plan`),
      getJson<Progress>(`${address}/progress`),
      getJson<DraftAnswer & { now: number; clockFixed: boolean }>(`${address}/draft`),
    ]);
    for (const answer of [plan, progress, draft])
      if (isFailure(answer)) return set({ status: "failed", failure: answer.detail });
    if (isFailure(plan) || isFailure(progress) || isFailure(draft)) return;
    clockFixed = draft.clockFixed;
    clockOffset = draft.now - Date.now();
    const { now } = draft;
    const drafted = carry(plan.plan, draft.commands, now);
    set({
      status: "ready",
      revision: plan.revision,
      scope: plan.scope,
      published: plan.plan,
      progress,
      draft,
      drafted,
      now,
    });
  }

  async function reloadProgress(): Promise<void> {
    const progress = await getJson<Progress>(`${address}/progress`);
    if (!isFailure(progress)) set({ progress, now: present() });
  }

  /** Takes what the server says the draft is. */
  const accept = (draft: DraftAnswer) =>
    set({
      draft,
      drafted: carry(state.published, draft.commands, state.now),
      sending: state.sending - 1,
    });

  function post(body: unknown): Promise<void> {
    set({ sending: state.sending + 1 });
    queue = queue.then(async () => {
      const answer = await postJson<DraftAnswer>(`${address}/draft`, body);
      if (!isFailure(answer)) {
        // More may have been drafted here while this was under way; only the last answer is the whole draft.
        if (state.sending === 1) accept(answer);
        else set({ sending: state.sending - 1, draft: { ...state.draft, version: answer.version } });
        return;
      }
      tell("wrong", answer.detail);
      const kept = await getJson<DraftAnswer>(`${address}/draft`);
      if (isFailure(kept)) set({ sending: state.sending - 1 });
      else accept(kept);
    });
    return queue as Promise<void>;
  }

  /** Drafts commands together: all, or none with the reason said. Gives whether they were accepted here. */
  function draft(commands: NewCommand[]): boolean {
    const now = present();
    const named = commands.map((command) => ({ ...command, id: v7() }) as Command);
    let { plan } = state.drafted;
    const before = plan;
    const applied = [...state.drafted.applied];
    for (const command of named) {
      const says = sayCommand(plan, command);
      const next = apply(plan, command, { now });
      if (isRefusal(next)) {
        tell("wrong", next.sentence);
        return false;
      }
      applied.push({ command, says });
      plan = next;
    }
    set({
      now,
      drafted: { ...state.drafted, plan, applied },
      draft: { ...state.draft, commands: [...state.draft.commands, ...named], undone: [] },
    });
    void post({ commands: named });
    offerFilters(before, plan);
    return true;
  }

  /** Groups that were just made are offered as filters of the gradebook. */
  function offerFilters(before: Plan, after: Plan): void {
    set({ offer: null });
    if (before.groups === after.groups) return;
    const made = Object.values(after.groups).filter(({ id }) => !before.groups[id]);
    if (made.length === 0 || made.length > 200) return;
    const filters = made.map(({ name }) => ({
      id: v7(),
      name,
      text: `group:${quote(name)}`,
      pinned: true,
      shared: false,
      view: null,
    }));
    set({
      offer: {
        says: made.length === 1 ? "Save its gradebook filter" : `Save ${made.length} gradebook filters`,
        take() {
          set({ offer: null });
          void postJson(`${address}/filters`, { filters }).then((answer) =>
            isFailure(answer) ? tell("wrong", answer.detail) : tell("done", "Saved, and pinned in the gradebook."),
          );
        },
      },
    });
  }

  /** One step, or all: shown at once, then sent. */
  function step(kind: "undo" | "redo" | "undo all" | "redo all"): void {
    const { commands, undone } = state.draft;
    const back = kind.startsWith("undo");
    const count = kind.endsWith("all") ? (back ? commands.length : undone.length) : 1;
    if ((back ? commands : undone).length === 0) return;
    const next = back
      ? {
          commands: commands.slice(0, commands.length - count),
          undone: [...commands.slice(commands.length - count), ...undone],
        }
      : { commands: [...commands, ...undone.slice(0, count)], undone: undone.slice(count) };
    const now = present();
    set({
      now,
      offer: null,
      draft: { ...state.draft, ...next },
      drafted: carry(state.published, next.commands, now),
    });
    void post({ step: kind });
  }

  let publicationId: string | null = null;
  /** Publishes the draft as it was reviewed. The id stays until an answer came, so that sending again publishes once. */
  async function publish(): Promise<boolean> {
    await queue;
    publicationId ??= v7();
    const answer = await postJson<{ revision: number }>(`${address}/publish`, {
      publicationId,
      revision: state.revision,
      version: state.draft.version,
    });
    if (isFailure(answer)) {
      if (answer.status > 0) publicationId = null;
      tell("wrong", answer.detail);
      if (answer.status === 409) await load();
      return false;
    }
    publicationId = null;
    await load();
    tell("done", "Published. Everyone sees it now.");
    return true;
  }

  function go(station: Station, target: BenchState["target"] = null): void {
    if (station !== state.station) history.pushState(null, "", `/bench/${courseId}/${station}`);
    set({ station, target });
  }

  return {
    address,
    courseId,
    subscribe(listener: () => void) {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    get: () => state,
    load,
    reloadProgress,
    setProgress: (progress: Progress) => set({ progress, now: present() }),
    draft,
    step,
    publish,
    go,
    tell,
    dismiss: () => set({ notice: null }),
    setMoment: (moment: number | null) => set({ moment, now: present() }),
    /** The address changed by the browser's own back and forward. */
    arrived: (station: Station) => set({ station, target: null }),
    tick: () => set({ now: present() }),
  };
}
export type Store = ReturnType<typeof createStore>;
export type { Failure, NewCommand };
