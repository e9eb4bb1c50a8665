/** Items of which a draft changes what is asked, for whom or by which limits: whoever works on one meanwhile is told of. */
import { same } from "../plan/difference.ts";
import { changesSince } from "../plan/tables.ts";
import type { Plan } from "../plan/types.ts";

/** Ids of quizzes and assignments that a draft changes for somebody who may be working on them. */
export function itemsChanged(published: Plan, drafted: Plan): Set<string> {
  const found = new Set<string>();
  for (const [id, item] of Object.entries(published.items)) {
    const next = drafted.items[id];
    if (item !== next && !same(item, next)) found.add(id);
  }
  const overrides = [published.overrides, drafted.overrides];
  for (const [here, there] of [overrides, [...overrides].reverse()] as [Plan["overrides"], Plan["overrides"]][])
    for (const [id, override] of Object.entries(here))
      if (override !== there[id] && !same(override, there[id])) found.add(override.itemId);
  // Allowances follow somebody everywhere, and groups lead to limits of their own.
  const everywhere = (["allowances", "placements"] as const).some((name) => {
    const changes = changesSince(published, drafted, name);
    return changes === null ? published[name] !== drafted[name] : changes.size > 0;
  });
  if (everywhere) for (const id of Object.keys(published.items)) found.add(id);
  return found;
}
