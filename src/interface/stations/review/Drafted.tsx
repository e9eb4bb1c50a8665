import type { Replay } from "../../../core/commands.ts";
import { waitingIn } from "../../../core/review/draft.ts";
import { Button } from "../../kit/Button.tsx";
import { Checkbox } from "../../kit/Fields.tsx";
import { plural } from "../../kit/words.ts";
import { useDraftReview, useParts, useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { DraftMessages } from "./DraftMessages.tsx";
import { PlannedPublication } from "./PlannedPublication.tsx";
import styles from "./review.module.css";

interface DraftedProps {
  /** The change whose effects are shown alone. */
  cause: string | null;
  setCause(commandId: string | null): void;
}

/** What is drafted, a line a change: what it touches, whether it is published next, and what needs it. */
export function Drafted({ cause, setCause }: DraftedProps) {
  const { store } = useWorkbench();
  const state = useParts("drafted", "draft");
  const { applied, refused } = state.drafted;
  const { planned } = state.draft;
  const held = new Set(waitingIn(state.draft));
  const says = new Map(applied.map((one) => [one.command.id, one.says]));
  return (
    <section aria-label="Drafted changes" className={base.scroll}>
      <h3>Drafted changes</h3>
      {refused.map(({ command, refusal }) => (
        <p key={command.id} className={base.wrong}>
          No longer applies: {refusal.sentence}
        </p>
      ))}
      {planned.map((one) => (
        <PlannedPublication key={one.id} one={one} says={says} />
      ))}
      <ol className={styles.commands}>
        {applied
          .filter(({ command }) => !held.has(command.id))
          .map((one) => (
            <DraftedLine
              key={one.command.id}
              one={one}
              says={says}
              isChosen={cause === one.command.id}
              choose={() => setCause(cause === one.command.id ? null : one.command.id)}
            />
          ))}
      </ol>
      {applied.length > held.size && (
        <div className={styles.after}>
          <Button onPress={() => store.step("undo all")}>Undo all</Button>
        </div>
      )}
      <DraftMessages />
    </section>
  );
}

interface LineProps {
  one: Replay["applied"][number];
  /** What each drafted command says, by its id. */
  says: ReadonlyMap<string, string>;
  isChosen: boolean;
  choose(): void;
}

function DraftedLine({ one: { command, says: words }, says, isChosen, choose }: LineProps) {
  const { store } = useWorkbench();
  const state = useParts("leftOut");
  const { review, parted, isParted } = useDraftReview();
  const touches = review.causes.get(command.id)?.personIds.size;
  // Until the draft is parted anew, a tick stands for itself.
  const needs = isParted ? parted.needs.get(command.id) : undefined;
  const stays = isParted ? parted.staying.has(command.id) : state.leftOut.has(command.id);
  const counted =
    touches === undefined ? "counting whom it touches" : `touches ${touches ? plural(touches, "student") : "nobody"}`;
  return (
    <li data-out={stays || undefined}>
      <Checkbox
        aria-label={`Publish: ${words}`}
        isSelected={!stays}
        isDisabled={needs !== undefined}
        onChange={(taken) => store.leaveOut(command.id, !taken)}
      />
      <button type="button" className={base.plainButton} aria-pressed={isChosen} onClick={choose}>
        {words}
        {needs ? (
          <small className={base.wrong}>
            stays too, because it needs: {needs.map((id) => says.get(id) ?? "a change that waits").join("; ")}
          </small>
        ) : (
          <small className={base.soft}>{stays ? "stays drafted" : counted}</small>
        )}
      </button>
    </li>
  );
}
