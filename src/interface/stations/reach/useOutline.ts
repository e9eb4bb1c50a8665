/** The rows of the crossings: the outline, folded and filtered. */
import { useMemo } from "react";
import { onceOfTwo } from "../../../core/memo.ts";
import { lookup, outlineOrder } from "../../../core/plan/lookup.ts";
import type { Item } from "../../../core/plan/types.ts";
import type { Finding } from "../../../core/reach/audit/finding.ts";
import { type Reach, reachAt } from "../../../core/reach/reach.ts";
import { type Bits, emptyBits, sameBits, setBit } from "../../../core/sets/bits.ts";
import { instantsOf } from "../../../core/timing/instants.ts";
import { useFindings, useReach, useWorkbench } from "../../workbench/context.tsx";
import type { Column } from "./columns.ts";
import { crossing } from "./crossings.ts";

export interface OutlineRow {
  item: Item;
  depth: number;
  /** How many lie in a folder. */
  children: number;
}
export type Show = "all" | "differs" | "week" | "problems";

const week = 7 * 24 * 3600_000;

/** Items of which somebody's reach changes by the clock within a week. */
function changingIn(reach: Reach): Set<string> {
  const { plan, t, rawProgress: given } = reach;
  const calendars = reach.calendars().map(({ calendar }) => calendar);
  const moments = instantsOf(plan, calendars).filter((at) => at > t && at <= t + week);
  const found = new Set<string>();
  for (const at of moments) {
    const then = reachAt(plan, given, at);
    if (then.students.length !== reach.students.length) continue;
    for (const item of Object.values(plan.items))
      if (!found.has(item.id) && !sameBits(then.sees(item), reach.sees(item))) found.add(item.id);
  }
  return found;
}

/** Who is stranded from each item, as bits of the reach. */
export function useStranded(): Map<string, Bits> {
  const reach = useReach();
  return strandedIn(useFindings().findings, reach);
}

// Of a large course thousands are stranded: what was found is known when one comes back to the station.
const strandedIn = onceOfTwo((findings: Finding[], { students, indexOf }: Reach): Map<string, Bits> => {
  const found = new Map<string, Bits>();
  for (const { kind, itemId, personIds } of findings) {
    if (kind !== "stranded" || !itemId) continue;
    const bits = emptyBits(students.length);
    for (const personId of personIds) {
      const index = indexOf.get(personId);
      if (index !== undefined) setBit(bits, index);
    }
    found.set(itemId, bits);
  }
  return found;
});

export function useOutline(
  columns: Column[],
  show: Show,
  folded: ReadonlySet<string>,
  stranded: Map<string, Bits>,
): OutlineRow[] {
  const { plan } = useWorkbench();
  const reach = useReach();
  const audit = useFindings();
  return useMemo(() => {
    const { children } = lookup(plan);
    const all = outlineOrder(plan).map(({ item, depth }) => ({
      item,
      depth,
      children: children.get(item.id)?.length ?? 0,
    }));
    if (show === "all") {
      const hidden = new Set<string>();
      return all.filter(({ item }) => {
        const shut = item.parentId !== null && (folded.has(item.parentId) || hidden.has(item.parentId));
        if (shut) hidden.add(item.id);
        return !shut;
      });
    }
    if (show === "problems") {
      const wrong = new Set(audit.findings.filter(({ accepted }) => !accepted).map(({ itemId }) => itemId));
      return all.filter(({ item }) => wrong.has(item.id));
    }
    if (show === "week") {
      const changing = changingIn(reach);
      return all.filter(({ item }) => changing.has(item.id));
    }
    return all.filter(({ item }) => {
      const crossings = columns
        .map(({ members }) => crossing(reach, item, members, stranded.get(item.id)))
        .filter(({ members }) => members > 0)
        .map(({ kind, open, members }) => `${kind} ${kind === "partly" ? open / members : ""}`);
      return new Set(crossings).size > 1;
    });
  }, [plan, reach, columns, show, folded, stranded, audit.findings]);
}
