/** Names for many groups at once, and a group's people in parts. Source: semantics.md section 3. */

import type { Forming } from "../../plan/forming.ts";
import { compareText, homeEnrolment } from "../../plan/lookup.ts";
import type { Plan } from "../../plan/types.ts";
import { groupNames } from "../forming/names.ts";

/** What each group would be called: the number, or the list of topics, begins anew in each scope. */
export function namesFor(
  plan: Plan,
  groupIds: readonly string[],
  names: Forming["names"],
): { groupId: string; name: string }[] {
  const chosen = new Set(groupIds);
  const layerId = plan.groups[groupIds[0] ?? ""]?.layerId;
  const taken = new Set(
    Object.values(plan.groups)
      .filter((group) => group.layerId === layerId && group.archivedAt === null && !chosen.has(group.id))
      .map(({ name }) => name.toLowerCase()),
  );
  const scopes = new Map<string | null, string[]>();
  for (const id of groupIds) {
    const scope = plan.groups[id]?.scopeGroupId ?? null;
    scopes.set(scope, [...(scopes.get(scope) ?? []), id]);
  }
  const named = new Map<string, string>();
  for (const [scope, ids] of scopes) {
    const made = groupNames(names, plan.groups[scope ?? ""]?.name ?? "", ids.length, taken);
    for (const [at, id] of ids.entries()) named.set(id, made[at] as string);
  }
  return groupIds.map((groupId) => ({ groupId, name: named.get(groupId) as string }));
}

/** The name with the first number, from two on, that makes it one which is not taken. */
export function freeName(name: string, taken: readonly string[]): string {
  const folded = new Set(taken.map((other) => other.toLowerCase()));
  let number = 2;
  while (folded.has(`${name} ${number}`.toLowerCase())) number++;
  return `${name} ${number}`;
}

/** People dealt out in turn, so that sizes differ by at most one; the first part is who stays. */
export const evenParts = (personIds: readonly string[], parts: number): string[][] =>
  Array.from({ length: parts }, (_, part) => personIds.filter((_person, at) => at % parts === part));

/** People by the value that something has for each of them, in the order of the values. */
export function partsBy(personIds: readonly string[], keyOf: (personId: string) => string): Map<string, string[]> {
  const parts = new Map<string, string[]>();
  for (const id of personIds) {
    const value = keyOf(id);
    parts.set(value, [...(parts.get(value) ?? []), id]);
  }
  return new Map([...parts].sort(([a], [b]) => compareText(a, b)));
}

export const sectionOf = (plan: Plan, personId: string, t: number): string =>
  plan.sections[homeEnrolment(plan, personId, t)?.sectionId ?? ""]?.code ?? "";
