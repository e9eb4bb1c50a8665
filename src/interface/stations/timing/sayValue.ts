import type { DateField } from "../../../core/plan/types.ts";
import { sayGiven } from "../../../core/timing/commands.ts";
import type { GivenValue } from "../../../core/timing/resolving/resolve.ts";

export const fieldNames: Record<DateField, string> = {
  opens: "Opens",
  due: "Due",
  closes: "Closes",
  attempts: "Attempts",
  minutes: "Minutes",
  accessWord: "Access word",
};

/** A date or limit in words. */
export const sayValue = (value: GivenValue | null): string => (value === null ? "not set" : sayGiven(value));
