/** Every override, with what each of its fields changes for whom, and what holds without it. Source: semantics.md section 6. */
import { compareText, lookup, outlineOrder, targetName } from "../../plan/lookup.ts";
import type { DateField, Item, Override, Plan, Target } from "../../plan/types.ts";
import { and, listBits } from "../../sets/bits.ts";
import type { StudentsAt } from "./memberships.ts";
import { dateFields, type GivenValue, resolveAmong, type Value } from "./resolve.ts";

export interface FieldEffect {
  field: DateField;
  /** As it was set: an anchor stays one. */
  value: GivenValue | null;
  /** Students for whom another value would hold without it. */
  changes: number;
  /** Why it changes nothing; null where it does. */
  idle: "superseded" | "the same without it" | "nobody is in it" | "its target is gone" | null;
  /** What those whom it changes go from and to, allowances and all, most of them first. */
  moves: { from: Value; to: Value; students: number }[];
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
  reach: StudentsAt,
  item: Item,
  override: Override,
  field: DateField,
  gone: ReadonlySet<string>,
): FieldEffect & { personIndexes: number[] } {
  const { plan } = reach;
  const all = lookup(plan).overridesOfItem.get(item.id) ?? [];
  const left = all.filter(({ id }) => !gone.has(id));
  const members = listBits(and(reach.members(override.target), reach.meant(item)));
  const moves = new Map<string, FieldEffect["moves"][number]>();
  const personIndexes: number[] = [];
  let decides = false;
  for (const index of members) {
    const memberships = reach.memberships(index);
    const now = resolveAmong(plan, item, memberships, field, all);
    const { target } = now.origin;
    decides ||= target?.kind === override.target.kind && target.id === override.target.id;
    const from = resolveAmong(plan, item, memberships, field, left).value;
    if (from === now.value) continue;
    personIndexes.push(index);
    const key = `${from} ${now.value}`;
    const move = moves.get(key) ?? { from, to: now.value, students: 0 };
    move.students++;
    moves.set(key, move);
  }
  const whyIdle = () => {
    if (!isThere(plan, override.target)) return "its target is gone";
    if (members.length === 0) return "nobody is in it";
    return decides ? "the same without it" : "superseded";
  };
  const idle = personIndexes.length > 0 ? null : whyIdle();
  return {
    field,
    value: override.dates[field] ?? null,
    changes: personIndexes.length,
    idle,
    moves: [...moves.values()].sort((a, b) => b.students - a.students),
    personIndexes,
  };
}

/** Every override in the order of the outline, by name; `without` more taken away at once than each alone. */
export function overrideEffects(reach: StudentsAt, without: ReadonlySet<string> = new Set()): OverrideEffect[] {
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
