/** A layer on the wall: section by section, each section's students under their groups. Source: semantics.md section 3. */
import { compareNames, compareText, homeEnrolment, lookup, studentsAt } from "../plan/lookup.ts";
import type { Person, Plan, Stripe } from "../plan/types.ts";
import { placementsAt } from "./membership.ts";

export interface WallGroup {
  label: string;
  stripe: Stripe;
  /** Given name first, as they are called. */
  names: string[];
}
export interface WallSheet {
  /** The section's title as students know it. */
  title: string;
  groups: WallGroup[];
  /** Students of the section who are in none of the groups. */
  without: string[];
}

/** What hangs on the wall at t; null for a private layer, which never does. */
export function wallSheets(plan: Plan, layerId: string, t: number): WallSheet[] | null {
  const layer = plan.layers[layerId];
  if (!layer || layer.private || layer.archivedAt !== null) return null;
  const groupsOf = new Map<string, string[]>();
  for (const { personId, groupId } of placementsAt(plan, layerId, t))
    groupsOf.set(personId, [...(groupsOf.get(personId) ?? []), groupId]);
  const bySection = new Map<string | null, Person[]>();
  for (const id of studentsAt(plan, t)) {
    const section = homeEnrolment(plan, id, t)?.sectionId ?? null;
    bySection.set(section, [...(bySection.get(section) ?? []), plan.people[id] as Person]);
  }
  const name = ({ givenName, familyName }: Person) => `${givenName} ${familyName}`.trim();
  const sheets = [...bySection].map(([sectionId, people]): WallSheet & { code: string } => {
    const sorted = [...people].sort(compareNames);
    const groups = (lookup(plan).groupsOfLayer.get(layerId) ?? []).flatMap(({ id, label, stripe }) => {
      const names = sorted.filter((person) => groupsOf.get(person.id)?.includes(id)).map(name);
      return names.length > 0 ? [{ label, stripe, names }] : [];
    });
    const without = sorted.filter((person) => !groupsOf.has(person.id)).map(name);
    const section = plan.sections[sectionId ?? ""];
    return { code: section?.code ?? "", title: section?.studentTitle ?? "In no section", groups, without };
  });
  return sheets.sort((a, b) => compareText(a.code, b.code)).map(({ code: _code, ...sheet }) => sheet);
}
