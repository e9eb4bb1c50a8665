/** What dates and limits are called on screens, in tables and in messages. */
import type { DateField, ItemKind } from "../plan/types.ts";

/** What each field is called at the head of a column. */
export const fieldTitles: Record<DateField, string> = {
  opens: "Opens",
  due: "Due",
  closes: "Closes",
  attempts: "Attempts",
  minutes: "Minutes",
  accessWord: "Password",
};
/** The same of an item: an event starts at what other items call due, and ends at what they call closes. */
export const fieldTitle = (field: DateField, kind: ItemKind | undefined): string =>
  kind === "event" && field === "due" ? "Starts" : kind === "event" && field === "closes" ? "Ends" : fieldTitles[field];
