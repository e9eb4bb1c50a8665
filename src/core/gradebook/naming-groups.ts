/** Saved filters that ask for groups. Source: semantics.md section 7. */
import type { Plan } from "../plan/types.ts";
import { type Filter, isMistake, parseFilter, quote } from "./filter.ts";

/** The filter that asks for a group by its name. */
export const groupFilter = (name: string): string => `group:${quote(name)}`;

const groupsIn = (filter: Filter): string[] =>
  filter.kind === "and" || filter.kind === "or"
    ? filter.parts.flatMap(groupsIn)
    : filter.kind === "not"
      ? groupsIn(filter.part)
      : filter.kind === "is" && filter.field === "group"
        ? [filter.value.toLowerCase()]
        : [];

/** The names of those filters that ask for one of some groups. */
export function filtersNaming(
  plan: Plan,
  groupIds: readonly string[],
  filters: readonly { name: string; text: string }[],
): string[] {
  const names = new Set(groupIds.map((id) => plan.groups[id]?.name.toLowerCase()));
  return filters
    .filter(({ text }) => {
      const filter = parseFilter(text);
      return !isMistake(filter) && groupsIn(filter).some((name) => names.has(name));
    })
    .map(({ name }) => name);
}
