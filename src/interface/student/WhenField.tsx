import "../kit/page-locale.ts";
import { useState } from "react";
import { DateTime } from "../kit/DateTime.tsx";

interface WhenProps {
  label: string;
  /** Of the field in the form. */
  name: string;
  /** The wall-clock moment to begin with. */
  wall: string;
  /** Whether the label stands elsewhere on the page. */
  hideLabel?: boolean;
}

/** A date and time in a form of a page: written as everywhere, not as the browser's own fields write it. */
export function WhenField({ label, name, wall, hideLabel = false }: WhenProps) {
  const [value, setValue] = useState(wall);
  return (
    <>
      <DateTime
        label={label}
        hideLabel={hideLabel}
        value={value}
        onChange={(next) => setValue(next ?? value)}
        isRequired
      />
      <input type="hidden" name={name} value={value} />
    </>
  );
}
