/** Every override, with what each of its fields changes for whom, and what holds without it. Source: semantics.md section 6. */
import { compareText, lookup, outlineOrder, targetName } from "../../plan/lookup.ts";
import type { DateField, Item, Override, Plan, Target } from "../../plan/types.ts";
import { and, listBits } from "../../reach/bits.ts";
import type { Reach } from "../../reach/reach.ts";
import { dateFields, type GivenValue, resolveAmong, type Value } from "./resolve.ts";

export interface FieldEffect {
  field: DateField;
  /** As it was set: an anchor stays one. */
  value: GivenValue | null;
  /** Students for whom another value would hold without it. */
  changes: number;
  /** Why it changes nothing; null where it does. */
  idle: "superseded" | "the same without it" | "nobody is in it" | "its target is gone" | null;
  /** What would hold for those it changes, most of them first. */
  otherwise: { value: Value; students: number }[];
}
export interface OverrideEffect {
  override: Override;
  item: Item;
  name: string;
  fields: FieldEffect[];
  /** Students for whom any field would be another. */
  touches: number;
}

const isThere = (plan: Plan, { kind, id }: Target): boolean =>
  Boolean({ group: plan.groups, section: plan.sections, person: plan.people, set: plan.sets }[kind][id]);

/** What some overrides do together: as if all of them were taken away at once. */
function effectOf(
  reach: Reach,
  item: Item,
  override: Override,
  field: DateField,
  gone: ReadonlySet<string>,
): FieldEffect & { personIndexes: number[] } {
  const { plan } = reach;
  const all = lookup(plan).overridesOfItem.get(item.id) ?? [];
  const left = all.filter(({ id }) => !gone.has(id));
  const members = listBits(and(reach.members(override.target), reach.meant(item)));
  const otherwise = new Map<Value, number>();
  const personIndexes: number[] = [];
  let decides = false;
  for (const index of members) {
    const memberships = reach.memberships(index);
    const now = resolveAmong(plan, item, memberships, field, all);
    const { target } = now.origin;
    decides ||= target?.kind === override.target.kind && target.id === override.target.id;
    const then = resolveAmong(plan, item, memberships, field, left).value;
    if (then === now.value) continue;
    personIndexes.push(index);
    otherwise.set(then, (otherwise.get(then) ?? 0) + 1);
  }
  const idle =
    personIndexes.length > 0
      ? null
      : !isThere(plan, override.target)
        ? "its target is gone"
        : members.length === 0
          ? "nobody is in it"
          : decides
            ? "the same without it"
            : "superseded";
  return {
    field,
    value: override.dates[field] ?? null,
    changes: personIndexes.length,
    idle,
    otherwise: [...otherwise].map(([value, students]) => ({ value, students })).sort((a, b) => b.students - a.students),
    personIndexes,
  };
}

/** Every override in the order of the outline, by name; `without` more taken away at once than each alone. */
export function overrideEffects(reach: Reach, without: ReadonlySet<string> = new Set()): OverrideEffect[] {
  const { plan } = reach;
  return outlineOrder(plan).flatMap(({ item }) =>
    (lookup(plan).overridesOfItem.get(item.id) ?? [])
      .map((override): OverrideEffect => {
        const gone = new Set([...without, override.id]);
        const effects = dateFields
          .filter((field) => override.dates[field] !== undefined)
          .map((field) => effectOf(reach, item, override, field, gone));
        return {
          override,
          item,
          name: targetName(plan, override.target),
          fields: effects.map(({ personIndexes: _, ...effect }) => effect),
          touches: new Set(effects.flatMap(({ personIndexes }) => personIndexes)).size,
        };
      })
      .sort((a, b) => compareText(a.name, b.name)),
  );
}
