/** On an item's card: for whom its dates and limits are otherwise, typed in a line, and taken away again. */
import { X } from "lucide-react";
import { useState } from "react";
import { otherwiseFor } from "../../../../core/line/dates-form.ts";
import { isNotUnderstood } from "../../../../core/line/names.ts";
import { lookup, targetName } from "../../../../core/plan/lookup.ts";
import type { DateField, Item } from "../../../../core/plan/types.ts";
import { Button } from "../../../kit/Button.tsx";
import { TextField } from "../../../kit/Fields.tsx";
import { onPastedLines } from "../../../kit/paste.ts";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import { CoordinatorOnly } from "../../../workbench/may.tsx";
import { useLineContext } from "../../../workbench/useLineContext.ts";
import base from "../../station.module.css";
import { TargetStripe } from "../../Targets.tsx";
import { fieldTitle, sayValue } from "../../timing/sayValue.ts";
import styles from "../reach.module.css";

const most = 8;

export function DiffersFor({ item }: { item: Item }) {
  const { store, plan } = useWorkbench();
  const overrides = lookup(plan).overridesOfItem.get(item.id) ?? [];
  const remove = (overrideIds: string[]) => store.draft([{ kind: "overrides.remove", overrideIds }]);
  return (
    <>
      <h4 className={styles.waysTitle}>Otherwise for</h4>
      <ul className={styles.otherwise}>
        {overrides.slice(0, most).map(({ id, target, dates }) => (
          <li key={id}>
            <span>
              <TargetStripe target={target} /> {targetName(plan, target)}:{" "}
              {Object.entries(dates)
                .map(
                  ([field, value]) => `${fieldTitle(field as DateField, item.kind).toLowerCase()} ${sayValue(value)}`,
                )
                .join(", ")}
            </span>
            <CoordinatorOnly>
              <Button quiet aria-label={`As for all others: ${targetName(plan, target)}`} onPress={() => remove([id])}>
                <X size={13} aria-hidden />
              </Button>
            </CoordinatorOnly>
          </li>
        ))}
        {overrides.length > most && <li className={base.soft}>and {overrides.length - most} more, under Timing</li>}
      </ul>
      <CoordinatorOnly>
        {overrides.length > 1 && (
          <Button quiet onPress={() => remove(overrides.map(({ id }) => id))}>
            The same for all again
          </Button>
        )}
        <DiffersForField item={item} />
      </CoordinatorOnly>
    </>
  );
}

/** "Day 2: due +1d, attempts 2", several with semicolons between them or pasted a line each; Enter drafts. */
function DiffersForField({ item }: { item: Item }) {
  const { store } = useWorkbench();
  const context = useLineContext();
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState("");
  const draft = () => {
    if (text.trim() === "") return;
    const read = otherwiseFor(context, item, text);
    if (isNotUnderstood(read)) {
      setWrong(`“${read.word}”: ${read.says} ${read.could.join(", ")}`.trim());
      return;
    }
    if (store.draft(read.commands)) setText("");
  };
  return (
    <SubmitForm onSubmit={draft}>
      <TextField
        label="A group, section or student, and what they have"
        value={text}
        onChange={(next) => {
          setText(next);
          setWrong("");
        }}
        onPaste={onPastedLines("; ", setText)}
        placeholder="Day 2: due +1d, attempts 2"
        error={wrong}
      />
    </SubmitForm>
  );
}
