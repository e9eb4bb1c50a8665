import { foldersAbove, targetName } from "../../../core/plan/lookup.ts";
import type { Item, Plan } from "../../../core/plan/types.ts";
import { sayNumber } from "../../../core/text/locale.ts";

/** For whom an item is, in a line: "Evening and 2 more, 39 of 104"; what its folder narrows is told as the folder's. */
export function sayForWhom(plan: Plan, item: Item, meant: number, students: number): string {
  if (meant === students && item.audience.to === "everyone" && item.audience.minus.length === 0) return "everyone";
  const count = `${sayNumber(meant)} of ${sayNumber(students)}`;
  const narrow = [item, ...foldersAbove(plan, item)].find(
    ({ audience }) => audience.to !== "everyone" || audience.minus.length > 0,
  );
  if (!narrow) return count;
  const { to, minus } = narrow.audience;
  const named = to === "everyone" ? minus : to;
  const [first] = named;
  if (!first) return `nobody, ${count}`;
  const more = named.length > 1 ? ` and ${named.length - 1} more` : "";
  const left = to === "everyone" ? "all but " : "";
  return `${left}${targetName(plan, first)}${more}, ${count}`;
}
