/** Which groups an item is for: staff need not look at the others' threads or dates. Source: semantics.md section 4. */
import { foldersAbove } from "../plan/lookup.ts";
import type { Audience, Item, Plan } from "../plan/types.ts";
import { isEmpty, overlap } from "../sets/bits.ts";
import type { StudentsAt } from "../timing/resolving/memberships.ts";

/** Whether an audience is for whoever will be in a group, by name. */
const names = ({ sets }: Plan, { to, minus }: Audience, groupId: string): boolean => {
  const isNamed = (targets: typeof minus) =>
    targets.some(({ kind, id }) =>
      kind === "set" ? sets[id]?.groupIds.includes(groupId) : kind === "group" && id === groupId,
    );
  return (to === "everyone" || isNamed(to)) && !isNamed(minus);
};

/** Whether an item is meant for any student of a group; of a group that has none yet: whether it is for that group by name. */
export function isForGroup(reach: StudentsAt, item: Item, groupId: string): boolean {
  const members = reach.members({ kind: "group", id: groupId });
  if (!isEmpty(members)) return overlap(members, reach.meant(item));
  const { plan } = reach;
  return [item, ...foldersAbove(plan, item)].every(({ audience }) => names(plan, audience, groupId));
}
