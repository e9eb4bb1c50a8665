import { useState } from "react";
import { dayOf } from "../../../../core/clock/local-time.ts";
import type { DateField, DateFields, ItemKind } from "../../../../core/plan/types.ts";
import { sayGiven } from "../../../../core/timing/commands.ts";
import type { MomentField } from "../../../../core/timing/resolving/resolve.ts";
import { fieldTitle } from "../../../../core/timing/typing/dates-file.ts";
import { readField, writeField } from "../../../../core/timing/typing/typed.ts";
import { TextField } from "../../../kit/Fields.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import styles from "./items.module.css";

const due = new Set<ItemKind>(["discussion", "assignment", "quiz"]);
/** The dates that mean something for a kind. An event starts at what others call due. */
export const momentsOf = (kind: ItemKind): MomentField[] =>
  kind === "event" ? ["due", "closes"] : due.has(kind) ? ["opens", "due", "closes"] : ["opens", "closes"];
const usualTimes: Partial<Record<DateField, string>> = { opens: "09:00", due: "23:59", closes: "23:59" };

interface DatesProps {
  kind: ItemKind;
  dates: DateFields;
  /** `isWrong`: something that is typed is no date. */
  onChange(dates: DateFields, isWrong: boolean): void;
}

/** When an item opens, is due and closes, typed in plain words; groups and persons may differ on Timing. */
export function ItemDates({ kind, dates, onChange }: DatesProps) {
  const { plan, t } = useWorkbench();
  const [typed, setTyped] = useState<Partial<Record<DateField, string>>>({});
  const { course } = plan;
  const today = dayOf(t, course.timeZone);
  const context = (field: DateField) => ({
    course,
    today: today >= course.termStart && today <= course.termEnd ? today : course.termStart,
    from: null,
    usualTime: kind === "event" ? "10:00" : (usualTimes[field] ?? "09:00"),
  });
  const read = (field: MomentField, text: string) => readField(field, text, context(field));
  const change = (field: MomentField, text: string) => {
    const next = { ...typed, [field]: text };
    setTyped(next);
    const changed: Record<string, unknown> = { ...dates };
    const found = read(field, text);
    if ("value" in found) {
      if (found.value === null) delete changed[field];
      else changed[field] = found.value;
    }
    const isWrong = momentsOf(kind).some((one) => next[one] !== undefined && "wrong" in read(one, next[one]));
    onChange(changed as DateFields, isWrong);
  };
  return (
    <div className={styles.dates}>
      {momentsOf(kind).map((field) => {
        const text = typed[field];
        const found = text === undefined ? null : read(field, text);
        const value = found && "value" in found ? found.value : null;
        return (
          <TextField
            key={field}
            label={fieldTitle(field, kind)}
            value={text ?? writeField(dates[field] ?? null)}
            onChange={(next) => change(field, next)}
            placeholder="fri 5pm, m6 start"
            hint={value === null ? undefined : sayGiven(value)}
            error={found && "wrong" in found ? found.wrong : false}
          />
        );
      })}
    </div>
  );
}
