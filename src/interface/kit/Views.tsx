import { ToggleButtonGroup } from "react-aria-components";
import { Toggle } from "./Button.tsx";
import styles from "./controls.module.css";

interface ViewsProps<Value extends string> {
  /** Read out: what is chosen among. */
  label: string;
  value: Value;
  onChange(value: NoInfer<Value>): void;
  options: readonly { readonly value: Value; readonly label: string }[];
  /** Whether arrow keys, which lead from one to the next, choose it: for what is looked at, never for what is drafted. */
  followsArrows?: boolean;
}

/** The key that was pressed last: the focus comes by Tab, too, which chooses nothing. */
let lastKey = "";
if (typeof window !== "undefined") {
  addEventListener(
    "keydown",
    ({ key }) => {
      lastKey = key;
    },
    true,
  );
  addEventListener(
    "pointerdown",
    () => {
      lastKey = "";
    },
    true,
  );
}

/** One of a few, side by side: the views of a station. */
export function Views<Value extends string>({
  label,
  value,
  onChange,
  options,
  followsArrows = false,
}: ViewsProps<Value>) {
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
          onFocus={() => {
            if (followsArrows && lastKey.startsWith("Arrow") && one.value !== value) onChange(one.value);
          }}
        >
          {one.label}
        </Toggle>
      ))}
    </ToggleButtonGroup>
  );
}
