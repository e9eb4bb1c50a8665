/** Conditions in words, as staff read them. Source: semantics.md section 5. */
import { targetName } from "../../plan/lookup.ts";
import type { Condition, Plan } from "../../plan/types.ts";
import { sayMoment } from "../../timing/anchors.ts";

/** One part of a condition, with its parts in brackets where it has some. */
export function sayPart(plan: Plan, condition: Condition): string {
  const title = (itemId: string) => plan.items[itemId]?.title ?? "a removed item";
  switch (condition.kind) {
    case "allOf":
    case "anyOf":
    case "noneOf": {
      const parts = condition.of.map((part) => ("of" in part ? `(${sayPart(plan, part)})` : sayPart(plan, part)));
      if (parts.length === 0)
        return { allOf: "all of nothing", anyOf: "any of nothing", noneOf: "none of nothing" }[condition.kind];
      return condition.kind === "noneOf"
        ? `none of: ${parts.join(", ")}`
        : parts.join(condition.kind === "allOf" ? " and " : " or ");
    }
    case "from":
      return `from ${sayMoment(condition.moment)}`;
    case "before":
      return `before ${sayMoment(condition.moment)}`;
    case "in":
      return condition.targets.length === 0
        ? "in no group"
        : `in ${condition.targets.map((target) => targetName(plan, target)).join(" or ")}`;
    case "atLeast":
      return `at least ${condition.percent} % on ${title(condition.itemId)}`;
    case "lessThan":
      return `less than ${condition.percent} % on ${title(condition.itemId)}`;
    case "handedIn":
      return `handed in ${title(condition.itemId)}`;
    case "opened":
      return `opened ${title(condition.itemId)}`;
    case "read":
      return `marked ${title(condition.itemId)} as read`;
  }
}
