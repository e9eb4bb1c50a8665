/** Dates and limits of several items at once, for everyone or for some. */
import { useState } from "react";
import type { DateField, Item, Target } from "../../../../core/plan/types.ts";
import { setting } from "../../../../core/timing/typing/pasted-dates.ts";
import { Button } from "../../../kit/Button.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { Targets } from "../../Targets.tsx";
import { ItemDates, typedDates } from "./ItemDates.tsx";

export function DatesDialog({ items, onClose }: { items: Item[]; onClose(): void }) {
  const { store, plan, t } = useWorkbench();
  const [typed, setTyped] = useState<Partial<Record<DateField, string>>>({});
  const [targets, setTargets] = useState<Target[]>([]);
  // Fields that some of them have: a limit means nothing where there is no quiz.
  const kind =
    items.find((item) => item.kind === "quiz")?.kind ??
    (items.every((item) => item.kind === "event") ? "event" : "assignment");
  const dates = typedDates({ kind, own: {}, typed, course: plan.course, t });
  const set = Object.fromEntries(
    dates.fields.flatMap(({ field, read }) =>
      read && "value" in read && read.value !== null ? [[field, read.value]] : [],
    ),
  );
  const draft = () => {
    const itemIds = items.map(({ id }) => id);
    const whom = targets.length === 0 ? [null] : targets;
    if (store.draft(whom.map((target) => setting(itemIds, target, set)))) onClose();
  };
  const says = items.length === 1 ? (items[0]?.title ?? "") : plural(items.length, "item");
  return (
    <Dialog title={`Dates: ${says}`} onClose={onClose}>
      <SubmitForm onSubmit={draft}>
        <ItemDates kind={kind} dates={dates} type={(field, text) => setTyped({ ...typed, [field]: text })} />
        <p className={base.soft}>What is left empty stays as it is on each of them.</p>
        <Targets label="For some alone (empty: for everyone)" targets={targets} onChange={setTargets} />
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={dates.isWrong || Object.keys(set).length === 0}>
            Draft the dates
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
