import type { DateField } from "../../../core/plan/types.ts";
import { sayWall } from "../../../core/timing/wall.ts";

export const fieldNames: Record<DateField, string> = {
  opens: "Opens",
  due: "Due",
  closes: "Closes",
  attempts: "Attempts",
  minutes: "Minutes",
  accessWord: "Access word",
};

/** A date or limit in words. */
export const sayValue = (value: string | number | null): string =>
  value === null
    ? "not set"
    : value === "none"
      ? "none"
      : /T/.test(String(value))
        ? sayWall(String(value))
        : String(value);
