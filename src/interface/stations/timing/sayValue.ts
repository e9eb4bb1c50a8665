import { sayGiven } from "../../../core/timing/commands.ts";
import type { GivenValue } from "../../../core/timing/resolving/resolve.ts";

export { fieldTitle, fieldTitles as fieldNames } from "../../../core/timing/field-titles.ts";

/** A date or limit in words. */
export const sayValue = (value: GivenValue | null): string => (value === null ? "not set" : sayGiven(value));
