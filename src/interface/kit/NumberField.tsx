import { useState } from "react";
import { TextField } from "./Fields.tsx";

interface NumberFieldProps {
  /** Read out, not shown: the sentence around it says what is counted. */
  label: string;
  value: number;
  least: number;
  most: number;
  /** Whether parts count. */
  decimal?: boolean;
  onChange(value: number): void;
}

/** A number within a sentence. What is typed stays as it is typed; it counts as soon as it is a number that may be. */
export function NumberField({ label, value, least, most, decimal, onChange }: NumberFieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const read = (text: string) => {
    const number = Number(text.trim().replace(",", "."));
    const may = text.trim() !== "" && number >= least && number <= most && (decimal || Number.isInteger(number));
    return may ? number : null;
  };
  return (
    <TextField
      label={label}
      hideLabel
      inputMode={decimal ? "decimal" : "numeric"}
      value={typed ?? String(value)}
      error={typed !== null && read(typed) === null ? `${least} to ${most}` : undefined}
      onChange={(text) => {
        setTyped(text);
        const number = read(text);
        if (number !== null) onChange(number);
      }}
      onBlur={() => setTyped(null)}
    />
  );
}
