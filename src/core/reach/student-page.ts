/**
 * What one student is shown, as values: the student's own page, look-through, indexes and item pages all render
 * these, so they cannot differ. Source: semantics.md sections 4 to 6 and 9.
 */

import { sayInstant } from "../clock/local-time.ts";
import { studentsOf } from "../placement/membership.ts";
import { compareNames, lookup, outlineOrder, studentsAt } from "../plan/lookup.ts";
import { type Progress, progressLookup } from "../plan/progress.ts";
import type { Group, Item, ItemKind, Person, Plan } from "../plan/types.ts";
import { hasBit } from "../sets/bits.ts";
import { wordsIn } from "../text/rich-text.ts";
import { answersShown } from "../timing/answers-shown.ts";
import { type ResolvedDates, resolveDates, resolvedInstant, toldOrigin } from "../timing/resolving/resolve.ts";
import { visibilityOf } from "./explain.ts";
import { groupsThen, isGroupWork, whyNotForGroup } from "./group-work.ts";
import { isWork, type Reach, reachAt } from "./reach.ts";

export interface ToldDate {
  field: "opens" | "due" | "closes" | "attempts" | "minutes";
  says: string;
  /** "for your section", "for Evening"; null where it is simply the date. */
  told: string | null;
  /** Epoch milliseconds; null for limits. */
  at: number | null;
}
export interface StudentEntry {
  id: string;
  title: string;
  kind: ItemKind;
  depth: number;
  /** Announced entries show title and needs, and lead nowhere. */
  visibility: "open" | "announced";
  needs: string[];
  dates: ToldDate[];
  handedIn: boolean;
}
export interface StudentItem extends StudentEntry {
  body: string;
  points: number | null;
  /**
   * Whether a hand-in is taken now, and if not why; `left`: how many more may be handed in, null where any number;
   * `together`: the labels of the groups whose one hand-in it is.
   */
  handIn: { taken: boolean; why: string; left: number | null; together: string[] } | null;
  /** Whether a post is taken now, and if not why; null where the item has no thread. */
  post: { taken: boolean; why: string } | null;
  /** Marked as read by the student; null where there is nothing to read. */
  read: boolean | null;
  file: Item["file"];
  /** Threads the student may read, where the item is split; null where it is one thread for all. */
  threads: { group: Pick<Group, "id" | "label" | "stripe">; own: boolean }[] | null;
  mark: { points: number | null; excused: boolean } | null;
}
export const indexKinds = ["discussions", "files", "calendar", "work"] as const;
export type IndexKind = (typeof indexKinds)[number];

export interface StudentPage {
  reach: Reach;
  /** The student's bit: 0 where the reach is of one student alone. */
  index: number;
  personId: string;
  /** Whether they are a visitor: nothing is handed in or marked. */
  visits?: boolean;
}

/** The page of one student at t, or null where the person is not a student of the course then. */
export function studentPage(plan: Plan, progress: Progress, personId: string, t: number): StudentPage | null {
  const reach = reachAt(plan, progress, t, [personId]);
  return reach.students.length === 1 ? { reach, index: 0, personId } : null;
}

function toldDates(plan: Plan, dates: ResolvedDates): ToldDate[] {
  const told: ToldDate[] = [];
  for (const field of ["opens", "due", "closes"] as const) {
    const at = resolvedInstant(plan, dates, field);
    if (at !== null)
      told.push({
        field,
        at,
        says: sayInstant(at, plan.course.timeZone),
        told: toldOrigin(plan, dates[field].origin),
      });
  }
  for (const field of ["attempts", "minutes"] as const) {
    const { value, origin } = dates[field];
    if (value !== null)
      told.push({
        field,
        at: null,
        says: value === "none" ? "no limit" : String(value),
        told: toldOrigin(plan, origin),
      });
  }
  return told;
}

/** An item as it stands in a list, or null where it is hidden from the student. */
export function studentEntry(page: StudentPage, item: Item, depth = 0): StudentEntry | null {
  const { reach, index, personId } = page;
  const { visibility, needs } = visibilityOf(reach, item, index);
  if (visibility === "hidden") return null;
  const handedIn = progressLookup(reach.progress).handIns(personId, item.id).length > 0;
  const { id, title, kind } = item;
  const dates = toldDates(reach.plan, resolveDates(reach.plan, item, reach.memberships(index)));
  return { id, title, kind, depth, visibility, needs, dates, handedIn };
}

/** The outline as the student walks it: contents stand under every folder that can be entered. */
export function studentOutline(page: StudentPage): StudentEntry[] {
  const { plan } = page.reach;
  const { children, entrancesInFolder } = lookup(plan);
  const entries: StudentEntry[] = [];
  /** What stands in a folder, in order: its own items, and those that have an entrance there. */
  const itemsIn = (folderId: string | null): (Item | undefined)[] => {
    const linked = (entrancesInFolder.get(folderId) ?? []).map(({ itemId, position }) => ({
      item: plan.items[itemId],
      position,
    }));
    const own = (children.get(folderId) ?? []).map((item) => ({ item, position: item.position }));
    return [...own, ...linked].sort((a, b) => a.position - b.position).map(({ item }) => item);
  };
  const walk = (folderId: string | null, depth: number, path: string[]) => {
    for (const item of itemsIn(folderId)) {
      const shown = item && !path.includes(item.id) ? studentEntry(page, item, depth) : null;
      if (!item || !shown) continue;
      entries.push(shown);
      if (item.kind === "folder" && shown.visibility === "open") walk(item.id, depth + 1, [...path, item.id]);
    }
  };
  walk(null, 0, []);
  return entries;
}

/** What a course-wide index lists for the student; null where it is switched off. */
export function studentIndex(page: StudentPage, kind: IndexKind): StudentEntry[] | null {
  const { plan } = page.reach;
  if (!plan.course.indexes[kind]) return null;
  const listed = (item: Item): boolean => {
    if (kind === "discussions") return item.kind === "discussion";
    if (kind === "files") return item.kind === "file";
    if (kind === "work") return isWork(item);
    return (
      item.kind === "event" ||
      resolvedInstant(plan, resolveDates(plan, item, page.reach.memberships(page.index)), "due") !== null
    );
  };
  return Object.values(plan.items)
    .filter(listed)
    .map((item) => studentEntry(page, item))
    .filter((shown) => shown !== null)
    .sort((a, b) => a.title.localeCompare(b.title));
}

/** Everything open that is due from t on, soonest first; what is due together by title. */
export function studentDue(page: StudentPage): StudentEntry[] {
  const due = ({ dates }: StudentEntry) => dates.find(({ field }) => field === "due")?.at ?? null;
  return Object.values(page.reach.plan.items)
    .filter((item) => item.kind !== "folder" && hasBit(page.reach.sees(item), page.index))
    .map((item) => studentEntry(page, item))
    .filter((shown) => shown !== null && !shown.handedIn && (due(shown) ?? -1) >= page.reach.t)
    .map((shown) => shown as StudentEntry)
    .sort((a, b) => (due(a) ?? 0) - (due(b) ?? 0) || a.title.localeCompare(b.title));
}

/** An item's page, or null where the student does not see the item: announced is not seen. */
export function studentItem(page: StudentPage, itemId: string): StudentItem | null {
  const { reach, index, personId } = page;
  const { plan, t } = reach;
  const item = plan.items[itemId];
  const shown = item && hasBit(reach.sees(item), index) ? studentEntry(page, item) : null;
  if (!item || !shown) return null;
  const mark = progressLookup(reach.progress).mark(personId, item.id);
  return {
    ...shown,
    body: item.body,
    points: item.points,
    handIn:
      item.kind === "assignment" && !page.visits
        ? { ...handInState(page, item), together: togetherIn(page, item) }
        : null,
    post: item.kind === "discussion" && !page.visits ? postState(page, item) : null,
    read: readKinds.has(item.kind) && !page.visits ? hasRead(page, item) : null,
    file: item.kind === "file" ? item.file : null,
    threads: threadsOf(page, item),
    mark: mark && mark.at <= t && isShown(page, item) ? { points: mark.points, excused: mark.excused } : null,
  };
}

/** Whether marks of an item are the student's to read already. */
export const isShown = ({ reach, index }: StudentPage, item: Item): boolean =>
  item.quiz === null || answersShown(reach.plan, item, reach.memberships(index), reach.t).shown;

function handInState(
  { reach, index, personId }: StudentPage,
  item: Item,
): { taken: boolean; why: string; left: number | null } {
  const { plan, progress, t } = reach;
  const dates = resolveDates(plan, item, reach.memberships(index));
  const attempts = dates.attempts.value;
  const used = progressLookup(progress).handIns(personId, item.id).length;
  const left = typeof attempts === "number" ? Math.max(0, attempts - used) : null;
  const not = (why: string) => ({ taken: false, why, left });
  const mayNot = isGroupWork(item) ? whyNotForGroup(plan, item, personId, t) : null;
  if (mayNot) return not(mayNot);
  const closes = resolvedInstant(plan, dates, "closes");
  if (closes !== null && t >= closes) return not(`It closed on ${sayInstant(closes, plan.course.timeZone)}.`);
  if (left === 0)
    return not(`${isGroupWork(item) ? "Your group has" : "You have"} used ${used} of ${attempts} attempts.`);
  return { taken: true, why: "", left };
}

/** The labels of the student's groups that hand an item in together; none where each does it alone. */
const togetherIn = ({ reach, personId }: StudentPage, item: Item): string[] =>
  isGroupWork(item)
    ? groupsThen(reach.plan, item.split?.layerId ?? "", personId, reach.t).flatMap(
        (id) => reach.plan.groups[id]?.label ?? [],
      )
    : [];

const readKinds = new Set<ItemKind>(["page", "file", "link"]);
function hasRead({ reach, personId }: StudentPage, item: Item): boolean {
  const readAt = progressLookup(reach.progress).opening(personId, item.id)?.readAt;
  return readAt != null && readAt <= reach.t;
}

/** Whoever sees a discussion may write in it until it closes; after that it is read only. */
function postState({ reach, index }: StudentPage, item: Item): { taken: boolean; why: string } {
  const { plan, t } = reach;
  const closes = resolvedInstant(plan, resolveDates(plan, item, reach.memberships(index)), "closes");
  if (closes !== null && t >= closes)
    return { taken: false, why: `It closed on ${sayInstant(closes, plan.course.timeZone)}. It can still be read.` };
  return { taken: true, why: "" };
}

/** Own threads; others' too where the split lets them be read. A student in none of the groups sees no thread. */
function threadsOf({ reach, index }: StudentPage, item: Item): StudentItem["threads"] {
  const { plan } = reach;
  if (!item.split || isGroupWork(item)) return null;
  const mine = reach.memberships(index).groupIds;
  const groups = lookup(plan).groupsOfLayer.get(item.split.layerId) ?? [];
  const placed = groups.some(({ id }) => mine.has(id));
  return groups
    .filter(({ id }) => mine.has(id) || (placed && item.split?.between !== "sealed"))
    .map(({ id, label, stripe }) => ({
      group: { id, label, stripe },
      own: mine.has(id) || item.split?.between === "shared",
    }));
}

/** Whether there is a class list for them. */
export const hasClassList = ({ reach, visits }: StudentPage): boolean =>
  !visits && reach.plan.course.classList.to !== "nobody";

/**
 * The class list as the student may see it, by name: everyone, those who share a group of a chosen layer, or nobody
 * (null, and so for visitors). Source: semantics.md section 4, who sees whom.
 */
export function studentClassList({ reach, index, personId, visits }: StudentPage): readonly string[] | null {
  const { plan, t } = reach;
  const { classList } = plan.course;
  if (visits || classList.to === "nobody") return null;
  if (classList.to === "everyone") return studentsAt(plan, t);
  const mine = reach.memberships(index).groupIds;
  const groups = (lookup(plan).groupsOfLayer.get(classList.layerId) ?? []).filter(({ id }) => mine.has(id));
  const ids = new Set([personId, ...groups.flatMap(({ id }) => studentsOf(plan, id, t))]);
  return [...ids].sort((a, b) => compareNames(plan.people[a] as Person, plan.people[b] as Person));
}

/** What holds every one of the words in its title, or, where it is open, in its text. */
export function studentSearch(page: StudentPage, words: string): StudentEntry[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  if (wanted.length === 0) return [];
  return outlineOrder(page.reach.plan)
    .filter(({ item }) => {
      const text = `${item.title} ${wordsIn(item.body)} ${item.file?.name ?? ""}`.toLowerCase();
      return wanted.every((word) => text.includes(word));
    })
    .map(({ item }) => studentEntry(page, item))
    .filter((shown) => shown !== null)
    .filter((shown) => shown.visibility === "open" || wanted.every((word) => shown.title.toLowerCase().includes(word)));
}

/** The student's groups of named layers: a private layer does not exist for students. */
export function studentGroups({
  reach,
  index,
}: StudentPage): { layer: string; group: Pick<Group, "id" | "label" | "stripe">; hasPage: boolean }[] {
  const { plan } = reach;
  const mine = reach.memberships(index).groupIds;
  return lookup(plan)
    .layers.filter((layer) => !layer.private)
    .flatMap((layer) =>
      (lookup(plan).groupsOfLayer.get(layer.id) ?? [])
        .filter(({ id }) => mine.has(id))
        .map(({ id, label, stripe, page }) => ({
          layer: layer.name,
          group: { id, label, stripe },
          hasPage: page !== null,
        })),
    );
}
