/** What staff do with attempts on the spot: for those that are ticked, or for all that run. */
import { useState } from "react";
import type { AttemptAct, AttemptRow } from "../../../../api/attempts.ts";
import { Button } from "../../../kit/Button.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { TextField } from "../../../kit/Fields.tsx";
import { NumberField } from "../../../kit/NumberField.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";

interface AttemptActionsProps {
  chosen: AttemptRow[];
  running: AttemptRow[];
  act(attemptIds: string[], act: AttemptAct): Promise<number>;
  onDone(): void;
}
type Asked = AttemptAct["kind"];

const words: Record<Asked, { press: string; title: string; strong: string }> = {
  "more time": { press: "More time", title: "More time", strong: "Give the time" },
  end: { press: "End now", title: "End attempts", strong: "End them" },
  reopen: { press: "Open again", title: "Open attempts again", strong: "Open them" },
  void: { press: "Make void", title: "Make attempts void", strong: "Make them void" },
};

export function AttemptActions({ chosen, running, act, onDone }: AttemptActionsProps) {
  const [asked, setAsked] = useState<Asked | null>(null);
  const among: Record<Asked, AttemptRow[]> = {
    // Without a tick it is for all who work on it.
    "more time": (chosen.length > 0 ? chosen : running).filter((one) => one.endedAt === null && one.endsAt !== null),
    end: chosen.filter((one) => one.endedAt === null),
    reopen: chosen.filter((one) => one.endedAt !== null && one.endedHow !== "void"),
    void: chosen.filter((one) => one.endedHow !== "void"),
  };
  const kinds = Object.keys(words) as Asked[];
  return (
    <div className={base.bar}>
      <span className={base.soft}>
        {chosen.length > 0 ? `${plural(chosen.length, "attempt")} ticked:` : "Tick attempts, or give all that run"}
      </span>
      {kinds
        .filter((kind) => chosen.length > 0 || kind === "more time")
        .map((kind) => (
          <Button key={kind} isDisabled={among[kind].length === 0} onPress={() => setAsked(kind)}>
            {words[kind].press}
          </Button>
        ))}
      {asked && (
        <ActDialog
          asked={asked}
          attempts={among[asked]}
          act={act}
          onClose={() => setAsked(null)}
          onDone={() => {
            setAsked(null);
            onDone();
          }}
        />
      )}
    </div>
  );
}

interface ActDialogProps {
  asked: Asked;
  attempts: AttemptRow[];
  act(attemptIds: string[], act: AttemptAct): Promise<number>;
  onClose(): void;
  onDone(): void;
}

const explained: Record<Asked, string> = {
  "more time": "They have it at once, beyond every limit that is theirs.",
  end: "What is saved by now is handed in for them.",
  reopen: "They go on where they were; what they hand in then counts.",
  void: "It is as if it had not been: it counts for nothing, and they may begin another in its place. What was answered is kept.",
};

function ActDialog({ asked, attempts, act, onClose, onDone }: ActDialogProps) {
  const { store } = useWorkbench();
  const [minutes, setMinutes] = useState(10);
  const [reason, setReason] = useState("");
  const needsMinutes = asked === "more time" || asked === "reopen";
  const whole = (): AttemptAct => {
    if (asked === "more time" || asked === "reopen") return { kind: asked, minutes };
    return asked === "void" ? { kind: "void", reason: reason.trim() } : { kind: "end" };
  };
  const doIt = async () => {
    const ids = attempts.map(({ id }) => id);
    const done = await act(ids, whole());
    if (done > 0) store.tell("done", `${words[asked].title}: ${plural(done, "attempt")}.`);
    onDone();
  };
  return (
    <Dialog title={`${words[asked].title}: ${plural(attempts.length, "attempt")}`} onClose={onClose}>
      <SubmitForm onSubmit={() => void doIt()}>
        <p className={base.soft}>{explained[asked]}</p>
        {needsMinutes && (
          <div className={base.bar}>
            <NumberField label="Minutes" value={minutes} least={1} most={10_000} onChange={setMinutes} />
            <span>minutes</span>
          </div>
        )}
        {asked === "void" && (
          <TextField label="Why; whoever it is of reads it" value={reason} onChange={setReason} isRequired autoFocus />
        )}
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={asked === "void" && reason.trim() === ""}>
            {words[asked].strong}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
