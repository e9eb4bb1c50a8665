/** How an item stands for a group at their crossing. */
import type { Item } from "../../../core/plan/types.ts";
import { isPublished, type Reach } from "../../../core/reach/reach.ts";
import { and, andNot, type Bits, countBits } from "../../../core/sets/bits.ts";

export type CrossingKind = "open" | "hidden" | "partly" | "problem" | "empty";
export interface Crossing {
  kind: CrossingKind;
  members: number;
  open: number;
  /** Meant for it and not open now: opens later or on a condition. */
  later: number;
  leaks: number;
  /** Meant for it and never to reach it. */
  stranded: number;
}

/** `lost`: who is stranded from this item. */
export function crossing(reach: Reach, item: Item, members: Bits, lost: Bits | undefined): Crossing {
  const count = countBits(members);
  const open = countBits(and(reach.sees(item), members));
  const leaks = countBits(and(reach.leak(item), members));
  const stranded = lost ? countBits(and(lost, members)) : 0;
  const later = isPublished(reach.plan, item)
    ? countBits(and(andNot(reach.meant(item), reach.sees(item)), members))
    : 0;
  const kind =
    count === 0
      ? "empty"
      : leaks > 0 || stranded > 0
        ? "problem"
        : open === count
          ? "open"
          : open > 0 || later > 0
            ? "partly"
            : "hidden";
  return { kind, members: count, open, later, leaks, stranded };
}

/** The word at a crossing, for focus and for readers of the screen. */
export function sayCrossing({ kind, members, open, later, leaks, stranded }: Crossing): string {
  if (kind === "empty") return "nobody is in this group";
  if (leaks > 0) return `leak: ${leaks} of ${members} can open it and are not meant to`;
  if (stranded > 0) return `stranded: ${stranded} of ${members} can never reach it, open to ${open}`;
  if (kind === "open") return `open to all ${members}`;
  if (kind === "hidden") return `hidden from all ${members}`;
  if (open === 0) return `opens later or on a condition for ${later} of ${members}`;
  return `open to ${open} of ${members}${later > 0 ? `, later for ${later}` : ""}`;
}
