/** Why a student can or cannot open an item, in the order in which the rules decide. Source: semantics.md 4, 5. */

import { sayInstant } from "../clock/local-time.ts";
import { once } from "../memo.ts";
import { foldersAbove, fullName, lookup, targetName } from "../plan/lookup.ts";
import type { Audience, Item, Plan } from "../plan/types.ts";
import { hasBit } from "../sets/bits.ts";
import { isolated } from "../text/names.ts";
import { resolveDates, resolvedInstant } from "../timing/resolving/resolve.ts";
import { conditionFor, judge, type Reason, stillNeeded } from "./conditions.ts";
import { futureOf } from "./future.ts";
import { isPublished, type Reach } from "./reach.ts";

/** `announced`: title and what is needed are shown, it cannot be opened. */
export type Visibility = "open" | "announced" | "hidden";

export interface Explanation {
  visibility: Visibility;
  leak: boolean;
  /** Each rule that was asked, in order, with its answer. */
  steps: { holds: boolean; says: string }[];
  reason: Reason | null;
  /** What an announced item still needs, in the student's words. */
  needs: string[];
}

/** Whom an audience is for, in words: "everyone", "Evening and North bank, not D1". */
export function sayAudience(plan: Plan, { to, minus }: Audience): string {
  const names = (targets: Audience["minus"]) => targets.map((target) => targetName(plan, target)).join(", ");
  const who = to === "everyone" ? "everyone" : to.length === 0 ? "nobody" : names(to);
  return minus.length > 0 ? `${who}, not ${names(minus)}` : who;
}

/**
 * Announced or veiled: while all but condition and opens is fulfilled, the item's own choice decides, as long as the
 * student may still come to see it.
 */
function announcement(
  reach: Reach,
  item: Item,
  index: number,
): { announced: boolean; reason: Reason | null; needs: string[] } {
  const { plan, progress, t } = reach;
  const memberships = reach.memberships(index);
  const condition = conditionFor(item, memberships);
  const reason = condition ? judge(condition, { plan, progress, memberships, t }) : null;
  const dates = resolveDates(plan, item, memberships);
  const opens = resolvedInstant(plan, dates, "opens");
  const closes = resolvedInstant(plan, dates, "closes");
  const waits = opens !== null && t < opens;
  const closed = !item.readableAfterClose && closes !== null && t >= closes;
  const sealed = foldersAbove(plan, item).every((folder) => !folder.seals || hasBit(reach.released(folder), index));
  const otherwise =
    isPublished(plan, item) &&
    hasBit(reach.audience(item), index) &&
    sealed &&
    hasBit(reach.arrives(item), index) &&
    !closed;
  const fails = waits || (reason !== null && !reason.holds);
  const mayCome = item.announced && otherwise && fails && mayComeTo(reach, item, index);
  const mayName = (itemId: string) => {
    const asked = plan.items[itemId];
    return asked !== undefined && (hasBit(reach.sees(asked), index) || mayComeTo(reach, asked, index));
  };
  const needs = mayCome && reason ? stillNeeded(reason, mayName) : [];
  if (mayCome && waits) needs.unshift(`opens ${sayInstant(opens, plan.course.timeZone)}`);
  return { announced: mayCome, reason, needs };
}

/** By the place of a student. */
const futuresOf = once((_: Reach) => new Map<number, (item: Item) => boolean>());
/** Whether a student may still come to see an item. */
function mayComeTo(reach: Reach, item: Item, index: number): boolean {
  const known = futuresOf(reach);
  const future = known.get(index) ?? futureOf(reach, reach.students[index] as string);
  known.set(index, future);
  return future(item);
}

/** How an item stands for one student, without the words. */
export function visibilityOf(reach: Reach, item: Item, index: number): { visibility: Visibility; needs: string[] } {
  if (hasBit(reach.sees(item), index)) return { visibility: "open", needs: [] };
  const { announced, needs } = announcement(reach, item, index);
  return announced ? { visibility: "announced", needs } : { visibility: "hidden", needs: [] };
}

export function explain(reach: Reach, item: Item, personId: string): Explanation | null {
  const index = reach.indexOf.get(personId);
  if (index === undefined) return null;
  const { plan, t } = reach;
  const { timeZone } = plan.course;
  const steps: Explanation["steps"] = [];
  const say = (holds: boolean, yes: string, no: string) => steps.push({ holds, says: holds ? yes : no });

  say(item.published, "It is published.", "It is not published.");
  say(
    hasBit(reach.audience(item), index),
    `It is for ${sayAudience(plan, item.audience)}, and that includes them.`,
    `It is for ${sayAudience(plan, item.audience)}, and that leaves them out.`,
  );
  const { announced, reason, needs } = announcement(reach, item, index);
  if (reason)
    say(
      reason.holds,
      `The release condition holds: ${reason.says}.`,
      `The release condition does not hold: ${reason.says}.`,
    );
  const dates = resolveDates(plan, item, reach.memberships(index));
  const opens = resolvedInstant(plan, dates, "opens");
  const closes = resolvedInstant(plan, dates, "closes");
  if (opens !== null) {
    const when = sayInstant(opens, timeZone);
    say(t >= opens, `It opened for them on ${when}.`, `It opens for them on ${when}.`);
  }
  if (closes !== null && !item.readableAfterClose) {
    const when = sayInstant(closes, timeZone);
    say(t < closes, `It closes for them on ${when}.`, `It closed for them on ${when}.`);
  }
  for (const folder of foldersAbove(plan, item)) {
    const published = folder.published;
    if (!published) say(false, "", `The folder ${folder.title} is not published and hides all beneath it.`);
    else if (folder.seals) {
      say(
        hasBit(reach.released(folder), index),
        `The folder ${folder.title} seals it, and is open to them.`,
        `The folder ${folder.title} seals it, and is closed to them (it is for ${sayAudience(plan, folder.audience)}).`,
      );
    } else {
      steps.push({
        holds: true,
        says: `The folder ${folder.title} does not seal its contents: it hides nothing by itself.`,
      });
    }
  }
  say(
    hasBit(reach.arrives(item), index),
    `They come to it ${entranceWords(reach, item, index)}.`,
    "No entrance leads them to it.",
  );
  const open = hasBit(reach.sees(item), index);
  const leak = open && !hasBit(reach.meant(item), index);
  if (leak) {
    const outside = foldersAbove(plan, item).find((folder) => !hasBit(reach.audience(folder), index));
    steps.push({
      holds: false,
      says: `It is a leak: its folder ${outside?.title ?? ""} is for ${outside ? sayAudience(plan, outside.audience) : "others"}.`,
    });
  }
  return {
    visibility: open ? "open" : announced ? "announced" : "hidden",
    leak,
    steps,
    reason,
    needs,
  };
}

function entranceWords(reach: Reach, item: Item, index: number): string {
  const { plan } = reach;
  const through = (folderId: string | null): string | null => {
    if (folderId === null) return "at the top of the outline";
    const folder = plan.items[folderId];
    return folder && hasBit(reach.sees(folder), index) ? `through the folder ${folder.title}` : null;
  };
  const homes = [item.parentId, ...(lookup(plan).entrancesOfItem.get(item.id) ?? []).map(({ folderId }) => folderId)];
  const words = homes.map(through).filter((way) => way !== null);
  return words.length > 0 ? words.join(", and ") : "through a course-wide index";
}

export const nameOf = (plan: Plan, personId: string): string => {
  const person = plan.people[personId];
  return person ? isolated(fullName(person)) : "somebody who was removed";
};
