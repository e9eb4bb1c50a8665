import { useState } from "react";
import { dayOf } from "../../../../core/clock/local-time.ts";
import type { DateField, DateFields, ItemKind } from "../../../../core/plan/types.ts";
import { sayGiven } from "../../../../core/timing/commands.ts";
import type { GivenValue } from "../../../../core/timing/resolving/resolve.ts";
import { fieldTitle } from "../../../../core/timing/typing/dates-file.ts";
import { readField, typedContext, writeField } from "../../../../core/timing/typing/typed.ts";
import { TextField } from "../../../kit/Fields.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import { momentsOf } from "./item-commands.ts";
import styles from "./items.module.css";

interface TypedDate {
  field: DateField;
  text: string;
  /** What it is read as; null where it stands as it was. */
  read: { value: GivenValue | null } | { wrong: string } | null;
}
export interface TypedDates {
  fields: TypedDate[];
  /** The dates and limits with what was typed. */
  dates: DateFields;
  /** Something that is typed is no date. */
  isWrong: boolean;
  type(field: DateField, text: string): void;
}

/** The dates of an item of a kind, as they were and as they are typed. */
export function useTypedDates(kind: ItemKind, own: DateFields): TypedDates {
  const { plan, t } = useWorkbench();
  const [typed, setTyped] = useState<Partial<Record<DateField, string>>>({});
  const { course } = plan;
  const day = dayOf(t, course.timeZone);
  const fields = momentsOf(kind).map((field): TypedDate => {
    const text = typed[field];
    if (text === undefined) return { field, text: writeField(own[field] ?? null), read: null };
    return { field, text, read: readField(field, text, typedContext({ course, day, field, kind })) };
  });
  const dates: Record<string, unknown> = { ...own };
  for (const { field, read } of fields) {
    if (!read || "wrong" in read) continue;
    if (read.value === null) delete dates[field];
    else dates[field] = read.value;
  }
  return {
    fields,
    dates: dates as DateFields,
    isWrong: fields.some(({ read }) => read !== null && "wrong" in read),
    type: (field, text) => setTyped({ ...typed, [field]: text }),
  };
}

/** When an item opens, is due and closes, typed in plain words; groups and persons may differ on Timing. */
export function ItemDates({ kind, typed }: { kind: ItemKind; typed: TypedDates }) {
  return (
    <div className={styles.dates}>
      {typed.fields.map(({ field, text, read }) => {
        const value = read && "value" in read ? read.value : null;
        return (
          <TextField
            key={field}
            label={fieldTitle(field, kind)}
            value={text}
            onChange={(next) => typed.type(field, next)}
            placeholder="fri 5pm, m6 start"
            hint={value === null ? undefined : sayGiven(value)}
            error={read && "wrong" in read ? read.wrong : false}
          />
        );
      })}
    </div>
  );
}

interface LimitsProps {
  dates: DateFields;
  onChange(dates: DateFields): void;
}

/** How often and how long a quiz can be taken; groups and persons may differ on Timing. */
export function QuizLimits({ dates, onChange }: LimitsProps) {
  const limit = (field: "attempts" | "minutes", text: string) => {
    const { [field]: _, ...rest } = dates;
    const number = Number(text);
    onChange(Number.isInteger(number) && number > 0 ? { ...rest, [field]: number } : rest);
  };
  const shown = (value: number | "none" | undefined) => (value === undefined || value === "none" ? "" : String(value));
  return (
    <div className={styles.pair}>
      {(["attempts", "minutes"] as const).map((field) => (
        <TextField
          key={field}
          label={fieldTitle(field, "quiz")}
          value={shown(dates[field])}
          onChange={(text) => limit(field, text)}
          inputMode="numeric"
          hint="Empty: no limit"
        />
      ))}
    </div>
  );
}
