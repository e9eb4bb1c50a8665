/** What leaves the draft: publications, at once or planned, and proposals to the coordinator. */
import { v7 } from "uuid";
import * as api from "../../api/drafting.ts";
import type { Draft } from "../../core/review/draft.ts";
import { ask, askWithProgress, type Failure, isFailure } from "./fetch.ts";
import type { Notice, PlannedFor, WorkbenchState } from "./state.ts";

interface Workbench {
  address: string;
  get(): WorkbenchState;
  set(changes: Partial<WorkbenchState>): void;
  tell(tone: Notice["tone"], says: string): void;
  load(): Promise<void>;
  reload(): Promise<void>;
  /** When all that was drafted so far is kept by the server. */
  sent(): Promise<unknown>;
  setDraft(draft: Draft): void;
  reloadProposals(): Promise<void>;
}

export function createOutgoing({ address, get, set, tell, load, reload, sent, setDraft, reloadProposals }: Workbench) {
  let publicationId: string | null = null;

  /** Publishes the draft as it was reviewed. The id stays until an answer came, so that sending again publishes once. */
  async function publish(staying: string[], planned?: PlannedFor): Promise<boolean> {
    await sent();
    publicationId ??= v7();
    const { revision, draft } = get();
    const body = { publicationId, revision, version: draft.version, leave: staying, planned };
    const answer = planned
      ? await ask(address, api.publish, { body })
      : await askWithProgress(address, api.publish, { body }, (writing) => set({ writing }));
    set({ writing: null });
    if (isFailure(answer)) {
      if (answer.status > 0) publicationId = null;
      tell("wrong", answer.detail);
      if (answer.status === 409) await load();
      return false;
    }
    // What a planned publication left out stays left out: it is drafted still, and nobody ticked it.
    if (!planned) set({ leftOut: new Set() });
    await reload();
    // Until then what is heard of this publication is no news.
    publicationId = null;
    tell(
      "done",
      planned ? "Planned. It goes out by itself, and can be taken back." : "Published. Everyone sees it now.",
    );
    return true;
  }

  /** Takes a planned publication back into the draft. */
  async function takeBack(plannedId: string): Promise<void> {
    const answer = await ask(address, api.takePlannedBack, { body: { plannedId } });
    if (isFailure(answer)) tell("wrong", answer.detail);
    await load();
  }

  /** Moves a planned publication to another moment. Gives whether it was. */
  async function movePlanned(plannedId: string, at: number): Promise<boolean> {
    const answer = await ask(address, api.movePlanned, { body: { plannedId, at } });
    if (isFailure(answer)) tell("wrong", answer.detail);
    const draft = await ask(address, api.readDraft);
    if (!isFailure(draft)) setDraft(draft);
    return !isFailure(answer);
  }

  /** What is done with proposals; then draft and proposals as they are. Gives why not. */
  async function proposal(done: () => Promise<object | Failure>): Promise<string | null> {
    await sent();
    const answer = await done();
    if (isFailure(answer)) return answer.detail;
    set({ leftOut: new Set() });
    const [draft] = await Promise.all([ask(address, api.readDraft), reloadProposals()]);
    if (!isFailure(draft)) setDraft(draft);
    return null;
  }

  const propose = (leave: string[]) => proposal(() => ask(address, api.propose, { body: { leave } }));
  const takeProposal = (id: string, take: string[], answer: string) =>
    proposal(() => ask(address, api.takeProposal, { params: { proposal: id }, body: { take, answer } }));
  const takeProposalBack = (id: string) =>
    proposal(() => ask(address, api.takeProposalBack, { params: { proposal: id } }));

  return {
    publish,
    movePlanned,
    takeBack,
    propose,
    takeProposal,
    takeProposalBack,
    isPublishing: () => publicationId !== null,
  };
}
