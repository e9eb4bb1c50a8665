/** More time, or anything else of dates and limits, for some people on one item: typed in a line and drafted. */

import { useState } from "react";
import { columnsOf } from "../../core/gradebook/cells.ts";
import { datesFor } from "../../core/line/dates-form.ts";
import { isNotUnderstood } from "../../core/line/names.ts";
import { fullName } from "../../core/plan/lookup.ts";
import { isolated } from "../../core/text/names.ts";
import { Button } from "../kit/Button.tsx";
import { Actions, Dialog } from "../kit/Dialog.tsx";
import { Choice, TextField } from "../kit/Fields.tsx";
import { SubmitForm } from "../kit/SubmitForm.tsx";
import { plural } from "../kit/words.ts";
import { useWorkbench } from "../workbench/context.tsx";
import { useLineContext } from "../workbench/useLineContext.ts";
import base from "./station.module.css";

interface MoreTimeProps {
  personIds: readonly string[];
  /** The item, where it is known; chosen in the dialog where it is not. */
  itemId: string | null;
  quiet?: boolean;
}

/** Beyond these an override a person is no way to do it: a group has one. */
const most = 200;

export function MoreTime(props: MoreTimeProps) {
  const { personIds, quiet = false } = props;
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button
        quiet={quiet}
        isDisabled={personIds.length === 0 || personIds.length > most}
        onPress={() => setOpen(true)}
      >
        More time
      </Button>
      {open && <MoreTimeDialog {...props} onClose={() => setOpen(false)} />}
    </>
  );
}

export function MoreTimeDialog({ personIds, itemId, onClose }: MoreTimeProps & { onClose(): void }) {
  const { store, plan } = useWorkbench();
  const context = useLineContext();
  const items = columnsOf(plan);
  const [chosen, setChosen] = useState(itemId ?? items[0]?.id ?? "");
  const [text, setText] = useState("due +1d");
  const item = plan.items[chosen];
  const targets = personIds.map((id) => ({ kind: "person" as const, id }));
  const read = datesFor(context, item ? [item] : [], targets, text);
  const commands = "commands" in read ? read.commands : [];
  const wrong = isNotUnderstood(read) ? `“${read.word || text}”: ${read.says}` : "";
  const draft = () => {
    if (store.draft(commands)) onClose();
  };
  const [only] = personIds.length === 1 ? personIds.flatMap((id) => plan.people[id] ?? []) : [];
  return (
    <Dialog
      title={`More time for ${only ? isolated(fullName(only)) : plural(personIds.length, "student")}`}
      onClose={onClose}
    >
      <SubmitForm onSubmit={draft}>
        {itemId === null ? (
          <Choice
            label="On"
            value={chosen}
            onChange={setChosen}
            options={items.map(({ id, title }) => ({ value: id, label: title }))}
          />
        ) : (
          <p>On {item?.title}.</p>
        )}
        <TextField label="What they have" value={text} onChange={setText} error={text === "" ? "" : wrong} autoFocus />
        <p className={base.soft}>
          Counted from what holds for each of them: due +1d, closes +2d, attempts +1, minutes 90; or a date.
        </p>
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={commands.length === 0}>
            Draft it
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
