import { Check, ChevronsUpDown, Minus } from "lucide-react";
import type { ReactNode } from "react";
import {
  Checkbox as AriaCheckbox,
  TextField as AriaTextField,
  Button,
  type CheckboxProps,
  Input,
  Label,
  ListBox,
  ListBoxItem,
  Popover,
  Select,
  SelectValue,
  Text,
  TextArea,
  type TextFieldProps,
} from "react-aria-components";
import styles from "./controls.module.css";

interface TextProps extends Omit<TextFieldProps, "className" | "children"> {
  label: string;
  /** The label is read out but not shown. */
  hideLabel?: boolean;
  hint?: ReactNode;
  error?: ReactNode;
  lines?: number;
  placeholder?: string;
}

export function TextField({ label, hideLabel, hint, error, lines, placeholder, ...props }: TextProps) {
  return (
    <AriaTextField {...props} isInvalid={Boolean(error)} className={styles.field as string}>
      <Label className={hideLabel ? "visually-hidden" : styles.label}>{label}</Label>
      {lines ? (
        <TextArea rows={lines} className={styles.input} placeholder={placeholder} />
      ) : (
        <Input className={styles.input} placeholder={placeholder} />
      )}
      {hint && !error && (
        <Text slot="description" className={styles.hint}>
          {hint}
        </Text>
      )}
      {error && (
        <Text slot="errorMessage" className={styles.error}>
          {error}
        </Text>
      )}
    </AriaTextField>
  );
}

export interface Option<Value extends string> {
  value: Value;
  label: string;
  aside?: ReactNode;
  picture?: ReactNode;
}

interface ChoiceProps<Value extends string> {
  label: string;
  hideLabel?: boolean;
  options: Option<Value>[];
  value: Value | null;
  onChange(value: NoInfer<Value>): void;
  placeholder?: string;
}

/** One of several, from a list. */
export function Choice<Value extends string>({
  label,
  hideLabel,
  options,
  value,
  onChange,
  placeholder,
}: ChoiceProps<Value>) {
  return (
    <Select
      value={value}
      onChange={(key) => key !== null && onChange(String(key) as Value)}
      className={styles.field as string}
      placeholder={placeholder ?? "Choose"}
    >
      <Label className={hideLabel ? "visually-hidden" : styles.label}>{label}</Label>
      <Button className={styles.select as string}>
        <SelectValue className={styles.value as string} />
        <ChevronsUpDown size={14} aria-hidden />
      </Button>
      <Popover className={styles.popover as string}>
        <ListBox className={styles.list as string} items={options.map((option) => ({ ...option, id: option.value }))}>
          {(option) => (
            <ListBoxItem className={styles.option as string} id={option.value} textValue={option.label}>
              {option.picture}
              {option.label}
              {option.aside !== undefined && <span className={styles.aside}>{option.aside}</span>}
            </ListBoxItem>
          )}
        </ListBox>
      </Popover>
    </Select>
  );
}

export function Checkbox({
  children,
  ...props
}: Omit<CheckboxProps, "children" | "className"> & { children?: ReactNode }) {
  return (
    <AriaCheckbox {...props} className={styles.check as string}>
      {({ isSelected, isIndeterminate }) => (
        <>
          <span className={styles.box} aria-hidden>
            {isIndeterminate ? <Minus size={14} strokeWidth={3} /> : isSelected && <Check size={14} strokeWidth={3} />}
          </span>
          {children}
        </>
      )}
    </AriaCheckbox>
  );
}
