/** What changes the draft: commands, steps back and forth, messages. Shown here at once, then sent in their order. */
import { v7 } from "uuid";
import * as api from "../../api/drafting.ts";
import type { Sent } from "../../api/endpoint.ts";
import * as gradebookApi from "../../api/gradebook.ts";
import { apply, type Command, type NewCommand, type Replay, sayCommand } from "../../core/commands.ts";
import { groupFilter } from "../../core/gradebook/naming-groups.ts";
import { type Message, messageOf } from "../../core/messages/message.ts";
import { isRefusal, type Refusal } from "../../core/plan/command.ts";
import type { Plan, Target } from "../../core/plan/types.ts";
import { type Draft, waitingIn } from "../../core/review/draft.ts";
import type { Base } from "./base.ts";
import { ask, isFailure } from "./fetch.ts";
import { carry } from "./incoming.ts";
import type { OpenState } from "./state.ts";
import { whyNotWithin } from "./within.ts";

const withId = (command: NewCommand) => ({ id: v7(), ...command }) as Command;

export function createDrafting(base: Base) {
  const { address, set, tell, present, course } = base;
  const { post, sent } = createPost(base);

  /** Drafts commands together: all, or none with the reason said. Gives whether they were accepted here. */
  function draft(wanted: NewCommand[]): boolean {
    const state = course();
    if (state.asWas) {
      tell("wrong", "You look at the plan as it was. Go back to now, then change it.");
      return false;
    }
    const now = present();
    const commands = wanted.map(withId);
    const drafted = applyAll(state, commands, now);
    if (isRefusal(drafted)) {
      tell("wrong", drafted.sentence);
      return false;
    }
    set({
      now,
      drafted,
      draft: { ...state.draft, commands: [...state.draft.commands, ...commands], undone: [] },
      offer: offerOfFilters(base, state.drafted.plan, drafted.plan),
    });
    void post({ commands });
    return true;
  }

  /** One step, or all: shown at once, then sent. */
  function step(kind: Step): void {
    const { draft: before, published } = course();
    const next = stepped(before, kind);
    if (!next) return;
    const now = present();
    set({ now, offer: null, draft: { ...before, ...next }, drafted: carry(published, next, now) });
    void post({ step: kind });
  }

  /** Keeps the messages that go out with the next publication; gives why they were not kept. */
  async function keepMessages(messages: Message[]): Promise<string | null> {
    await sent();
    const answer = await ask(address, api.changeDraft, { body: { messages } });
    if (isFailure(answer)) return answer.detail;
    set({ draft: answer });
    return null;
  }

  return {
    draft,
    step,
    sent,
    keepMessages,
    /** Adds a message that goes out with the next publication; gives whether it was kept, and says why it was not. */
    async addMessage(to: Target[], body: string): Promise<boolean> {
      const wrong = await keepMessages([...course().draft.messages, messageOf(v7(), to, body)]);
      if (wrong) tell("wrong", wrong);
      return wrong === null;
    },
    /** Shows what the changes written somewhere would do, without drafting them; none: nothing is written there. */
    tryOut(where: "card" | "line", commands: NewCommand[]) {
      const { tried: before } = course();
      const others = before.filter((one) => one.where !== where);
      const tried = commands.map((command) => ({ where, command: withId(command) }));
      if (tried.length > 0 || others.length < before.length) set({ tried: [...others, ...tried] });
    },
    leaveOut(commandId: string, out: boolean) {
      const leftOut = new Set(course().leftOut);
      if (out) leftOut.add(commandId);
      else leftOut.delete(commandId);
      set({ leftOut });
    },
  };
}

type Changes = Sent<typeof api.changeDraft.body>;
type Step = "undo" | "redo" | "undo all" | "redo all";

/** Sends changes of the draft one after another, in the order in which they were made. */
function createPost({ address, set, tell, course }: Base) {
  let queue: Promise<unknown> = Promise.resolve();

  /** Takes what the server says the draft is. */
  const accept = (draft: Draft) => {
    const { published, sending, now } = course();
    set({ draft, drafted: carry(published, draft, now), sending: sending - 1 });
  };

  async function send(body: Changes): Promise<void> {
    const answer = await ask(address, api.changeDraft, { body });
    const { sending, draft } = course();
    if (!isFailure(answer)) {
      // More may have been drafted here while this was under way; only the last answer is the whole draft.
      if (sending === 1) accept(answer);
      else set({ sending: sending - 1, draft: { ...draft, version: answer.version } });
      return;
    }
    tell("wrong", answer.detail);
    const kept = await ask(address, api.readDraft);
    if (isFailure(kept)) set({ sending: course().sending - 1 });
    else accept(kept);
  }

  function post(body: Changes): Promise<unknown> {
    set({ sending: course().sending + 1 });
    queue = queue.then(() => send(body));
    return queue;
  }
  /** When all that was drafted so far is kept by the server. */
  return { post, sent: () => queue };
}

/** The draft with commands after it, or why one of them cannot be. */
function applyAll(state: OpenState, commands: Command[], now: number): Replay | Refusal {
  let { plan } = state.drafted;
  const applied = [...state.drafted.applied];
  for (const command of commands) {
    const says = sayCommand(plan, command);
    const next = whyNotWithin(state, plan, command) ?? apply(plan, command, { now });
    if (isRefusal(next)) return next;
    applied.push({ command, says });
    plan = next;
  }
  return { ...state.drafted, plan, applied };
}

/** The draft after a step; null where there is nothing to step over. */
function stepped(draft: Draft, kind: Step): Pick<Draft, "commands" | "undone"> | null {
  const { commands, undone } = draft;
  const isAll = kind.endsWith("all");
  if (kind.startsWith("redo")) {
    const count = isAll ? undone.length : 1;
    if (undone.length === 0) return null;
    return { commands: [...commands, ...undone.slice(0, count)], undone: undone.slice(count) };
  }
  // What waits for its moment stays until it is taken back.
  const waiting = new Set(waitingIn(draft));
  const free = commands.filter(({ id }) => !waiting.has(id));
  if (free.length === 0) return null;
  const undoing = isAll ? free : free.slice(-1);
  return { commands: commands.filter((command) => !undoing.includes(command)), undone: [...undoing, ...undone] };
}

/** Groups that were just made are offered as filters of the gradebook. */
function offerOfFilters({ address, set, tell }: Base, before: Plan, after: Plan): OpenState["offer"] {
  if (before.groups === after.groups) return null;
  const made = Object.values(after.groups).filter(({ id }) => !before.groups[id]);
  if (made.length === 0 || made.length > 200) return null;
  const filters = made.map(({ name }) => ({
    id: v7(),
    name,
    text: groupFilter(name),
    pinned: true,
    shared: false,
    view: null,
  }));
  return {
    says: made.length === 1 ? "Save its gradebook filter" : `Save ${made.length} gradebook filters`,
    take() {
      set({ offer: null });
      void ask(address, gradebookApi.saveFilters, { body: { filters } }).then((answer) =>
        isFailure(answer) ? tell("wrong", answer.detail) : tell("done", "Saved, and pinned in the gradebook."),
      );
    },
  };
}
