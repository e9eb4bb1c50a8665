/** At which moment the groups of a filter are asked: as they are, as they were at each hand-in, or at a day's end. Source: semantics.md section 7. */
import { type Filter, printFilter } from "./filter.ts";

export type AsOf = "now" | "handin" | { day: string };

/** What a filter as a whole says of it; of terms in parentheses nothing is told. */
export function asOfFilter(filter: Filter): AsOf {
  const parts = filter.kind === "and" ? filter.parts : [filter];
  const found = parts.find((part) => part.kind === "asof");
  if (found?.kind !== "asof") return "now";
  return found.at === "handin" ? "handin" : { day: found.at };
}

/** The filter as text, asked at another moment; with nothing else in it, and as groups are, it is empty. */
export function withAsOf(filter: Filter, asOf: AsOf): string {
  const parts = (filter.kind === "and" ? filter.parts : [filter]).filter(
    ({ kind }) => kind !== "asof" && kind !== "all",
  );
  if (asOf !== "now") parts.push({ kind: "asof", at: asOf === "handin" ? "handin" : asOf.day });
  const [only] = parts;
  if (!only) return "";
  return printFilter(parts.length === 1 ? only : { kind: "and", parts });
}
