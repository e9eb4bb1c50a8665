/**
 * A new course shell out of an old plan: layers, groups, rules, outline, audiences, conditions, dates and settings, moved
 * onto a new term; people and what they did stay behind. What could not be carried is listed. Source: semantics.md
 * sections 1 and 6 to 8.
 */
import { v5 } from "uuid";
import type { z } from "zod";
import { addDays, daysBetween, mondayOf, sayDay } from "../clock/local-time.ts";
import { lookup } from "../plan/lookup.ts";
import {
  type Audience,
  type Condition,
  Course,
  type DateFields,
  emptyPlan,
  type Item,
  type Moment,
  type Override,
  type Plan,
  type Table,
  type Target,
} from "../plan/types.ts";
import { isAnchor } from "../timing/anchors.ts";
import type { MeetingDays } from "../timing/meetings.ts";

export const NewTerm = Course.pick({ code: true, title: true, term: true, termStart: true, termEnd: true }).extend({
  id: Course.shape.id,
  noClassDays: Course.shape.noClassDays,
});
export type NewTerm = z.infer<typeof NewTerm>;

export interface RolledOver {
  plan: Plan;
  /** What could not be carried, or is to be looked at, each in a sentence. */
  left: string[];
  /** New ids of rows by old ones. */
  idOf(oldId: string): string;
}

/** The plan of the new course. The same id of a course makes the same rows. */
export function rollOver(old: Plan, term: NewTerm): RolledOver {
  const left = new Set<string>();
  const idOf = (id: string) => v5(id, term.id);
  const byDays = daysBetween(mondayOf(old.course.termStart), mondayOf(term.termStart));
  const { layers, groupsOfLayer } = lookup(old);
  const groupIds = new Set(layers.flatMap(({ id }) => (groupsOfLayer.get(id) ?? []).map((group) => group.id)));
  const isCarried = ({ kind, id }: Target): boolean =>
    kind === "group" ? groupIds.has(id) : kind === "section" ? id in old.sections : kind === "set" && id in old.sets;
  const targets = (list: Target[]): Target[] => list.filter(isCarried).map(({ kind, id }) => ({ kind, id: idOf(id) }));
  const moment = (given: Moment): Moment => {
    if (!isAnchor(given)) return addDays(given, byDays);
    const { meeting, fallback } = given;
    return {
      ...given,
      meeting:
        typeof meeting === "number"
          ? meeting
          : { lastBefore: addDays(`${meeting.lastBefore}T00:00`, byDays).slice(0, 10) },
      fallback: fallback && addDays(fallback, byDays),
    };
  };
  const dates = (given: DateFields, title: string): DateFields => {
    const moved = { ...given };
    for (const field of ["opens", "due", "closes"] as const) {
      const value = given[field];
      if (value === undefined || value === "none") continue;
      const next = moment(value);
      moved[field] = next;
      if (isAnchor(next)) continue;
      const day = next.slice(0, 10);
      if (day < term.termStart || day > term.termEnd)
        left.add(`"${title}" ${field} on ${sayDay(day)}, outside the new term: look at it.`);
      else if (term.noClassDays.some((free) => free.day === day))
        left.add(`"${title}" ${field} on ${sayDay(day)}, a day without class: look at it.`);
    }
    return moved;
  };
  const condition = (one: Condition, title: string): Condition => {
    if ("of" in one) return { ...one, of: one.of.map((part) => condition(part, title)) };
    if ("moment" in one) return { ...one, moment: moment(one.moment) };
    if ("itemId" in one) return { ...one, itemId: idOf(one.itemId) };
    const kept = targets(one.targets);
    if (kept.length < one.targets.length)
      left.add(
        `A condition of "${title}" named people; it names ${kept.length === 0 ? "nobody" : "the others alone"} now.`,
      );
    return { ...one, targets: kept };
  };
  const audience = ({ to, minus }: Audience, title: string): Audience => {
    if (to === "everyone") return { to, minus: targets(minus) };
    const kept = targets(to);
    if (kept.length < to.length)
      left.add(
        kept.length === 0
          ? `"${title}" was for named people alone; it is for nobody now.`
          : `"${title}" was for named people too; it is for its groups and sections alone now.`,
      );
    return { to: kept, minus: targets(minus) };
  };

  /** Days without class, and meetings that were moved or added, are of their own term. */
  const bareDays = (
    name: string,
    { moved, added }: MeetingDays,
  ): Pick<MeetingDays, "noClassDays" | "moved" | "added"> => {
    if (moved.length + added.length > 0)
      left.add(`Meetings of ${name} that were moved or added by hand are not carried.`);
    return { noClassDays: [], moved: [], added: [] };
  };
  const plan = emptyPlan({ ...old.course, ...term });
  const fill = <Row extends { id: string }>(table: Table<Row>, rows: Row[]) => {
    for (const row of rows) table[row.id] = row;
  };
  fill(
    plan.sections,
    Object.values(old.sections).map((section) => {
      return { ...section, ...bareDays(section.code, section), id: idOf(section.id) };
    }),
  );
  fill(
    plan.layers,
    layers.map((layer) => {
      if (layer.forming) left.add(`How the groups of ${layer.name} were formed is not carried: form them again.`);
      if (layer.keepApart.length > 0) left.add(`Who is kept apart in ${layer.name} is not carried.`);
      if (layer.selfPlacement?.opens || layer.selfPlacement?.closes)
        left.add(`When students choose in ${layer.name} was moved with the term: look at it.`);
      const self = layer.selfPlacement;
      return {
        ...layer,
        id: idOf(layer.id),
        following:
          layer.following
            ?.filter(({ groupId }) => groupIds.has(groupId))
            .map((rule) => ({ ...rule, sectionIds: rule.sectionIds.map(idOf), groupId: idOf(rule.groupId) })) ?? null,
        keepApart: [],
        forming: null,
        selfPlacement: self && {
          ...self,
          opens: self.opens && addDays(self.opens, byDays),
          closes: self.closes && addDays(self.closes, byDays),
        },
      };
    }),
  );
  fill(
    plan.groups,
    [...groupIds].map((id) => {
      const group = old.groups[id] as Plan["groups"][string];
      const scope = group.scopeGroupId;
      return {
        ...group,
        ...bareDays(group.name, group),
        id: idOf(id),
        layerId: idOf(group.layerId),
        leads: [],
        code: null,
        scopeGroupId: scope && groupIds.has(scope) ? idOf(scope) : null,
      };
    }),
  );
  if ([...groupIds].some((id) => old.groups[id]?.code)) left.add("Codes of groups are not carried: make new ones.");
  fill(
    plan.sets,
    Object.values(old.sets).map((set) => ({
      ...set,
      id: idOf(set.id),
      groupIds: set.groupIds.filter((id) => groupIds.has(id)).map(idOf),
    })),
  );
  const layerOr = (id: string | null): string | null => (id && layers.some((one) => one.id === id) ? idOf(id) : null);
  fill(
    plan.items,
    Object.values(old.items).map((item): Item => {
      const { title } = item;
      if (item.combines.length > 0) left.add(`"${title}" held the work of earlier copies; that stays behind.`);
      const splitLayer = item.split && layerOr(item.split.layerId);
      return {
        ...item,
        id: idOf(item.id),
        parentId: item.parentId && idOf(item.parentId),
        audience: audience(item.audience, title),
        condition: item.condition && condition(item.condition, title),
        variants: item.variants.map((variant) => ({
          targets: targets(variant.targets),
          condition: variant.condition && condition(variant.condition, title),
        })),
        dates: dates(item.dates, title),
        split: item.split && splitLayer ? { ...item.split, layerId: splitLayer } : null,
        file: item.file && { ...item.file, id: idOf(item.file.id) },
        pageOf: item.pageOf && groupIds.has(item.pageOf) ? idOf(item.pageOf) : null,
        owners: [],
        combines: [],
      };
    }),
  );
  fill(
    plan.entrances,
    Object.values(old.entrances).map((one) => ({
      ...one,
      id: idOf(one.id),
      itemId: idOf(one.itemId),
      folderId: one.folderId && idOf(one.folderId),
    })),
  );
  const ofPeople = (list: { target: Target }[], what: string) => {
    const count = list.filter(({ target }) => target.kind === "person").length;
    if (count > 0)
      left.add(`${count} ${what}${count === 1 ? "" : "s"} of single people ${count === 1 ? "is" : "are"} not carried.`);
  };
  ofPeople(Object.values(old.overrides), "date or limit override");
  ofPeople(Object.values(old.allowances), "allowance");
  const retargeted = <Row extends { id: string; target: Target }>(row: Row): Row => ({
    ...row,
    id: idOf(row.id),
    target: { ...row.target, id: idOf(row.target.id) },
  });
  fill(
    plan.overrides,
    Object.values(old.overrides)
      .filter(({ target }) => isCarried(target))
      .map(
        (one): Override => ({
          ...retargeted(one),
          itemId: idOf(one.itemId),
          dates: dates(one.dates, old.items[one.itemId]?.title ?? ""),
        }),
      ),
  );
  fill(
    plan.allowances,
    Object.values(old.allowances)
      .filter(({ target }) => isCarried(target))
      .map(retargeted),
  );
  const { course } = old;
  const listed = course.classList.to === "layer" ? layerOr(course.classList.layerId) : null;
  const split = layerOr(course.splitting?.layerId ?? null);
  plan.course = {
    ...plan.course,
    layerOrder: course.layerOrder.flatMap((id) => (id === "sections" ? [id] : (layerOr(id) ?? []))),
    visitorCode: null,
    staffMay: {},
    classList:
      course.classList.to !== "layer" ? course.classList : listed ? { to: "layer", layerId: listed } : { to: "nobody" },
    splitting: course.splitting && split ? { ...course.splitting, layerId: split } : null,
    meetingLayerId: layerOr(course.meetingLayerId),
  };
  const owned = Object.values(old.items).filter(({ owners }) => owners.length > 0).length;
  if (owned > 0)
    left.add(
      owned === 1
        ? "1 item was owned by staff; without people it is yours alone."
        : `${owned} items were owned by staff; without people they are yours alone.`,
    );
  if (course.visitorCode) left.add("The visitors' code is not carried.");
  if (course.noClassDays.length > 0 && term.noClassDays.length === 0)
    left.add("The new term has no days without class yet: add them.");
  if (Object.keys(old.acceptances).length > 0) left.add("Findings that were let stand are found again.");
  return { plan, left: [...left], idOf };
}
