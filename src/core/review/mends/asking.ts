/** Mends of what is asked about: a copy for the group left out, a narrower audience. */
import { lookup } from "../../plan/lookup.ts";
import type { Target } from "../../plan/types.ts";
import { copiesIn, layerOfCopies, namedIn } from "../../reach/audit/asks.ts";
import { targetKey } from "../../reach/mentions.ts";
import { type Candidate, change, type ItemCase } from "./candidate.ts";

/** Narrowed to the one group or section that its title names. */
export function ofOneGroup({ plan, item }: ItemCase): Candidate[] {
  const [named] = namedIn(plan)(item.title);
  return named ? [change(`Make it for ${named.name} only`, item, { audience: { to: [named.target], minus: [] } })] : [];
}

/** Narrowed to whom everything beside it is for. */
export function ofNeighbours({ plan, item }: ItemCase): Candidate[] {
  const beside = (lookup(plan).children.get(item.parentId) ?? []).filter(({ id }) => id !== item.id);
  const targets = beside.flatMap(({ audience }) => (audience.to === "everyone" ? [] : audience.to));
  const to = [...new Map(targets.map((one) => [targetKey(one), one])).values()];
  return [change("Make it for those whom its neighbours are for", item, { audience: { to, minus: [] } })];
}

/** One of the copies is for the groups without one as well. */
export function ofLeftOut({ reach, item }: ItemCase): Candidate[] {
  const copies = copiesIn(reach).find((items) => items[0]?.id === item.id);
  const left = (copies && layerOfCopies(reach, copies)?.left) ?? [];
  if (left.length === 0) return [];
  const { audience } = item;
  const more = left.map(({ id }): Target => ({ kind: "group", id }));
  const to = [...(audience.to === "everyone" ? [] : audience.to), ...more];
  return [
    change(`Make ${item.title} for ${left.map(({ name }) => name).join(" and ")} too`, item, {
      audience: { ...audience, to },
    }),
  ];
}
