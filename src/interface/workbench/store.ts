/**
 * The workbench's state: the published plan, the draft over it, progress, the chosen moment and selection.
 * A command is applied here at once, then sent; the server applies the same one before it keeps it.
 */
import { v7 } from "uuid";
import * as courseApi from "../../api/course.ts";
import * as draftingApi from "../../api/drafting.ts";
import type { Sent } from "../../api/endpoint.ts";
import * as gradebookApi from "../../api/gradebook.ts";
import { apply, type Command, type NewCommand, type Replay, sayCommand } from "../../core/commands.ts";
import { groupFilter } from "../../core/gradebook/naming-groups.ts";
import { type Message, messageOf } from "../../core/messages/message.ts";
import { isRefusal } from "../../core/plan/command.ts";
import { noProgress, type Progress } from "../../core/plan/progress.ts";
import type { Plan, Target } from "../../core/plan/types.ts";
import { type Draft, waitingIn } from "../../core/review/draft.ts";
import { ask, type Failure, isFailure } from "./fetch.ts";
import { carry, createIncoming } from "./incoming.ts";
import { listen } from "./live.ts";
import { createOutgoing } from "./outgoing.ts";
import { addressOfPlace, keepLastStation, readMomentOf, readPlace } from "./place.ts";
import type { Notice, Station, WorkbenchState } from "./state.ts";
import { whyNotWithin } from "./within.ts";

export function createStore(courseId: string, firstStation: Station) {
  const address = `/api/courses/${courseId}`;
  let state: WorkbenchState = {
    status: "loading",
    failure: "",
    revision: 0,
    scope: null,
    published: null as unknown as Plan,
    draft: { version: 0, commands: [], undone: [], planned: [], messages: [] },
    leftOut: new Set(),
    asWas: null,
    tried: [],
    writing: null,
    drafted: null as unknown as Replay,
    progress: noProgress,
    now: Date.now(),
    moment: readMomentOf(location.search),
    station: firstStation,
    place: readPlace(location.search, firstStation),
    target: null,
    notice: null,
    offer: null,
    sending: 0,
    people: [],
    proposals: [],
  };
  const listeners = new Set<() => void>();
  const subscribe = (listener: () => void) => {
    listeners.add(listener);
    return () => void listeners.delete(listener);
  };
  const set = (changes: Partial<WorkbenchState>) => {
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

  const incoming = createIncoming({
    address,
    get: () => state,
    set,
    tell,
    present,
    clock(draft) {
      clockFixed = draft.clockFixed;
      clockOffset = draft.now - Date.now();
    },
    isPublishing: () => outgoing.isPublishing(),
  });
  const { load, setDraft, reloadProgress, reloadProposals } = incoming;

  /** Takes what the server says the draft is. */
  const accept = (draft: Draft) =>
    set({
      draft,
      drafted: carry(state.published, draft, state.now),
      sending: state.sending - 1,
    });

  function post(body: Sent<typeof draftingApi.changeDraft.body>): Promise<void> {
    set({ sending: state.sending + 1 });
    queue = queue.then(async () => {
      const answer = await ask(address, draftingApi.changeDraft, { body });
      if (!isFailure(answer)) {
        // More may have been drafted here while this was under way; only the last answer is the whole draft.
        if (state.sending === 1) accept(answer);
        else set({ sending: state.sending - 1, draft: { ...state.draft, version: answer.version } });
        return;
      }
      tell("wrong", answer.detail);
      const kept = await ask(address, draftingApi.readDraft);
      if (isFailure(kept)) set({ sending: state.sending - 1 });
      else accept(kept);
    });
    return queue as Promise<void>;
  }

  /** Drafts commands together: all, or none with the reason said. Gives whether they were accepted here. */
  function draft(commands: NewCommand[]): boolean {
    if (state.asWas) {
      tell("wrong", "You look at the plan as it was. Go back to now, then change it.");
      return false;
    }
    const now = present();
    const named = commands.map((command) => ({ id: v7(), ...command }) as Command);
    let { plan } = state.drafted;
    const before = plan;
    const applied = [...state.drafted.applied];
    for (const command of named) {
      const says = sayCommand(plan, command);
      const next = whyNotWithin(state, plan, command) ?? apply(plan, command, { now });
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
      text: groupFilter(name),
      pinned: true,
      shared: false,
      view: null,
    }));
    set({
      offer: {
        says: made.length === 1 ? "Save its gradebook filter" : `Save ${made.length} gradebook filters`,
        take() {
          set({ offer: null });
          void ask(address, gradebookApi.saveFilters, { body: { filters } }).then((answer) =>
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
    // What waits for its moment stays until it is taken back.
    const held = new Set(waitingIn(state.draft));
    const free = commands.filter(({ id }) => !held.has(id));
    const count = kind.endsWith("all") ? (back ? free.length : undone.length) : 1;
    if ((back ? free : undone).length === 0) return;
    const gone = free.slice(free.length - count);
    const next = back
      ? { commands: commands.filter((command) => !gone.includes(command)), undone: [...gone, ...undone] }
      : { commands: [...commands, ...undone.slice(0, count)], undone: undone.slice(count) };
    const now = present();
    set({
      now,
      offer: null,
      draft: { ...state.draft, ...next },
      drafted: carry(state.published, next, now),
    });
    void post({ step: kind });
  }

  /** Shows the plan as it was published at a moment on every station; null: as it is. */
  async function lookBack(at: number | null): Promise<void> {
    if (at === null) return set({ asWas: null, moment: null });
    const then = await ask(address, courseApi.readPlan, { query: { at } });
    if (isFailure(then)) return tell("wrong", then.detail);
    if ("plan" in then) set({ asWas: { at, plan: then.plan }, moment: at, now: present() });
  }

  const outgoing = createOutgoing({
    address,
    get: () => state,
    set,
    tell,
    load,
    reload: incoming.reload,
    sent: () => queue,
    setDraft,
    reloadProposals,
  });

  /** The station that the review was opened from. */
  let reviewedFrom: Station | null = null;
  let addressing: ReturnType<typeof setTimeout> | undefined;
  /** The address says where one is now. */
  function settleAddress(): void {
    clearTimeout(addressing);
    addressing = undefined;
    history.replaceState(null, "", addressOfPlace({ courseId, ...state }));
  }
  function go(station: Station, target: WorkbenchState["target"] = null): void {
    // What was selected just now belongs to where one comes from.
    if (addressing !== undefined) settleAddress();
    if (station === "review" && state.station !== "review") reviewedFrom = state.station;
    const isOther = station !== state.station;
    set({ station, target });
    if (isOther) history.pushState(null, "", addressOfPlace({ courseId, ...state }));
    keepLastStation(courseId, station);
  }

  /** The address follows what is selected, a moment after the last change: browsers bound how often it may. */
  function follow(changes: Partial<Pick<WorkbenchState, "place" | "moment">>): void {
    set({ ...changes, now: present() });
    clearTimeout(addressing);
    addressing = setTimeout(settleAddress, 250);
  }

  /** Keeps the messages that go out with the next publication; gives why they were not kept. */
  async function keepMessages(messages: Message[]): Promise<string | null> {
    await queue;
    const answer = await ask(address, draftingApi.changeDraft, { body: { messages } });
    if (isFailure(answer)) return answer.detail;
    set({ draft: answer });
    return null;
  }

  return {
    address,
    courseId,
    subscribe,
    get: () => state,
    /** What stations keep while one is at another, by name. */
    kept: new Map<string, unknown>(),
    load,
    listen: () => listen({ address, get: () => state, set, subscribe, ...incoming }),
    reloadProgress,
    setProgress: (progress: Progress) => set({ progress, now: present() }),
    draft,
    step,
    propose: outgoing.propose,
    takeProposal: outgoing.takeProposal,
    takeProposalBack: outgoing.takeProposalBack,
    publish: outgoing.publish,
    movePlanned: outgoing.movePlanned,
    takeBack: outgoing.takeBack,
    lookBack,
    keepMessages,
    /** Adds a message that goes out with the next publication; gives whether it was kept, and says why it was not. */
    async addMessage(to: Target[], body: string): Promise<boolean> {
      const wrong = await keepMessages([...state.draft.messages, messageOf(v7(), to, body)]);
      if (wrong) tell("wrong", wrong);
      return wrong === null;
    },
    /** Shows what the changes written somewhere would do, without drafting them; none: nothing is written there. */
    tryOut(where: "card" | "line", commands: NewCommand[]) {
      const others = state.tried.filter((one) => one.where !== where);
      const tried = commands.map((command) => ({ where, command: { id: v7(), ...command } as Command }));
      if (tried.length > 0 || others.length < state.tried.length) set({ tried: [...others, ...tried] });
    },
    leaveOut(commandId: string, out: boolean) {
      const leftOut = new Set(state.leftOut);
      if (out) leftOut.add(commandId);
      else leftOut.delete(commandId);
      set({ leftOut });
    },
    /** Takes the draft that the server gave beside another answer. */
    setDraft,
    go,
    /** From the review back to where it was opened, if that was on this page. */
    goBack: () => reviewedFrom && go(reviewedFrom),
    tell,
    dismiss: () => set({ notice: null }),
    setMoment: (moment: number | null) => follow({ moment }),
    settleAddress,
    /** Looks at or selects something; null: nothing, or what is usual. */
    setPlace(name: string, value: string | null) {
      const { [name]: before, ...rest } = state.place;
      if ((before ?? null) !== value) follow({ place: value === null ? rest : { ...rest, [name]: value } });
    },
    /** The address changed by the browser's own back and forward. */
    arrived: (station: Station) =>
      set({
        station,
        target: null,
        place: readPlace(location.search, station, state.place),
        moment: readMomentOf(location.search),
      }),
    tick: () => set({ now: present() }),
  };
}
export * from "./state.ts";
export type Store = ReturnType<typeof createStore>;
export type { Failure, NewCommand };
