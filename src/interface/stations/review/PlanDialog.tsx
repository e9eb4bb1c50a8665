import { useState } from "react";
import { dayAfter, instantOf, wallOf } from "../../../core/clock/local-time.ts";
import type { Planned } from "../../../core/review/draft.ts";
import { Button } from "../../kit/Button.tsx";
import { DateTime } from "../../kit/DateTime.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { TextField } from "../../kit/Fields.tsx";
import { SubmitForm } from "../../kit/SubmitForm.tsx";
import { plural } from "../../kit/words.ts";
import { useDraftReview, useParts, useWorkbench } from "../../workbench/context.tsx";

interface PlanProps {
  /** One that is planned already, to be moved to another moment. */
  planned?: Planned;
  onClose(): void;
}

/** Publishing at a moment: the draft goes out by itself, unless the course has changed for the worse by then. */
export function PlanDialog({ planned, onClose }: PlanProps) {
  const { store, plan } = useWorkbench();
  const state = useParts("now");
  const { review, parted } = useDraftReview();
  const { timeZone } = plan.course;
  const today = wallOf(state.now, timeZone).slice(0, 10);
  const [wall, setWall] = useState<string | null>(
    planned ? wallOf(planned.at, timeZone) : `${dayAfter(today, 1)}T07:00`,
  );
  const [message, setMessage] = useState("");
  /** What is written goes out with the draft, to whomever it touches as it stands now. */
  const write = async () =>
    message.trim() === "" ||
    store.addMessage(
      [...review.touchedIds].map((id) => ({ kind: "person", id })),
      message,
    );
  const go = async () => {
    if (!wall) return;
    const at = instantOf(wall, timeZone);
    if (planned) {
      if (await store.movePlanned(planned.id, at)) onClose();
      return;
    }
    if (!(await write())) return;
    const { touched, losing, leaksAdded: leaks, earlier } = review;
    if (await store.publish([...parted.staying], { at, seen: { touched, losing, leaks, earlier } })) onClose();
  };
  return (
    <Dialog title="Publish at a moment" onClose={onClose}>
      <SubmitForm onSubmit={() => void go()}>
        <DateTime label="Publish on" value={wall} onChange={setWall} isRequired />
        {!planned && review.touched > 0 && (
          <TextField
            label={`Written to the ${plural(review.touched, "student")} whom it touches, with it`}
            lines={3}
            value={message}
            onChange={setMessage}
            hint="Empty: nothing is written."
          />
        )}
        <p>
          {plural(planned ? planned.commandIds.length : parted.taken.applied.length, "change")},{" "}
          {plural(planned ? planned.seen.touched : review.touched, "student")} touched. It goes out by itself, all of it
          or nothing. If by then it no longer applies, or warns of more than it does now, it is held back and stays in
          your draft.
        </p>
        <Actions>
          <Button strong type="submit" isDisabled={wall === null}>
            {planned ? "Move it" : "Plan it"}
          </Button>
          <Button onPress={onClose}>Cancel</Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
