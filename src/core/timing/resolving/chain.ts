/**
 * Why a date is what it is for one student: base, overrides and allowances in the order of the rules, each with
 * whether it holds, and if not, what beat it. For staff. Source: semantics.md section 6, steps 1 to 4.
 */
import { lookup, targetName } from "../../plan/lookup.ts";
import type { Allowance, DateField, Item, Override, Plan, Target } from "../../plan/types.ts";
import { allowedBy, type Candidate, comesBefore, type Value } from "./decide.ts";
import {
  candidatesAmong,
  type GivenValue,
  type Memberships,
  type ResolvedField,
  resolveField,
  theirs,
  valueFor,
} from "./resolve.ts";

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

/** What the steps of one field are told of. */
interface Told {
  plan: Plan;
  field: DateField;
  resolved: ResolvedField;
  /** The overrides that set it for the student. */
  candidates: Candidate[];
}

/** Why an override of a group or section that sets the field lost to the one that won. */
function beaten({ plan, field, candidates, resolved }: Told, one: Candidate): string {
  const winner = candidates.find(({ override }) => sameTarget(resolved.origin.target, override.target)) as Candidate;
  const name = targetName(plan, winner.override.target);
  if (winner.override.target.kind === "person") return final;
  const by = comesBefore(plan, field, winner, one);
  if (by === "no word") return `no word, as for ${name}, beats any word`;
  if (by === "layer") return `${name} comes first in the order of layers`;
  return by === "group" ? `${name} comes first in its layer` : `not more generous than for ${name}`;
}
const final = "the student's own is final";

/** Why the override that holds does. */
function whyItHolds({ plan, field }: Told, { override, value }: Candidate, setting: number): string {
  if (override.target.kind === "person") return final;
  if (setting === 1) return "it is the only override that sets it";
  if (field === "accessWord" && value === "none") return "no word beats any word";
  return plan.course.datePolicy === "layer order" || field === "accessWord"
    ? "it comes first in the order of layers"
    : "it is the most generous";
}

function baseStep({ resolved }: Told, given: GivenValue, value: Value): ChainStep {
  const isOverridden = resolved.origin.kind !== "base";
  const otherwise = resolved.undated ? "there is no such meeting" : "nothing else sets it";
  return {
    kind: "base",
    id: null,
    target: null,
    given,
    value,
    holds: !isOverridden && !resolved.undated,
    why: isOverridden ? "an override sets it" : otherwise,
  };
}

function overrideSteps(told: Told, setting: Override[]): ChainStep[] {
  const { field, resolved, candidates } = told;
  const rank = ({ target }: Override) => Number(target.kind === "person");
  return [...setting]
    .sort((a, b) => rank(a) - rank(b))
    .map((override): ChainStep => {
      const { id, target } = override;
      const one = candidates.find((candidate) => candidate.override === override);
      const holds = one !== undefined && sameTarget(resolved.origin.target, target);
      const why = () => (holds ? whyItHolds(told, one, setting.length) : beaten(told, one as Candidate));
      return {
        kind: target.kind === "person" ? "person" : "override",
        id,
        target,
        given: override.dates[field] as GivenValue,
        value: one?.value ?? null,
        holds,
        why: one ? why() : "there is no such meeting, so it sets nothing",
      };
    });
}

/** Why an allowance that holds nothing here does not. */
function whyNotAdded({ origin, value }: ResolvedField): string {
  if (origin.kind === "person") return final;
  if (value === null) return "there is no date to add to";
  return value === "none" ? "none stays none" : "a larger one holds";
}

function allowanceStep({ resolved }: Told, allowance: Allowance): ChainStep {
  const holds = resolved.origin.allowances.includes(allowance);
  return {
    kind: "allowance",
    id: allowance.id,
    target: allowance.target,
    given: null,
    value: holds ? resolved.value : null,
    holds,
    why: holds ? "added at the end" : whyNotAdded(resolved),
  };
}

/** The chain of one field of an item for one student; empty where nobody ever set it. */
export function chainOf(plan: Plan, item: Item, memberships: Memberships, field: DateField): Chain {
  const resolved = resolveField(plan, item, memberships, field);
  const [overrides, allowances] = theirs(plan, item, memberships);
  const setting = overrides.filter(({ dates }) => dates[field] !== undefined);
  const told: Told = { plan, field, resolved, candidates: candidatesAmong(plan, setting, field, memberships) };
  const given = item.dates[field];
  const steps = [
    ...(given === undefined ? [] : [baseStep(told, given, valueFor(given, memberships, plan))]),
    ...overrideSteps(told, setting),
  ];
  if (steps.length === 0) return { value: null, steps };
  const adding = allowances.filter((one) => allowedBy(one, field) > 0);
  return { value: resolved.value, steps: [...steps, ...adding.map((one) => allowanceStep(told, one))] };
}

/** Fields of an item that anything sets for anyone. */
export const isSetAnywhere = (plan: Plan, item: Item, field: DateField): boolean =>
  item.dates[field] !== undefined ||
  (lookup(plan).overridesOfItem.get(item.id) ?? []).some(({ dates }) => dates[field] !== undefined);
