import { parseDate, parseDateTime, parseTime } from "@internationalized/date";
import { X } from "lucide-react";
import type { ReactNode } from "react";
import { DateField, DateInput, DateSegment, I18nProvider, Label, TimeField } from "react-aria-components";
import { intlTag, readersLocale } from "../../core/text/locale.ts";
import { Button } from "./Button.tsx";
import styles from "./controls.module.css";

interface DateTimeProps {
  label: string;
  hideLabel?: boolean;
  /** Text, or null where unset. */
  value: string | null;
  onChange(value: string | null): void;
  /** There is always a moment: it is changed, never unset. */
  isRequired?: boolean;
}

/** A clock of 12 or 24 hours where the reader chose one; otherwise the locale's. */
const clock = (): { hourCycle?: 12 | 24 } => {
  const { hours } = readersLocale();
  return hours === "usual" ? {} : { hourCycle: hours === "12" ? 12 : 24 };
};

/** The segments of a date or time, and the cross that unsets it. */
function Segments({ label, value, onChange, isRequired, children }: DateTimeProps & { children: ReactNode }) {
  return (
    <div className={styles.dateRow}>
      <I18nProvider locale={intlTag(readersLocale())}>{children}</I18nProvider>
      {value !== null && !isRequired && (
        <Button quiet aria-label={`Unset ${label}`} onPress={() => onChange(null)}>
          <X size={14} aria-hidden />
        </Button>
      )}
    </div>
  );
}

const Inside = ({ label, hideLabel }: Pick<DateTimeProps, "label" | "hideLabel">) => (
  <>
    <Label className={hideLabel ? "visually-hidden" : styles.label}>{label}</Label>
    <DateInput className={styles.dateInput as string}>
      {(segment) => <DateSegment segment={segment} className={styles.segment as string} />}
    </DateInput>
  </>
);

/** A wall-clock date and time, typed in segments; the cross unsets it. */
export function DateTime(props: DateTimeProps) {
  const { value, onChange } = props;
  return (
    <Segments {...props}>
      <DateField
        className={styles.field as string}
        granularity="minute"
        {...clock()}
        value={value ? parseDateTime(value) : null}
        onChange={(date) => onChange(date ? date.toString().slice(0, 16) : null)}
      >
        <Inside {...props} />
      </DateField>
    </Segments>
  );
}

/** A calendar day, `2026-10-05`. */
export function Day(props: DateTimeProps) {
  const { value, onChange } = props;
  return (
    <Segments {...props}>
      <DateField
        className={styles.field as string}
        value={value ? parseDate(value) : null}
        onChange={(date) => onChange(date ? date.toString() : null)}
      >
        <Inside {...props} />
      </DateField>
    </Segments>
  );
}

/** A time of day, `09:00`. */
export function TimeOfDay(props: DateTimeProps) {
  const { value, onChange } = props;
  return (
    <Segments {...props}>
      <TimeField
        className={styles.field as string}
        {...clock()}
        value={value ? parseTime(value) : null}
        onChange={(time) => onChange(time ? time.toString().slice(0, 5) : null)}
      >
        <Inside {...props} />
      </TimeField>
    </Segments>
  );
}
