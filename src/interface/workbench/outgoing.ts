/** What leaves the draft: publications, at once or planned, and proposals to the coordinator. */
import { v7 } from "uuid";
import * as api from "../../api/drafting.ts";
import type { Base } from "./base.ts";
import { ask, askWithProgress, type Failure, isFailure } from "./fetch.ts";
import type { Incoming } from "./incoming.ts";
import type { PlannedFor, Published } from "./state.ts";

interface Around {
  /** The publication on its way; its id stays until an answer came, so that sending again publishes once. */
  publication: { id: string | null };
  incoming: Incoming;
  /** When all that was drafted so far is kept by the server. */
  sent(): Promise<unknown>;
}

const itIsPublished = "Published. Everyone sees it now.";
const itIsPlanned = "Planned. It goes out by itself, and can be taken back.";

export function createOutgoing({ address, set, tell, course }: Base, { publication, incoming, sent }: Around) {
  const { load, reload, setDraft, reloadProposals } = incoming;

  async function notPublished({ status, detail }: Failure): Promise<false> {
    // What got no answer may have been published: it is sent again under its id.
    if (status > 0) publication.id = null;
    tell("wrong", detail);
    if (status === 409) await load();
    return false;
  }

  /** Publishes the draft as it was reviewed, without what stays; at once, with what it is, or at a moment. */
  async function publish(staying: string[], how: Published | PlannedFor): Promise<boolean> {
    const planned = "at" in how ? how : undefined;
    await sent();
    publication.id ??= v7();
    const { revision, draft } = course();
    const body = { publicationId: publication.id, revision, version: draft.version, leave: staying, planned };
    const answer = planned
      ? await ask(address, api.publish, { body })
      : await askWithProgress(address, api.publish, { body }, (writing) => set({ writing }));
    set({ writing: null });
    if (isFailure(answer)) return notPublished(answer);
    // What a planned publication left out stays left out: it is drafted still, and nobody ticked it.
    if (!("at" in how)) set({ leftOut: new Set(), justPublished: how });
    await reload();
    // Until then what is heard of this publication is no news.
    publication.id = null;
    tell("done", planned ? itIsPlanned : itIsPublished);
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
  };
}
