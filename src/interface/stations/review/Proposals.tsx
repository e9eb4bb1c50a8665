import { useState } from "react";
import { sayInstant } from "../../../core/clock/local-time.ts";
import type { Proposal } from "../../../core/review/proposal.ts";
import { Button } from "../../kit/Button.tsx";
import { Checkbox, TextField } from "../../kit/Fields.tsx";
import { plural } from "../../kit/words.ts";
import { useParts, useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { Wrong } from "../Wrong.tsx";
import styles from "./review.module.css";

/** What is proposed: for the coordinator to take, whole or in part; for others how their own fared. */
export function Proposals() {
  const state = useParts("proposals", "scope");
  if (state.proposals.length === 0) return null;
  return (
    <section aria-label="Proposals" className={styles.proposals}>
      <h3>{state.scope === null ? "Proposed to you" : "What you proposed"}</h3>
      {state.proposals.map((one) =>
        state.scope === null ? <Waiting key={one.id} proposal={one} /> : <Own key={one.id} proposal={one} />,
      )}
    </section>
  );
}

function Waiting({ proposal }: { proposal: Proposal }) {
  const { store, plan } = useWorkbench();
  const [left, setLeft] = useState<ReadonlySet<string>>(
    new Set(proposal.lines.flatMap(({ id, why }) => (why ? [id] : []))),
  );
  const [answer, setAnswer] = useState("");
  const [wrong, setWrong] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const taken = proposal.lines.filter(({ id }) => !left.has(id));
  const send = async (take: string[]) => {
    setBusy(true);
    const refused = await store.takeProposal(proposal.id, take, answer);
    setBusy(false);
    setWrong(refused);
    if (refused === null)
      store.tell(
        "done",
        take.length === 0
          ? `Handed back to ${proposal.by}.`
          : `${plural(take.length, "change")} of ${proposal.by} in your draft: look at the effects, then publish.`,
      );
  };
  return (
    <div role="group" aria-label={`Proposal of ${proposal.by}`} className={styles.proposal}>
      <p>
        <strong>{proposal.by}</strong>, {sayInstant(proposal.at, plan.course.timeZone)}
      </p>
      <ul className={styles.commands}>
        {proposal.lines.map(({ id, says, why }) => (
          <li key={id}>
            <Checkbox
              isSelected={!left.has(id)}
              isDisabled={why !== null}
              onChange={(on) => {
                const next = new Set(left);
                if (on) next.delete(id);
                else next.add(id);
                setLeft(next);
              }}
            >
              <span>
                {why === null ? says : "No longer applies"}
                {why && <small className={base.wrong}>{why}</small>}
              </span>
            </Checkbox>
          </li>
        ))}
      </ul>
      <div className={base.bar}>
        <TextField label="A word to them" hideLabel placeholder="A word to them" value={answer} onChange={setAnswer} />
        <Button isDisabled={busy} onPress={() => void send([])}>
          Hand back
        </Button>
        <Button strong isDisabled={busy || taken.length === 0} onPress={() => void send(taken.map(({ id }) => id))}>
          {taken.length === proposal.lines.length
            ? "Take into your draft"
            : `Take ${taken.length}, hand back ${proposal.lines.length - taken.length}`}
        </Button>
      </div>
      <Wrong>{wrong}</Wrong>
    </div>
  );
}

const states: Record<Proposal["state"], string> = {
  waiting: "waits for the coordinator",
  taken: "taken into the coordinator's draft",
  "handed back": "handed back",
  "taken back": "taken back",
};

function Own({ proposal }: { proposal: Proposal }) {
  const { store, plan } = useWorkbench();
  const [wrong, setWrong] = useState<string | null>(null);
  const { lines, state, answer, taken, published, publishedAt, at } = proposal;
  return (
    <div role="group" aria-label="Proposal" className={styles.proposal}>
      <p>
        {sayInstant(at, plan.course.timeZone)}, {plural(lines.length, "change")}: {states[state]}
        {state === "handed back" && taken > 0 && `, ${taken} of them taken`}.
        {state === "handed back" && " What was not taken is in your draft again."}
        {publishedAt !== null &&
          ` ${published === taken ? "Published" : `${published} of the ${taken} published`} on ${sayInstant(publishedAt, plan.course.timeZone)}.`}
      </p>
      {answer !== "" && <p className={styles.answer}>“{answer}”</p>}
      {state === "waiting" && (
        <>
          <ul className={styles.commands}>
            {lines.map(({ id, says, why }) => (
              <li key={id}>{why ?? says}</li>
            ))}
          </ul>
          <Button onPress={async () => setWrong(await store.takeProposalBack(proposal.id))}>
            Take back into the draft
          </Button>
        </>
      )}
      <Wrong>{wrong}</Wrong>
    </div>
  );
}
