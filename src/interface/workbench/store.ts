/**
 * The workbench's store: its state, and all that changes it. A command is applied here at once, then sent; the server
 * applies the same one before it keeps it.
 */
import type { NewCommand } from "../../core/commands.ts";
import type { Progress } from "../../core/plan/progress.ts";
import { createBase } from "./base.ts";
import { createDrafting } from "./drafting.ts";
import type { Failure } from "./fetch.ts";
import { createIncoming } from "./incoming.ts";
import { listen } from "./live.ts";
import { createMoving } from "./moving.ts";
import { createOutgoing } from "./outgoing.ts";
import type { Station } from "./state.ts";

/** `reader`: the person of the course who works here. */
export function createStore(courseId: string, firstStation: Station, reader: string) {
  const base = createBase(courseId, firstStation, location.search);
  const { address, state, set, present, tell, course } = base;
  /** The id stays until an answer came, so that sending again publishes once. */
  const publication: { id: string | null } = { id: null };
  const incoming = createIncoming(base, { isPublishing: () => publication.id !== null });
  const { sent, ...drafting } = createDrafting(base);
  const outgoing = createOutgoing(base, { publication, incoming, sent });
  return {
    address,
    courseId,
    reader,
    state,
    course,
    tell,
    /** What stations keep while one is at another, by name. */
    kept: new Map<string, unknown>(),
    load: incoming.load,
    /** Takes the draft that the server gave beside another answer. */
    setDraft: incoming.setDraft,
    reloadProgress: incoming.reloadProgress,
    listen: () => listen(base, incoming),
    setProgress: (progress: Progress) => set({ progress, now: present() }),
    dismiss: () => set({ notice: null }),
    tick: () => set({ now: present() }),
    ...drafting,
    ...outgoing,
    ...createMoving(base),
  };
}
export * from "./state.ts";
export type Store = ReturnType<typeof createStore>;
export type { Failure, NewCommand };
