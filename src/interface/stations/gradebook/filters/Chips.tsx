import { X } from "lucide-react";
import { type Filter, printFilter } from "../../../../core/gradebook/filter.ts";
import { Button } from "../../../kit/Button.tsx";
import styles from "./filters.module.css";

interface ChipsProps {
  filter: Filter;
  setText(text: string): void;
}

const partsOf = (filter: Filter): Filter[] =>
  filter.kind === "all" ? [] : filter.kind === "and" ? filter.parts : [filter];
const together = (parts: Filter[]): Filter =>
  parts.length === 0 ? { kind: "all" } : parts.length === 1 ? (parts[0] as Filter) : { kind: "and", parts };

/** The terms of the filter, side by side: each is turned round or taken out at a press. */
export function Chips({ filter, setText }: ChipsProps) {
  const parts = partsOf(filter);
  if (parts.length === 0) return null;
  const replace = (at: number, part: Filter | null) =>
    setText(printFilter(together(parts.flatMap((one, index) => (index === at ? (part ? [part] : []) : [one])))));
  return (
    <ul className={styles.chips} aria-label="Terms of the filter">
      {parts.map((part, at) => {
        const says = printFilter(part);
        return (
          <li key={says} className={styles.chip}>
            {part.kind === "asof" ? (
              <span>{says}</span>
            ) : (
              <button
                type="button"
                title="Turn it round"
                aria-label={`${says}. Turn it round`}
                onClick={() => replace(at, part.kind === "not" ? part.part : { kind: "not", part })}
              >
                {says}
              </button>
            )}
            <Button quiet aria-label={`Take ${says} out`} onPress={() => replace(at, null)}>
              <X size={13} aria-hidden />
            </Button>
          </li>
        );
      })}
    </ul>
  );
}
