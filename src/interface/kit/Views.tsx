import { ToggleButtonGroup } from "react-aria-components";
import { Toggle } from "./Button.tsx";
import styles from "./controls.module.css";

interface ViewsProps<Value extends string> {
  /** Read out: what is chosen among. */
  label: string;
  value: Value;
  onChange(value: NoInfer<Value>): void;
  options: readonly { readonly value: Value; readonly label: string }[];
}

/** One of a few, side by side: the views of a station. */
export function Views<Value extends string>({ label, value, onChange, options }: ViewsProps<Value>) {
  return (
    <ToggleButtonGroup
      aria-label={label}
      className={styles.views as string}
      selectedKeys={[value]}
      disallowEmptySelection
      onSelectionChange={(keys) => onChange([...keys][0] as Value)}
    >
      {options.map((one) => (
        <Toggle
          key={one.value}
          id={one.value}
          // Arrow keys lead from one to the next, and choose it, as with any group of one choice.
          onFocus={({ relatedTarget, target }) => {
            const group = target.parentElement;
            if (one.value !== value && group && group !== relatedTarget && group.contains(relatedTarget))
              onChange(one.value);
          }}
        >
          {one.label}
        </Toggle>
      ))}
    </ToggleButtonGroup>
  );
}
