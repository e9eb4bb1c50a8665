/** Who leads which group. Source: semantics.md section 3. */
import { z } from "zod";
import { defineCommand, put, refuse } from "../../plan/command.ts";
import { compareNames, fullName, lookup } from "../../plan/lookup.ts";
import { Group, Id, type Person, type Plan } from "../../plan/types.ts";
import { plural } from "../../text/plural.ts";
import { chooseLeads } from "../forming/names.ts";
import { studentsOf } from "../membership.ts";

export interface LeadsOfGroup {
  groupId: string;
  personIds: string[];
}
export type HowToLead = "first by name" | "at random" | "nobody";

/**
 * One lead for each group of a layer, or none, among its students at t. Groups without students are left out, and
 * so are those that have it already. `seed`: the same one chooses the same people.
 */
export function leadsOfLayer(plan: Plan, layerId: string, how: HowToLead, { t, seed }: { t: number; seed: number }) {
  const groups = (lookup(plan).groupsOfLayer.get(layerId) ?? []).map((group) => ({
    group,
    people: studentsOf(plan, group.id, t)
      .map((id) => plan.people[id] as Person)
      .sort(compareNames)
      .map(({ id }) => id),
  }));
  const ids = groups.map(({ people }) => people);
  const atRandom = how === "at random" ? chooseLeads(ids, "random", {}, seed) : [];
  const wanted = (at: number): string[] =>
    how === "nobody" ? [] : how === "at random" ? (atRandom[at] ?? []) : (ids[at] ?? []).slice(0, 1);
  return groups.flatMap(({ group, people }, at): LeadsOfGroup[] => {
    const personIds = wanted(at);
    const isThere = group.leads.length === personIds.length && personIds.every((id) => group.leads.includes(id));
    return isThere || (people.length === 0 && how !== "nobody") ? [] : [{ groupId: group.id, personIds }];
  });
}

export const leadCommands = [
  defineCommand(
    "groups.leads",
    {
      leads: z
        .array(z.object({ groupId: Id, personIds: Group.shape.leads }))
        .min(1)
        .max(2000),
    },
    {
      apply(plan, { leads }) {
        if (leads.some(({ groupId }) => !plan.groups[groupId]))
          return refuse("group.gone", "The group is no longer there.");
        if (leads.some(({ personIds }) => personIds.some((id) => !plan.people[id])))
          return refuse("person.gone", "Somebody who was to lead is no longer in the course.");
        const rows = leads.map(({ groupId, personIds }) => ({ ...(plan.groups[groupId] as Group), leads: personIds }));
        return put(plan, "groups", rows);
      },
      describe(plan, { leads }) {
        const [first] = leads;
        if (!first || leads.length > 1) return `Leads of ${plural(leads.length, "group")}`;
        const name = plan.groups[first.groupId]?.name ?? "a removed group";
        const who = first.personIds.flatMap((id) => (plan.people[id] ? [fullName(plan.people[id] as Person)] : []));
        return who.length === 0
          ? `Nobody leads ${name}`
          : `${who.join(" and ")} ${who.length === 1 ? "leads" : "lead"} ${name}`;
      },
    },
  ),
] as const;
