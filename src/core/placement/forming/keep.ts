/** Formed groups as rows of the plan: those that were there, and new ones with names, stripes and leads. */
import { lookup } from "../../plan/lookup.ts";
import { blankGroup, type Group, type Plan } from "../../plan/types.ts";
import { nextStripe } from "../stripes.ts";
import type { Formed } from "./form.ts";
import type { FormingInput } from "./input.ts";
import { chooseLeads, groupNames } from "./names.ts";

/** The names that each scope's groups have or would get, by scope and place. */
export function formedNames(plan: Plan, layerId: string | null, input: FormingInput, formed: Formed): string[][] {
  const own = layerId ? (lookup(plan).groupsOfLayer.get(layerId) ?? []) : [];
  const taken = new Set(own.map(({ name }) => name.toLowerCase()));
  return formed.scopes.map(({ groups }, at) => {
    const fresh = groups.filter(({ existing }) => existing === null);
    const names = groupNames(input.forming.names, input.scopes[at]?.name ?? "", fresh.length, taken);
    return groups.map(({ existing }) => (existing ? (plan.groups[existing]?.name ?? "") : (names.shift() as string)));
  });
}

/** What the command `layer.form` keeps. `makeId` names new groups. */
export function formedGroups(
  plan: Plan,
  layerId: string,
  input: FormingInput,
  formed: Formed,
  makeId: () => string,
): { group: Group; personIds: string[] }[] {
  const names = formedNames(plan, layerId, input, formed);
  const scopeLayer = plan.layers[input.forming.scopeLayerId ?? ""];
  // Nothing that students see may carry a name of a private layer: labels then count through all scopes.
  const labels =
    scopeLayer?.private && !plan.layers[layerId]?.private
      ? groupNames(input.forming.names, "", names.flat().length, new Set())
      : null;
  const all = [...(lookup(plan).groupsOfLayer.get(layerId) ?? [])];
  return formed.scopes.flatMap((scope, at) => {
    const leads = chooseLeads(
      scope.groups.map(({ people }) => people),
      input.forming.leads,
      input.led,
      formed.seed + at,
    );
    return scope.groups.map(({ existing, people }, place) => {
      const there = existing ? plan.groups[existing] : undefined;
      const name = names[at]?.[place] as string;
      const group: Group = there ?? {
        ...blankGroup,
        id: makeId(),
        layerId,
        position: all.length,
        name,
        label: labels?.shift() ?? name,
        stripe: nextStripe(name, all),
      };
      if (!there) all.push(group);
      return {
        group: {
          ...group,
          scopeGroupId: scope.groupId,
          leads:
            input.forming.leads === "none" ? group.leads.filter((id) => people.includes(id)) : (leads[place] ?? []),
        },
        personIds: people,
      };
    });
  });
}
