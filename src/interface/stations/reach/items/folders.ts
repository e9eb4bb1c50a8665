import { outlineOrder } from "../../../../core/plan/lookup.ts";
import type { Plan } from "../../../../core/plan/types.ts";

export const top = "top";

/** Every folder to choose from, the top of the outline first, indented as they lie in each other. */
export const folderOptions = (
  plan: Plan,
  without: ReadonlySet<string> = new Set(),
): { value: string; label: string }[] => [
  { value: top, label: "Top of the outline" },
  ...outlineOrder(plan)
    .filter(({ item }) => item.kind === "folder" && !without.has(item.id))
    .map(({ item, depth }) => ({ value: item.id, label: `${"\u2003".repeat(depth)}${item.title}` })),
];
export const folderOf = (value: string): string | null => (value === top ? null : value);
