import { useState } from "react";
import { instantOf, sayWall } from "../../../../core/clock/local-time.ts";
import { meetingsOf } from "../../../../core/timing/meetings.ts";
import { changeDays, type MeetingOwner } from "../../../../core/timing/owners.ts";
import { Button } from "../../../kit/Button.tsx";
import { DateTime, TimeOfDay } from "../../../kit/DateTime.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { TextField } from "../../../kit/Fields.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";

/** A meeting beside the pattern: counted among the others by when it begins, so that later ones have another number. */
export function AddMeeting({ owner, onClose }: { owner: MeetingOwner; onClose(): void }) {
  const { store, plan } = useWorkbench();
  const { course } = plan;
  const [start, setStart] = useState<string | null>(null);
  const [end, setEnd] = useState<string | null>(null);
  const [place, setPlace] = useState("");
  const day = start?.slice(0, 10) ?? "";
  const wrong =
    start === null
      ? null
      : day < course.termStart || day > course.termEnd
        ? "That day lies outside the term."
        : end !== null && end <= start.slice(11)
          ? "It ends before it begins."
          : null;
  const later = start
    ? meetingsOf(course, owner.days).filter((one) => one.start > instantOf(start, course.timeZone)).length
    : 0;
  const draft = () => {
    if (start === null || end === null || wrong) return;
    const added = [...owner.days.added, { start, end, place: place.trim() }];
    if (store.draft([changeDays(owner, { added })])) onClose();
  };
  return (
    <Dialog title={`Add a meeting to ${owner.name}`} onClose={onClose}>
      <SubmitForm onSubmit={draft}>
        <DateTime label="Begins" value={start} onChange={setStart} />
        <TimeOfDay label="Ends" value={end} onChange={setEnd} />
        <TextField label="Place" value={place} onChange={setPlace} maxLength={100} />
        {wrong ? (
          <p role="alert" className={base.wrong}>
            {wrong}
          </p>
        ) : (
          <p className={base.soft}>
            {start === null
              ? "Meetings are counted by when they begin."
              : later > 0
                ? `${sayWall(start)}: the ${later === 1 ? "meeting after it then counts" : `${later} meetings after it then count`} one more, and dates given as one of them move.`
                : `${sayWall(start)}: it is the last meeting; nothing else moves.`}
          </p>
        )}
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={start === null || end === null || wrong !== null}>
            Draft the meeting
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
