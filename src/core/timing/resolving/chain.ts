/**
 * Why a date is what it is for one student: base, overrides and allowances in the order of the rules, each with
 * whether it holds, and if not, what beat it. For staff. Source: semantics.md section 6, steps 1 to 4.
 */
import { lookup, targetName } from "../../plan/lookup.ts";
import type { DateField, Item, Override, Plan, Target } from "../../plan/types.ts";
import { precedence } from "./precedence.ts";
import { allowedBy, type GivenValue, type Memberships, resolveField, theirs, type Value, valueFor } from "./resolve.ts";

export interface ChainStep {
  kind: "base" | "override" | "person" | "allowance";
  /** The override or allowance it is; null for the base. */
  id: string | null;
  target: Target | null;
  /** As it was set: an anchor stays one; null where nothing is set, and for allowances. */
  given: GivenValue | null;
  /** What it comes to for the student; null where it sets nothing. For an allowance that holds, the value with it. */
  value: Value;
  holds: boolean;
  /** Why it holds, or what beat it. */
  why: string;
}
export interface Chain {
  value: Value;
  steps: ChainStep[];
}

const sameTarget = (a: Target | null, b: Target) => a?.kind === b.kind && a.id === b.id;

/** Why an override of a group or section that sets the field lost to the one that won. */
function beaten(plan: Plan, field: DateField, one: Override, winner: Target, memberships: Memberships): string {
  const name = targetName(plan, winner);
  if (winner.kind === "person") return "the student's own is final";
  const values = [one, ...(lookup(plan).overridesOfItem.get(one.itemId) ?? [])];
  const won = values.find(({ target }) => sameTarget(winner, target));
  if (field === "accessWord" && won?.dates[field] === "none" && one.dates[field] !== "none")
    return `no word, as for ${name}, beats any word`;
  const [ours, best] = [precedence(plan, one.target, memberships), precedence(plan, winner, memberships)];
  if (field === "accessWord" || plan.course.datePolicy === "layer order") {
    if (best[0] < ours[0]) return `${name} comes first in the order of layers`;
    if (field === "accessWord") return `${name} comes first in its layer`;
  }
  return `not more generous than for ${name}`;
}

/** The chain of one field of an item for one student; empty where nobody ever set it. */
export function chainOf(plan: Plan, item: Item, memberships: Memberships, field: DateField): Chain {
  const resolved = resolveField(plan, item, memberships, field);
  const [overrides, allowances] = theirs(plan, item, memberships);
  const { kind, target: winner } = resolved.origin;
  const steps: ChainStep[] = [];
  const given = item.dates[field];
  if (given !== undefined)
    steps.push({
      kind: "base",
      id: null,
      target: null,
      given,
      value: valueFor(given, memberships, plan),
      holds: kind === "base" && !resolved.undated,
      why:
        kind !== "base"
          ? "an override sets it"
          : resolved.undated
            ? "there is no such meeting"
            : "nothing else sets it",
    });
  const setting = overrides.filter(({ dates }) => dates[field] !== undefined);
  const rank = ({ target }: Override) => Number(target.kind === "person");
  for (const override of setting.sort((a, b) => rank(a) - rank(b))) {
    const { target } = override;
    const value = valueFor(override.dates[field], memberships, plan);
    const holds = value !== null && sameTarget(winner, target);
    steps.push({
      kind: target.kind === "person" ? "person" : "override",
      id: override.id,
      target,
      given: override.dates[field] as GivenValue,
      value,
      holds,
      why:
        value === null
          ? "there is no such meeting, so it sets nothing"
          : !holds
            ? beaten(plan, field, override, winner as Target, memberships)
            : target.kind === "person"
              ? "the student's own is final"
              : setting.length === 1
                ? "it is the only override that sets it"
                : field === "accessWord" && value === "none"
                  ? "no word beats any word"
                  : plan.course.datePolicy === "layer order" || field === "accessWord"
                    ? "it comes first in the order of layers"
                    : "it is the most generous",
    });
  }
  if (steps.length === 0) return { value: null, steps };
  for (const allowance of allowances.filter((one) => allowedBy(one, field) > 0)) {
    const holds = resolved.origin.allowances.includes(allowance);
    steps.push({
      kind: "allowance",
      id: allowance.id,
      target: allowance.target,
      given: null,
      value: holds ? resolved.value : null,
      holds,
      why: holds
        ? "added at the end"
        : kind === "person"
          ? "the student's own is final"
          : resolved.value === null
            ? "there is no date to add to"
            : resolved.value === "none"
              ? "none stays none"
              : "a larger one holds",
    });
  }
  return { value: resolved.value, steps };
}

/** Fields of an item that anything sets for anyone. */
export const isSetAnywhere = (plan: Plan, item: Item, field: DateField): boolean =>
  item.dates[field] !== undefined ||
  (lookup(plan).overridesOfItem.get(item.id) ?? []).some(({ dates }) => dates[field] !== undefined);
