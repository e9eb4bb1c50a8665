import styles from "./controls.module.css";

interface RowCheckProps {
  label: string;
  isSelected: boolean;
  /** `range`: with Shift, everything from the last one. */
  onChange(isSelected: boolean, range: boolean): void;
}

/** The box at the head of a row: the browser's own, since thousands of rows pass by as a list is scrolled. */
export const RowCheck = ({ label, isSelected, onChange }: RowCheckProps) => (
  <input
    type="checkbox"
    className={styles.rowCheck}
    aria-label={label}
    checked={isSelected}
    onChange={(event) => onChange(event.target.checked, (event.nativeEvent as MouseEvent).shiftKey === true)}
  />
);
