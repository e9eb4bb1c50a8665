/** Mends of conditions and windows. */
import type { Condition } from "../../plan/types.ts";
import { pathOf } from "../../reach/audit/conditions.ts";
import { sweep } from "../../reach/audit/sweep.ts";
import { type Candidate, change, type ItemCase } from "./candidate.ts";

/** An item without any condition. */
export const unconditional = { condition: null, variants: [] };

export const ofCircle = ({ item }: ItemCase): Candidate[] => [
  change(`Remove the release condition of ${item.title}`, item, unconditional),
];

export const ofNoWindow = ({ item }: ItemCase): Candidate[] => [
  change("Keep it readable after it closes", item, { readableAfterClose: true }),
  {
    says: "Let it open and close at no given time",
    commands: [{ kind: "dates.set", itemIds: [item.id], dates: { opens: null, closes: null } }],
  },
];

/** The condition without the part at a path; null where nothing of it is left. */
function withoutPart(condition: Condition, part: Condition): Condition | null {
  if (condition === part) return null;
  if (!("of" in condition)) return condition;
  const of = condition.of.map((one) => withoutPart(one, part)).filter((one) => one !== null);
  return of.length === 0 ? null : { ...condition, of };
}

/** A part that never or always holds is taken out. */
export function ofBranch({ plan, item, finding }: ItemCase): Candidate[] {
  const path = finding.key.slice(finding.key.lastIndexOf("/") + 1);
  const part = sweep(plan).parts.find(
    (one) => one.item.id === item.id && pathOf(item, one.condition) === path,
  )?.condition;
  if (!part) return [];
  const without = (condition: Condition | null) => condition && withoutPart(condition, part);
  return [
    change("Remove this part of the condition", item, {
      condition: without(item.condition),
      variants: item.variants.map((variant) => ({ ...variant, condition: without(variant.condition) })),
    }),
  ];
}
