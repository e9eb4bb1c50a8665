/** What a draft adds to what the audit finds: what the review warns of before anything is published. Source: semantics.md sections 4 and 8. */
import type { Progress } from "../plan/progress.ts";
import type { Plan } from "../plan/types.ts";
import { type Audit, audit } from "../reach/audit/audit.ts";
import type { Finding } from "../reach/audit/finding.ts";
import { usualLayer } from "../reach/audit/sightlines.ts";
import { reachAt } from "../reach/reach.ts";
import { type SightlineChange, sightlineChange } from "./meetings.ts";

export interface Added {
  /** Students whom the draft newly strands. */
  stranded: number;
  /** Students whom it newly lets see what is not meant for them. */
  leaks: number;
  /** What is found that was not before, with the students whom it touches newly. */
  findings: Finding[];
  /** Between the groups that sightlines are counted between; null where there are none. */
  sightlines: SightlineChange | null;
}

export const nothingAdded: Added = { stranded: 0, leaks: 0, findings: [], sightlines: null };

export interface Drafted {
  published: Plan;
  /** The plan with what of the draft is to be published. */
  after: Plan;
  progress: Progress;
  /** The moment that is looked at, epoch milliseconds. */
  t: number;
  /** The layer between whose groups sightlines are counted; null for the usual one. */
  layerId: string | null;
  /** The audit of `after`, where it was made already. */
  made?: Audit;
}

/** What is found of a draft and was not found before it. */
export function addedBy({ published, after, progress, t, layerId, made }: Drafted): Added {
  const between = layerId ?? usualLayer(after);
  const before = audit(published, progress, t, between).findings;
  const { findings } = made ?? audit(after, progress, t, between, published);
  const known = new Map(before.map((one) => [one.key, one]));
  const isKnown = between !== null && published.layers[between] && after.layers[between];
  return {
    stranded: newlyTouched(before, findings, "stranded"),
    leaks: newlyTouched(before, findings, "leak"),
    findings: findings.flatMap((one) => asAdded(one, known.get(one.key)) ?? []),
    sightlines: isKnown ? sightlineChange(reachAt(published, progress, t), reachAt(after, progress, t), between) : null,
  };
}

/** How many students something of a kind touches that did not touch them before. */
function newlyTouched(before: Finding[], after: Finding[], kind: Finding["kind"]): number {
  const known = new Map(before.filter((one) => one.kind === kind).map((one) => [one.key, new Set(one.personIds)]));
  const found = after.filter((one) => one.kind === kind);
  return new Set(found.flatMap(({ key, personIds }) => personIds.filter((id) => !known.get(key)?.has(id)))).size;
}

/** A finding that was not there before, with whom it touches newly; null where it was, is a question, or was let stand. */
function asAdded(one: Finding, was: Finding | undefined): Finding | null {
  if (one.asks || one.accepted !== null || one.kind === "sightline" || one.kind === "moved earlier") return null;
  if (!was) return one;
  const there = new Set(was.personIds);
  const personIds = one.personIds.filter((id) => !there.has(id));
  return personIds.length > 0 ? { ...one, personIds } : null;
}
