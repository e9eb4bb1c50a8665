import { parseDateTime } from "@internationalized/date";
import { X } from "lucide-react";
import { DateField, DateInput, DateSegment, I18nProvider, Label } from "react-aria-components";
import { Button } from "./Button.tsx";
import styles from "./controls.module.css";

interface DateTimeProps {
  label: string;
  hideLabel?: boolean;
  /** Wall-clock text, or null where unset. */
  value: string | null;
  onChange(value: string | null): void;
  /** There is always a moment: it is changed, never unset. */
  isRequired?: boolean;
}

/** A wall-clock date and time, typed in segments; the cross unsets it. */
export function DateTime({ label, hideLabel, value, onChange, isRequired }: DateTimeProps) {
  return (
    <div className={styles.dateRow}>
      <I18nProvider locale="en-GB">
        <DateField
          className={styles.field as string}
          granularity="minute"
          hourCycle={24}
          value={value ? parseDateTime(value) : null}
          onChange={(date) => onChange(date ? date.toString().slice(0, 16) : null)}
        >
          <Label className={hideLabel ? "visually-hidden" : styles.label}>{label}</Label>
          <DateInput className={styles.dateInput as string}>
            {(segment) => <DateSegment segment={segment} className={styles.segment as string} />}
          </DateInput>
        </DateField>
      </I18nProvider>
      {value !== null && !isRequired && (
        <Button quiet aria-label={`Unset ${label}`} onPress={() => onChange(null)}>
          <X size={14} aria-hidden />
        </Button>
      )}
    </div>
  );
}
