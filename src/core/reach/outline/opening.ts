/** Opening to others what lives in a folder for some, and entrances that mean to. Source: semantics.md section 4. */
import { defineCommand, derivedId, put, refuse } from "../../plan/command.ts";
import { foldersAbove, lastPosition } from "../../plan/lookup.ts";
import { noProgress } from "../../plan/progress.ts";
import { type Condition, Id, type Item, Moment, type Plan, type Target } from "../../plan/types.ts";
import { isSubset, listBits } from "../../sets/bits.ts";
import { sayMoment } from "../../timing/anchors.ts";
import { reachAt } from "../reach.ts";
import { gone, titleOf } from "./check.ts";

const narrows = ({ audience }: Item): boolean => audience.to !== "everyone" || audience.minus.length > 0;

/** Whom an item was for, as targets: the one list that narrows it, or the people themselves where several do. */
function firstPeople(plan: Plan, item: Item, t: number): Target[] {
  const narrow = [item, ...foldersAbove(plan, item)].filter(narrows);
  const [only] = narrow;
  if (narrow.length === 1 && only && only.audience.to !== "everyone" && only.audience.minus.length === 0)
    return only.audience.to;
  const reach = reachAt(plan, noProgress, t);
  return listBits(reach.meant(item)).map((index) => ({ kind: "person", id: reach.students[index] as string }));
}

export const openingCommands = [
  defineCommand(
    "item.openToOthers",
    /** `parentId`: where those others are; `at`: null at once. */
    { itemId: Id, parentId: Id.nullable(), at: Moment.nullable() },
    {
      apply(plan, { id, itemId, parentId, at }, { now }) {
        const item = plan.items[itemId];
        if (!item) return gone();
        const into = parentId === null ? null : plan.items[parentId];
        if (into === undefined || (into && into.kind !== "folder"))
          return refuse("folder.gone", "The folder to open it in is no longer there.");
        if (parentId === item.parentId && !narrows(item))
          return refuse("open.there", `${item.title} is for whoever can enter this folder already.`);
        const first = firstPeople(plan, item, now);
        const later: Condition | null = at === null ? null : { kind: "from", moment: at };
        const opened: Item = {
          ...item,
          parentId,
          position: parentId === item.parentId ? item.position : lastPosition(plan, parentId),
          audience: { to: "everyone", minus: [] },
          // Its first people keep it as it was; to the rest it opens at the moment, whatever its own condition was.
          ...(later && {
            variants: [...item.variants, { targets: first, condition: item.condition }],
            condition: later,
          }),
        };
        const moved = put(plan, "items", [opened]);
        const door =
          parentId === item.parentId
            ? moved
            : put(moved, "entrances", [
                { id: derivedId(id, itemId), itemId, folderId: item.parentId, position: item.position },
              ]);
        const [before, after] = [reachAt(plan, noProgress, now), reachAt(door, noProgress, now)];
        if (!isSubset(before.meant(item), after.meant(opened)))
          return refuse(
            "open.loses",
            `Some whom ${item.title} is for now could not enter ${into ? into.title : "that folder"}, and would lose it. Choose a folder that both can enter.`,
          );
        return door;
      },
      describe: (plan, { itemId, parentId, at }) =>
        `Open ${titleOf(plan, itemId)} to ${parentId ? `whoever ${titleOf(plan, parentId)} is for` : "everyone"}${at === null ? "" : ` from ${sayMoment(at)}`}`,
    },
  ),
] as const;

/** Whether an extra entrance would show an item to people it is not meant for, so that making it asks what is wanted. */
export function entranceLeaks(plan: Plan, itemId: string, folderId: string | null, t: number): boolean {
  const item = plan.items[itemId];
  if (!item) return false;
  const entrance = { id: "tried", itemId, folderId, position: 0 };
  const tried = { ...plan, entrances: { ...plan.entrances, tried: entrance } };
  const [before, after] = [reachAt(plan, noProgress, t), reachAt(tried, noProgress, t)];
  return !isSubset(after.leak(item), before.leak(item));
}

/** Whether an extra entrance shows an item to nobody new: what is sealed stays sealed. */
export function entranceIsShut(plan: Plan, itemId: string, folderId: string | null, t: number): boolean {
  const item = plan.items[itemId];
  if (!item) return false;
  const reach = reachAt(plan, noProgress, t);
  const folder = folderId === null ? null : plan.items[folderId];
  const comes = folder ? reach.sees(folder) : reach.everyone;
  return !isSubset(comes, reach.meant(item));
}
