import { useState } from "react";
import { DateTime } from "../kit/DateTime.tsx";

interface WhenProps {
  label: string;
  /** Of the field in the form. */
  name: string;
  /** The wall-clock moment to begin with. */
  wall: string;
}

/** A date and time in a form of a page: written as everywhere, not as the browser's own fields write it. */
export function WhenField({ label, name, wall }: WhenProps) {
  const [value, setValue] = useState(wall);
  return (
    <>
      <DateTime label={label} value={value} onChange={(next) => setValue(next ?? value)} isRequired />
      <input type="hidden" name={name} value={value} />
    </>
  );
}
