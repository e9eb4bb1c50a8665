import { type FocusEvent, type KeyboardEvent, useEffect, useRef, useState } from "react";
import { sayWall } from "../../../core/timing/wall.ts";
import { DateTime } from "../../kit/DateTime.tsx";
import base from "../station.module.css";
import styles from "./timing.module.css";

interface DateCellProps {
  label: string;
  /** What is set here; null where nothing is. */
  own: string | null;
  /** What holds without it. */
  falls: string | null;
  /** Where typing begins. */
  suggested: string;
  onChange(value: string | null): void;
}

/**
 * A date that is said until it is pressed, then typed; kept when the focus leaves or on Enter, put back on Escape. The
 * field lies over the table: nothing moves when it closes, so a press on another date hits that one.
 */
export function DateCell({ label, own, falls, suggested, onChange }: DateCellProps) {
  const [editing, setEditing] = useState(false);
  const [value, setValue] = useState<string | null>(null);
  const frame = useRef<HTMLDivElement>(null);
  const opener = useRef<HTMLButtonElement>(null);
  /** After a key ended the typing, the focus goes back to where it began. */
  const back = useRef(false);
  useEffect(() => {
    if (editing) frame.current?.querySelector<HTMLElement>("[role=spinbutton]")?.focus();
    else if (back.current) opener.current?.focus();
    back.current = false;
  }, [editing]);
  const say = (wall: string) => (wall === "none" ? "none" : sayWall(wall));

  const begin = () => {
    setValue(own && own !== "none" ? own : suggested === "none" ? null : suggested);
    setEditing(true);
  };
  const end = (keep: boolean) => {
    back.current = true;
    setEditing(false);
    if (keep && value !== null && value !== own) onChange(value);
  };
  const leave = (event: FocusEvent) => {
    if (!editing || frame.current?.contains(event.relatedTarget)) return;
    setEditing(false);
    if (value !== null && value !== own) onChange(value);
  };
  const key = (event: KeyboardEvent) => {
    if (event.key === "Enter") {
      event.preventDefault();
      end(true);
    } else if (event.key === "Escape") {
      event.stopPropagation();
      end(false);
    }
  };
  if (!editing) {
    return (
      <button
        type="button"
        ref={opener}
        className={`${base.plainButton} ${styles.date} ${own === null ? base.soft : ""}`}
        data-own={own !== null || undefined}
        onClick={begin}
        aria-label={`${label}: ${own ? say(own) : falls ? `${say(falls)}, as it falls` : "not set"}. Change it`}
      >
        {own ? say(own) : falls ? say(falls) : "set"}
      </button>
    );
  }
  return (
    // The keys and the leaving are those of the date's segments inside.
    // biome-ignore lint/a11y/noStaticElementInteractions: the segments are the controls
    <div ref={frame} className={styles.editor} onBlur={leave} onKeyDownCapture={key}>
      <DateTime
        label={label}
        hideLabel
        value={value}
        onChange={(next) => {
          setValue(next);
          if (next === null && own !== null) {
            setEditing(false);
            onChange(null);
          } else if (next === null) setEditing(false);
        }}
      />
    </div>
  );
}
