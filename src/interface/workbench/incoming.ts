/** What comes to the workbench: the published plan, the draft over it, what was done and what is proposed, told or asked for. */

import * as courseApi from "../../api/course.ts";
import * as draftingApi from "../../api/drafting.ts";
import { type Command, type Replay, replay } from "../../core/commands.ts";
import { applyDifference } from "../../core/plan/difference.ts";
import type { Progress } from "../../core/plan/progress.ts";
import type { Plan } from "../../core/plan/types.ts";
import type { Draft } from "../../core/review/draft.ts";
import type { Base } from "./base.ts";
import { readPlanPieces, readProgressPieces } from "./columns.ts";
import { ask, type Failure, isFailure } from "./fetch.ts";

/** A draft over a plan. */
export const carry = (plan: Plan, { commands }: { commands: Command[] }, now: number): Replay =>
  replay(plan, commands, { now });

export type Incoming = ReturnType<typeof createIncoming>;

export function createIncoming(base: Base, { isPublishing }: { isPublishing(): boolean }) {
  const { address, get, set, tell, present, setClock, course } = base;
  /** The published plan as it is by now: from the one that is here, where what changed since is told. */
  async function newest(): Promise<courseApi.WholePlan | Failure> {
    const known = get();
    if (known.status !== "ready") return whole();
    const answer = await ask(address, courseApi.readPlan, { query: { after: known.revision } });
    if (isFailure(answer) || "plan" in answer) return answer;
    return { revision: answer.revision, plan: applyDifference(course().published, answer.changes), scope: null };
  }

  async function whole(): Promise<courseApi.WholePlan | Failure> {
    const answer = await ask(address, courseApi.readPlanInColumns);
    if (isFailure(answer)) return answer;
    return { revision: answer.revision, scope: answer.scope, plan: await readPlanPieces(answer) };
  }

  async function allProgress(): Promise<Progress | Failure> {
    const answer = await ask(address, courseApi.readProgressInColumns);
    return isFailure(answer) ? answer : readProgressPieces(answer);
  }

  /** A course that is here stays, as it was: it may be worked on, and what is drafted is kept. */
  function fail({ detail }: Failure): void {
    if (get().status === "ready") tell("wrong", detail);
    else set({ status: "failed", failure: detail });
  }

  async function load(): Promise<void> {
    const [plan, progress, draft] = await Promise.all([newest(), allProgress(), ask(address, draftingApi.readDraft)]);
    for (const answer of [plan, progress, draft]) if (isFailure(answer)) return fail(answer);
    if (isFailure(plan) || isFailure(progress) || isFailure(draft)) return;
    setClock(draft);
    const { now } = draft;
    const drafted = carry(plan.plan, draft, now);
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
    // What is told live may come before all of this is there.
    void reloadProposals();
  }

  /** The plan that was just published, and what is left of the draft: what is done in the course is told as it happens. */
  async function reload(): Promise<void> {
    // Whoever has a scope may have another one now, with what was done in it.
    if (course().scope) return load();
    const [plan, draft] = await Promise.all([newest(), ask(address, draftingApi.readDraft)]);
    if (isFailure(plan) || isFailure(draft) || plan.scope) return load();
    // By the server's clock: by one that lags behind it, what was just published would not have begun.
    setClock(draft);
    const { now } = draft;
    const drafted = carry(plan.plan, draft, now);
    set({ revision: plan.revision, published: plan.plan, draft, drafted, now });
  }

  /** What others published is beneath the draft at once, which is carried over it; what no longer applies is told. */
  async function takeRevision(revision: number, by: string, says: string): Promise<void> {
    if (revision <= course().revision || isPublishing()) return;
    // Another window may have published this very draft: it is asked for with the plan.
    const [plan, kept] = await Promise.all([newest(), ask(address, draftingApi.readDraft)]);
    if (isFailure(plan) || plan.revision <= course().revision) return;
    if (!isFailure(kept)) setClock(kept);
    const now = isFailure(kept) ? present() : kept.now;
    const before = course().drafted.refused.length;
    const draft = isFailure(kept) || course().sending > 0 ? course().draft : kept;
    const drafted = carry(plan.plan, draft, now);
    set({ revision: plan.revision, scope: plan.scope, published: plan.plan, draft, drafted, now });
    if (plan.scope) {
      void reloadProgress();
      // What they proposed may have gone out with it.
      void reloadProposals();
    }
    const lost = drafted.refused.length - before;
    const told = by ? `${by} changed the course: ${says}.` : "The course was changed.";
    if (lost > 0) tell("wrong", `${told} ${lost} of your drafted changes no longer apply; the review names them.`);
    else tell("done", course().draft.commands.length > 0 ? `${told} Your draft stands on it now.` : told);
  }

  const setDraft = (draft: Draft) => set({ draft, drafted: carry(course().published, draft, present()) });

  /** What was drafted in another window is here too. */
  async function takeDraft(version: number): Promise<void> {
    if (version <= course().draft.version || get().sending > 0 || isPublishing()) return;
    const draft = await ask(address, draftingApi.readDraft);
    if (!isFailure(draft) && get().sending === 0) setDraft(draft);
  }

  async function reloadProgress(): Promise<void> {
    const progress = await allProgress();
    if (!isFailure(progress)) set({ progress, now: present() });
  }

  async function reloadProposals(): Promise<void> {
    const answer = await ask(address, draftingApi.readProposals);
    if (!isFailure(answer)) set({ proposals: answer.proposals });
  }

  return { load, reload, setDraft, takeRevision, takeDraft, reloadProgress, reloadProposals };
}
