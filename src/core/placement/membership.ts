/** Who is in which group at a moment. Source: semantics.md section 3. */
import { sameList } from "../plan/difference.ts";
import { holdsAt, isStudentAt, lookup, rowsValidAt, studentsAt } from "../plan/lookup.ts";
import type { Group, Layer, Placement, Plan } from "../plan/types.ts";

export interface LayerCount {
  layer: Layer;
  groups: { group: Group; personIds: string[]; held: number }[];
  /** Students in no group of the layer. */
  unplaced: string[];
  /** Students in two or more groups of a layer that allows one. */
  inTwo: string[];
  held: number;
  placed: number;
  /** Sets that are kept apart and share a group all the same: the people of the set who do. */
  together: { groupId: string; personIds: string[] }[];
}

/** The groups that a layer has at t: those put away since are still there. */
export const groupsAt = (plan: Plan, layerId: string, t: number): Group[] =>
  (lookup(plan).allGroupsOfLayer.get(layerId) ?? []).filter(({ archivedAt }) => archivedAt === null || t < archivedAt);

const none: Placement[] = [];
/** Open placements of one group at t. */
export const placementsIn = (plan: Plan, groupId: string, t: number): readonly Placement[] =>
  rowsValidAt(lookup(plan).placementsOfGroup.get(groupId) ?? none, t);

/** Students of a group at t: whoever else is placed there is not counted. */
export const studentsOf = (plan: Plan, groupId: string, t: number): string[] => [
  ...new Set(
    placementsIn(plan, groupId, t)
      .map(({ personId }) => personId)
      .filter((personId) => isStudentAt(plan, personId, t)),
  ),
];

/** Open placements of a layer at t, of people with an open enrolment. */
export function placementsAt(plan: Plan, layerId: string, t: number): Placement[] {
  return groupsAt(plan, layerId, t).flatMap(({ id }) => placementsIn(plan, id, t));
}

interface Counted {
  layer: Layer;
  groups: Group[];
  placements: (readonly Placement[])[];
  count: LayerCount;
}
const counted = new WeakMap<readonly string[], Map<string, Counted>>();

/**
 * Students of each group of a layer at t, by name, with who is left over and what is wrong. Counted anew only where one
 * of its groups or who is in it has changed.
 */
export function countLayer(plan: Plan, layerId: string, t: number, students = studentsAt(plan, t)): LayerCount {
  const kept = counted.get(students) ?? new Map<string, Counted>();
  counted.set(students, kept);
  const layer = plan.layers[layerId] as Layer;
  const groups = groupsAt(plan, layerId, t);
  const placements = groups.map(({ id }) => placementsIn(plan, id, t));
  const ready = kept.get(layerId);
  if (ready?.layer === layer && sameList(ready.groups, groups) && sameList(ready.placements, placements))
    return ready.count;
  const count = countStudents(layer, groups, placements, students);
  kept.set(layerId, { layer, groups, placements, count });
  return count;
}

function countStudents(
  layer: Layer,
  groupsThen: Group[],
  placements: (readonly Placement[])[],
  students: readonly string[],
): LayerCount {
  // Nearly everybody is in one group of a layer: lists are made for the others alone.
  const groupOf = new Map<string, number>();
  const moreOf = new Map<string, number[]>();
  const groups = groupsThen.map((group) => ({ group, personIds: [] as string[], held: 0 }));
  placements.forEach((rows, at) => {
    for (const { personId, held } of rows) {
      const first = groupOf.get(personId);
      if (first === undefined) groupOf.set(personId, at);
      else if (first !== at && !moreOf.get(personId)?.includes(at))
        moreOf.set(personId, [...(moreOf.get(personId) ?? []), at]);
      if (held) (groups[at] as (typeof groups)[number]).held++;
    }
  });
  const unplaced: string[] = [];
  const inTwo: string[] = [];
  for (const personId of students) {
    const first = groupOf.get(personId);
    if (first === undefined) unplaced.push(personId);
    else groups[first]?.personIds.push(personId);
    const more = moreOf.size > 0 && moreOf.get(personId);
    if (!more) continue;
    for (const at of more) groups[at]?.personIds.push(personId);
    if (layer.rule !== "any number") inTwo.push(personId);
  }
  const together = groups.flatMap(({ group, personIds }) =>
    layer.keepApart
      .map((apart) => ({
        groupId: group.id,
        personIds: apart.filter((personId) => personIds.includes(personId)),
      }))
      .filter((pair) => pair.personIds.length > 1),
  );
  return {
    layer,
    groups,
    unplaced,
    inTwo,
    held: groups.reduce((sum, { held }) => sum + held, 0),
    placed: students.length - unplaced.length,
    together,
  };
}

/** Students enrolled in two or more sections at t with no home chosen. Source: semantics.md section 2. */
export function doubleEnrolled(plan: Plan, t: number): string[] {
  const { enrolmentsOfPerson } = lookup(plan);
  return studentsAt(plan, t).filter((personId) => {
    const open = (enrolmentsOfPerson.get(personId) ?? []).filter(
      (enrolment) => enrolment.role === "student" && enrolment.sectionId && holdsAt(enrolment, t),
    );
    return open.length > 1 && !open.some(({ home }) => home);
  });
}
