import { Redo2, Undo2 } from "lucide-react";
import { useState } from "react";
import { fullName } from "../../core/plan/lookup.ts";
import { waitingIn } from "../../core/review/draft.ts";
import { Button } from "../kit/Button.tsx";
import { Fetched, partOf } from "../kit/fetched.tsx";
import { plural } from "../kit/words.ts";
import { useDraftReview, useFindings, useParts, useWorkbench } from "./context.tsx";
import { useMay } from "./may.tsx";
import type { Given } from "./state.ts";
import styles from "./tray.module.css";

const planDialog = partOf(async () => (await import("../stations/review/PlanDialog.tsx")).PlanDialog);

/** What is drafted, whom it touches and what it would cause; and what can be done with it. */
export function Tray() {
  const state = useParts("leftOut", "draft", "sending", "scope", "station");
  const { parted, isParted } = useDraftReview();
  // Until the draft is parted anew, what is unticked and what waits stays.
  const stays = isParted ? parted.staying.size : new Set([...state.leftOut, ...waitingIn(state.draft)]).size;
  return (
    <section className={styles.tray} aria-label="Draft" aria-busy={state.sending > 0}>
      <div className={styles.words}>
        {state.draft.commands.length === 0 ? (
          <span className={styles.soft}>{nothingSays(state.scope)}</span>
        ) : (
          <DraftedSays stays={stays} />
        )}
      </div>
      <div className={styles.actions}>
        {state.station !== "review" && <PublishHere stays={stays} />}
        <Steps />
        {state.station === "review" ? <Leaving stays={stays} /> : <ToReview />}
      </div>
    </section>
  );
}

interface StayingProps {
  /** How many changes stay drafted at the next publication. */
  stays: number;
}

function DraftedSays({ stays }: StayingProps) {
  const state = useParts("draft", "drafted", "offer");
  const audit = useFindings();
  const { parted, isParted, review } = useDraftReview();
  const { commands } = state.draft;
  const last = state.drafted.applied.at(-1);
  const refused = parted.taken.refused.length;
  const waiting = waitingIn(state.draft).length;
  return (
    <>
      <strong>{plural(commands.length, "change")} drafted</strong>
      {waiting > 0 && <span>{plural(waiting, "waits for its moment", "wait for their moment")}</span>}
      {stays > waiting && <span>{plural(stays - waiting, "of them stays drafted", "of them stay drafted")}</span>}
      {(!isParted || commands.length > stays) && <Touched />}
      {review.leaksAdded === 0 && audit.added.leaks > 0 && (
        <span className={styles.warn}>later leak to {plural(audit.added.leaks, "student")}</span>
      )}
      {audit.added.stranded > 0 && (
        <span className={styles.warn}>strands {plural(audit.added.stranded, "student")}</span>
      )}
      {refused > 0 && (
        <span className={styles.warn}>{plural(refused, "change no longer applies", "changes no longer apply")}</span>
      )}
      <span className={styles.soft} title={last?.says}>
        {last?.says}
      </span>
      {state.offer && (
        <Button quiet onPress={state.offer.take}>
          {state.offer.says}
        </Button>
      )}
    </>
  );
}

/** Back and forward in the draft. */
function Steps() {
  const { store } = useWorkbench();
  const state = useParts("draft");
  const { commands, undone } = state.draft;
  return (
    <>
      <Button quiet isDisabled={commands.length === waitingIn(state.draft).length} onPress={() => store.step("undo")}>
        <Undo2 size={15} aria-hidden /> Undo
      </Button>
      <Button quiet isDisabled={undone.length === 0} onPress={() => store.step("redo")}>
        <Redo2 size={15} aria-hidden /> Redo
      </Button>
      {commands.length === 0 && undone.length > 1 && (
        <Button quiet onPress={() => store.step("redo all")}>
          Redo all {undone.length}
        </Button>
      )}
    </>
  );
}

/**
 * Publishes from where one is, where nothing of the draft warns. It comes and goes: it stands before what does not, so
 * that nothing moves away under the pointer.
 */
function PublishHere({ stays }: StayingProps) {
  const state = useParts("draft", "scope");
  const { parted, review } = useDraftReview();
  const { publish, isReady, isPublishing } = usePublishing(stays);
  const warns = useWarns();
  // What waits for its moment is no matter of this publication; what somebody left out is looked at first.
  const isWhole = parted.staying.size === waitingIn(state.draft).length;
  const isPlain = state.scope === null && isWhole && !warns;
  const messages = state.draft.messages.length;
  if (!isPlain || !(isReady || isPublishing)) return null;
  return (
    <Button isDisabled={!isReady} onPress={publish}>
      {isPublishing ? (
        <Writing />
      ) : (
        `Publish to ${plural(review.touched, "student")}${messages > 0 ? ` with ${plural(messages, "message")}` : ""}`
      )}
    </Button>
  );
}

function ToReview() {
  const { store } = useWorkbench();
  const state = useParts("draft");
  return (
    <Button strong isDisabled={state.draft.commands.length === 0} onPress={() => store.go("review")}>
      Review
    </Button>
  );
}

/**
 * Whether anything of the draft is to be looked at before it is published, or is not known yet. What the tray says in
 * full needs no list: what is due earlier, and who of a few loses something, if nothing of it is their own work.
 */
function useWarns(): boolean {
  const audit = useFindings();
  const { review } = useDraftReview();
  const { losing, losingIds, losingWork, leaksAdded } = review;
  const warnings =
    (losing > losingIds.length ? losing : losingWork) + leaksAdded + audit.added.leaks + audit.added.stranded;
  return warnings > 0 || audit.pending || audit.failure !== null;
}

/** How far a publication is. */
function Writing() {
  const { writing } = useParts("writing");
  return <>{writing ? `Publishing: ${Math.floor((100 * writing.done) / Math.max(1, writing.of))} %` : "Publishing"}</>;
}

/** Publishing the draft without what stays, and whether it may begin. */
function usePublishing(stays: number) {
  const { store } = useWorkbench();
  const state = useParts("draft");
  const { parted, isParted, review } = useDraftReview();
  const [isPublishing, setPublishing] = useState(false);
  const isWhole = isParted && parted.taken.refused.length === 0;
  const isReady = state.draft.commands.length > stays && isWhole && !isPublishing && review.isKnown;
  const publish = async () => {
    setPublishing(true);
    await store.publish([...parted.staying], {
      touched: review.touched,
      says: parted.taken.applied.map(({ says }) => says),
    });
    setPublishing(false);
  };
  return { publish, isReady, isPublishing };
}

/** The ways out of the draft: published now or at a moment, or proposed to the coordinator. */
function Leaving({ stays }: StayingProps) {
  const { store } = useWorkbench();
  const state = useParts("scope");
  const { parted, review } = useDraftReview();
  const { publish, isReady, isPublishing } = usePublishing(stays);
  const [planning, setPlanning] = useState(false);
  const { scope } = state;
  const mayPublish = useMay("publish");
  const propose = async () => {
    const why = await store.propose([...parted.staying]);
    if (why) store.tell("wrong", why);
    else store.tell("done", "Proposed. The coordinator finds it at Review; you are told here what becomes of it.");
  };
  return (
    <>
      {scope !== null && (
        <Button strong={!mayPublish} isDisabled={!isReady} onPress={propose}>
          Propose to the coordinator
        </Button>
      )}
      {scope === null && (
        <Button isDisabled={!isReady} onPress={() => setPlanning(true)}>
          At a moment
        </Button>
      )}
      {mayPublish && (
        <Button strong isDisabled={!isReady} onPress={publish}>
          {isPublishing ? (
            <Writing />
          ) : review.touched === 0 || !review.isKnown ? (
            "Publish"
          ) : (
            `Publish to ${plural(review.touched, "student")}`
          )}
        </Button>
      )}
      {planning && <Fetched part={planDialog} props={{ onClose: () => setPlanning(false) }} />}
    </>
  );
}

/** Whom the draft touches, and what of that warns. */
function Touched() {
  const { plan } = useWorkbench();
  const { review } = useDraftReview();
  const { failure, isKnown, touched, losing, losingIds, leaksAdded, earlier } = review;
  const losers = losingIds.flatMap((id) => plan.people[id] ?? []).map(fullName);
  if (!isKnown)
    return (
      <span data-testid="touched" className={failure ? styles.warn : styles.soft}>
        {failure ?? "counting whom it touches"}
      </span>
    );
  return (
    <>
      <span data-testid="touched">touches {plural(touched, "student")}</span>
      {losing > 0 && (
        <span className={styles.warn}>
          {losing > losers.length
            ? `${plural(losing, "student")} lose something`
            : `${new Intl.ListFormat("en-GB").format(losers)} ${losing === 1 ? "loses" : "lose"} something`}
        </span>
      )}
      {leaksAdded > 0 && <span className={styles.warn}>new leak to {plural(leaksAdded, "student")}</span>}
      {earlier > 0 && (
        <span className={styles.warn}>due earlier, or less allowed, for {plural(earlier, "student")}</span>
      )}
    </>
  );
}

/** What stands in the tray before anything is drafted. */
function nothingSays(scope: Given | null): string {
  return scope === null
    ? "Nothing is drafted. Changes you make wait here, and nobody sees them until you publish."
    : "Nothing is drafted. You see the students you were given; items of your own and dates for them can be drafted.";
}
