/** The flowsOf strip: how the people of each section run into the groups of a layer, and on into those of others. */
import { homeEnrolment } from "../plan/lookup.ts";
import type { Plan } from "../plan/types.ts";
import type { LayerCount } from "./membership.ts";

export interface Flow {
  /** The section or group that it comes from; null for students without one. */
  from: string | null;
  /** The group that it runs into; null for the unplaced. */
  to: string | null;
  personIds: string[];
  /** Lands elsewhere than its fellows: a small part of where it comes from, in a group that is mostly of others. */
  stray: boolean;
}

type MembershipOf = (personId: string) => readonly (string | null)[];

function flowsBy(people: Iterable<string>, from: MembershipOf, to: MembershipOf): Flow[] {
  const flows = new Map<string, Flow>();
  const sizes = { from: new Map<string | null, number>(), to: new Map<string | null, number>() };
  const count = (side: "from" | "to", id: string | null) => sizes[side].set(id, (sizes[side].get(id) ?? 0) + 1);
  for (const personId of people)
    for (const left of from(personId))
      for (const right of to(personId)) {
        const key = `${left}/${right}`;
        const flow = flows.get(key) ?? { from: left, to: right, personIds: [], stray: false };
        flow.personIds.push(personId);
        flows.set(key, flow);
        count("from", left);
        count("to", right);
      }
  for (const flow of flows.values()) {
    const few = flow.personIds.length * 4;
    flow.stray =
      flow.to !== null && few < (sizes.from.get(flow.from) as number) && few < (sizes.to.get(flow.to) as number);
  }
  return [...flows.values()];
}

/** The groups of each person in a layer; of the unplaced: null. */
function membershipIn({ groups }: LayerCount): MembershipOf {
  const found = new Map<string, string[]>();
  for (const { group, personIds } of groups)
    for (const id of personIds) found.set(id, [...(found.get(id) ?? []), group.id]);
  return (personId) => found.get(personId) ?? [null];
}

/** Everyone whom a layer counts: its students, placed or not. */
const peopleOf = ({ groups, unplaced }: LayerCount): Set<string> =>
  new Set([...groups.flatMap(({ personIds }) => personIds), ...unplaced]);

/** Flows of people from section to group, those of one section together. */
export const flowsOf = (plan: Plan, count: LayerCount, t: number): Flow[] =>
  flowsBy(peopleOf(count), (id) => [homeEnrolment(plan, id, t)?.sectionId ?? null], membershipIn(count));

/** Flows from the groups of one layer on into those of another. */
export const flowsBetween = (one: LayerCount, other: LayerCount): Flow[] =>
  flowsBy(peopleOf(one), membershipIn(one), membershipIn(other));
