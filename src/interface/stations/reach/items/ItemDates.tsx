import { dayOf } from "../../../../core/clock/local-time.ts";
import type { Course, DateField, DateFields, ItemKind } from "../../../../core/plan/types.ts";
import { sayGiven } from "../../../../core/timing/commands.ts";
import { fieldTitle } from "../../../../core/timing/field-titles.ts";
import { type GivenValue, isMomentField } from "../../../../core/timing/resolving/resolve.ts";
import { readField, typedContext, writeField } from "../../../../core/timing/typing/typed.ts";
import { TextField } from "../../../kit/Fields.tsx";
import { limitsOf, momentsOf } from "./item-commands.ts";
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
}

interface Typing {
  kind: ItemKind;
  /** The dates and limits as they were. */
  own: DateFields;
  typed: Partial<Record<DateField, string>>;
  course: Course;
  t: number;
}
/** The dates and limits of an item of a kind, as they were and as they are typed. */
export function typedDates({ kind, own, typed, course, t }: Typing): TypedDates {
  const day = dayOf(t, course.timeZone);
  const fields = [...momentsOf(kind), ...limitsOf(kind)].map((field): TypedDate => {
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
  return { fields, dates: dates as DateFields, isWrong: fields.some(({ read }) => read !== null && "wrong" in read) };
}

const placeholderOf = (field: DateField): string =>
  isMomentField(field) ? "fri 5pm, m6 start" : field === "accessWord" ? "none" : "no limit";

interface ItemDatesProps {
  kind: ItemKind;
  dates: TypedDates;
  type(field: DateField, text: string): void;
}

/** When an item opens, is due and closes, and the limits of work, typed in plain words; groups may differ on Timing. */
export function ItemDates({ kind, dates, type }: ItemDatesProps) {
  return (
    <div className={styles.dates}>
      {dates.fields.map(({ field, text, read }) => {
        const value = read && "value" in read ? read.value : null;
        return (
          <TextField
            key={field}
            label={fieldTitle(field, kind)}
            value={text}
            onChange={(next) => type(field, next)}
            placeholder={placeholderOf(field)}
            hint={value === null ? undefined : sayGiven(value)}
            error={read && "wrong" in read ? read.wrong : false}
          />
        );
      })}
    </div>
  );
}
