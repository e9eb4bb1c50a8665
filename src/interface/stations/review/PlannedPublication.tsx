import { useMemo, useState } from "react";
import { sayInstant } from "../../../core/clock/local-time.ts";
import { replay } from "../../../core/commands.ts";
import { type Message, recipientsOf } from "../../../core/messages/message.ts";
import type { Plan } from "../../../core/plan/types.ts";
import type { Planned } from "../../../core/review/draft.ts";
import { Button } from "../../kit/Button.tsx";
import { plural } from "../../kit/words.ts";
import { useParts, useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { PlanDialog } from "./PlanDialog.tsx";
import styles from "./review.module.css";

interface PlannedProps {
  one: Planned;
  /** What each drafted command says, by its id. */
  says: ReadonlyMap<string, string>;
}

/** A publication that waits for its moment, with all that goes out by it, or one that was held back when it came. */
export function PlannedPublication({ one, says }: PlannedProps) {
  const { store, plan } = useWorkbench();
  const state = useParts("draft", "published", "now");
  const [moving, setMoving] = useState(false);
  const at = sayInstant(one.at, plan.course.timeZone);
  const { commands } = state.draft;
  const { published, now } = state;
  const then = useMemo(() => {
    const held = new Set(one.commandIds);
    const theirs = commands.filter(({ id }) => held.has(id));
    return replay(published, theirs, { now }).plan;
  }, [published, commands, one, now]);
  if (one.state === "held back")
    return (
      <section className={styles.planned} aria-label="Planned publication">
        <p className={base.wrong}>
          Held back on {at}. {one.says} What it held is in the draft again.
        </p>
        <Button onPress={() => void store.takeBack(one.id)}>Put away</Button>
      </section>
    );
  return (
    <section className={styles.planned} aria-label="Planned publication">
      <p>
        {plural(one.commandIds.length, "change")} will be published on {at}, to {plural(one.seen.touched, "student")} as
        counted when it was planned:
      </p>
      <ul className={styles.plannedParts}>
        {one.commandIds.map((id) => (
          <li key={id}>{says.get(id) ?? "a change that no longer applies"}</li>
        ))}
        {one.messages.map((message) => (
          <PlannedMessage key={message.id} message={message} plan={then} />
        ))}
      </ul>
      <Button onPress={() => setMoving(true)}>Another moment</Button>{" "}
      <Button onPress={() => void store.takeBack(one.id)}>Take back into the draft</Button>
      {moving && <PlanDialog planned={one} onClose={() => setMoving(false)} />}
    </section>
  );
}

/** A message that goes out with it: its text opens. */
function PlannedMessage({ message, plan }: { message: Message; plan: Plan }) {
  const state = useParts("now");
  return (
    <li>
      <details>
        <summary>
          Message "{message.subject}", to {plural(recipientsOf(plan, message, state.now).length, "person", "people")}
        </summary>
        <p className={styles.messageText}>{message.body}</p>
      </details>
    </li>
  );
}
