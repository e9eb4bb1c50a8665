/** The weave strip: how the people of each section run into the groups of a layer. */
import { homeEnrolment } from "../plan/lookup.ts";
import type { Plan } from "../plan/types.ts";
import type { LayerCount } from "./membership.ts";

export interface Bundle {
  /** Null for students without a section. */
  sectionId: string | null;
  /** Null for the unplaced. */
  groupId: string | null;
  personIds: string[];
  /** Lands elsewhere than its fellows: a small part of its section, in a group that is mostly of others. */
  stray: boolean;
}

/** Bundles of people from section to group, those of one section together. */
export function weave(plan: Plan, count: LayerCount, t: number): Bundle[] {
  const bundles = new Map<string, Bundle>();
  const add = (personId: string, groupId: string | null) => {
    const sectionId = homeEnrolment(plan, personId, t)?.sectionId ?? null;
    const key = `${sectionId}/${groupId}`;
    const bundle = bundles.get(key) ?? { sectionId, groupId, personIds: [], stray: false };
    bundle.personIds.push(personId);
    bundles.set(key, bundle);
  };
  for (const { group, personIds } of count.groups) for (const personId of personIds) add(personId, group.id);
  for (const personId of count.unplaced) add(personId, null);

  const total = (same: (bundle: Bundle) => boolean) =>
    [...bundles.values()].filter(same).reduce((sum, { personIds }) => sum + personIds.length, 0);
  for (const bundle of bundles.values()) {
    if (bundle.groupId === null) continue;
    const group = total((other) => other.groupId === bundle.groupId);
    const section = total((other) => other.sectionId === bundle.sectionId);
    bundle.stray = bundle.personIds.length * 4 < section && bundle.personIds.length * 4 < group;
  }
  return [...bundles.values()];
}
