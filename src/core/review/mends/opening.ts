/** Mends of who can open what: leaks and whoever is stranded. */
import { foldersAbove, lookup } from "../../plan/lookup.ts";
import type { Audience, Target } from "../../plan/types.ts";
import { sweep } from "../../reach/audit/sweep.ts";
import { indexNames } from "../../reach/outline/settings.ts";
import { countBits, isEmpty, listBits } from "../../sets/bits.ts";
import { type Candidate, change, type ItemCase } from "./candidate.ts";
import { unconditional } from "./conditions.ts";

/** More persons than this are not named one by one. */
const mostPersons = 100;
const persons = (ids: string[]): Target[] => ids.map((id) => ({ kind: "person", id }));

/** A leak: seal, narrow, switch off the index, take the entrance away. */
export function ofLeak({ plan, item }: ItemCase): Candidate[] {
  const above = foldersAbove(plan, item);
  const doors = above.filter((folder) => !folder.seals);
  const narrow = above.find(({ audience }) => audience.to !== "everyone" || audience.minus.length > 0);
  const found: Candidate[] = doors.map((folder) => change(`Seal the folder ${folder.title}`, folder, { seals: true }));
  if (doors.length > 1)
    found.push({ ...change("Seal every folder above it", doors, { seals: true }), otherwise: true });
  if (narrow)
    found.push(
      change(`Narrow ${item.title} to whom ${narrow.title} is for`, item, {
        audience: narrowed(item.audience, narrow.audience),
      }),
    );
  const { indexes } = plan.course;
  for (const [key, name] of Object.entries(indexNames) as [keyof typeof indexNames, string][])
    if (indexes[key])
      found.push({
        says: `Switch off the index of ${name}`,
        commands: [{ kind: "course.indexes", indexes: { ...indexes, [key]: false } }],
      });
  for (const entrance of lookup(plan).entrancesOfItem.get(item.id) ?? []) {
    const from = entrance.folderId ? (plan.items[entrance.folderId]?.title ?? "a folder") : "the top of the outline";
    found.push({
      says: `Remove its entrance in ${from}`,
      commands: [{ kind: "entrance.remove", entranceId: entrance.id }],
    });
  }
  return found;
}

/** An item's audience within its folder's: the folder's, minus whomever either leaves out. */
const narrowed = (own: Audience, folder: Audience): Audience => ({
  to: own.to === "everyone" ? folder.to : own.to,
  minus: [
    ...own.minus,
    ...folder.minus.filter((one) => !own.minus.some(({ kind, id }) => kind === one.kind && id === one.id)),
  ],
});

/** Whoever is stranded gets in by a condition or a date less, or the item is no longer meant for them. */
export function ofStranded({ plan, reach, item, finding }: ItemCase): Candidate[] {
  const found: Candidate[] = [];
  if (item.condition || item.variants.length > 0)
    found.push(change("Remove its release condition", item, unconditional));
  if ((item.dates.opens || item.dates.closes || !item.readableAfterClose) && finding.personIds.length <= mostPersons)
    found.push({
      says: "Let them open it at any time",
      commands: finding.personIds.map((id) => ({
        kind: "override.set",
        itemIds: [item.id],
        target: { kind: "person", id },
        dates: { opens: "none", closes: "none" },
      })),
    });
  for (const folder of foldersAbove(plan, item).filter((one) => one.condition || one.variants.length > 0))
    found.push(change(`Remove the release condition of its folder ${folder.title}`, folder, unconditional));
  // Those who can reach it keep it, and for the others it is no longer meant.
  const ever = sweep(plan).ever.get(item.id);
  const groups = lookup(plan).layers.flatMap((layer) => lookup(plan).groupsOfLayer.get(layer.id) ?? []);
  const stranded = new Set(finding.personIds);
  const whole = groups.filter(({ id }) => {
    const members = listBits(reach.members({ kind: "group", id }));
    return members.length > 0 && members.every((index) => !stranded.has(reach.students[index] as string));
  });
  if (ever && !isEmpty(ever) && item.audience.to === "everyone") {
    const reached = countBits(reach.meant(item)) - finding.personIds.length;
    const one = whole.find(({ id }) => countBits(reach.members({ kind: "group", id })) === reached);
    if (one) {
      const to: Target[] = [{ kind: "group", id: one.id }];
      found.push(change(`Make it for ${one.name} only`, item, { audience: { to, minus: item.audience.minus } }));
    }
  }
  if (finding.personIds.length <= mostPersons)
    found.push(
      change(`Leave ${finding.personIds.length === 1 ? "that student" : "those students"} out of its audience`, item, {
        audience: { ...item.audience, minus: [...item.audience.minus, ...persons(finding.personIds)] },
      }),
    );
  return found;
}
