import {
  Button as AriaButton,
  ToggleButton as AriaToggle,
  type ButtonProps,
  type ToggleButtonProps,
} from "react-aria-components";
import styles from "./controls.module.css";

export function Button({
  strong,
  quiet,
  ...props
}: ButtonProps & { strong?: boolean; quiet?: boolean; className?: string }) {
  const kind = strong ? styles.strong : quiet ? styles.quiet : "";
  return <AriaButton {...props} className={`${styles.button} ${kind} ${props.className ?? ""}`} />;
}

export function Toggle(props: ToggleButtonProps & { className?: string }) {
  return <AriaToggle {...props} className={`${styles.button} ${props.className ?? ""}`} />;
}
