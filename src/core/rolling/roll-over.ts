/**
 * A new course shell out of an old plan: layers, groups, rules, outline, audiences, conditions, dates and settings, moved
 * onto a new term; people and what they did stay behind. What could not be carried is listed. Source: semantics.md
 * sections 1 and 6 to 8.
 */
import { asUnreleased } from "../plan/questions.ts";
import {
  type Course,
  emptyPlan,
  type Group,
  type Item,
  type Layer,
  type Override,
  type Plan,
  type Table,
  type Target,
} from "../plan/types.ts";
import { Carrying, type NewTerm } from "./carrying.ts";

export { NewTerm } from "./carrying.ts";

export interface RolledOver {
  plan: Plan;
  /** What could not be carried, or is to be looked at, each in a sentence. */
  left: string[];
  /** New ids of rows by old ones. */
  idOf(oldId: string): string;
}

/** The plan of the new course. The same id of a course makes the same rows. */
export function rollOver(old: Plan, term: NewTerm): RolledOver {
  const carrying = new Carrying(old, term);
  const { left, idOf } = carrying;
  const plan = emptyPlan({ ...old.course, ...term });
  fill(plan.sections, carriedSections(carrying));
  fill(
    plan.layers,
    carrying.layers.map((layer) => carriedLayer(carrying, layer)),
  );
  fill(plan.groups, carriedGroups(carrying));
  fill(plan.sets, carriedSets(carrying));
  fill(
    plan.items,
    Object.values(old.items).map((item) => carriedItem(carrying, item)),
  );
  fill(plan.entrances, carriedEntrances(carrying));
  tellPeople(left, Object.values(old.overrides), "date or limit override");
  tellPeople(left, Object.values(old.allowances), "allowance");
  fill(plan.overrides, carriedOverrides(carrying));
  fill(plan.allowances, ofCarried(carrying, Object.values(old.allowances)).map(carrying.retargeted));
  plan.course = { ...plan.course, ...carriedSettings(carrying, old.course) };
  tellRest(carrying);
  return { plan, left: [...left], idOf };
}

function fill<Row extends { id: string }>(table: Table<Row>, rows: Row[]): void {
  for (const row of rows) table[row.id] = row;
}

const ofCarried = <Row extends { target: Target }>({ isCarried }: Carrying, rows: Row[]): Row[] =>
  rows.filter(({ target }) => isCarried(target));

const carriedSections = (carrying: Carrying) =>
  Object.values(carrying.old.sections).map((section) => ({
    ...section,
    ...carrying.bareDays(section.code, section),
    id: carrying.idOf(section.id),
  }));

function carriedLayer({ left, idOf, group, wall }: Carrying, layer: Layer): Layer {
  const { selfPlacement: self, following } = layer;
  if (layer.forming) left.add(`How the groups of ${layer.name} were formed is not carried: form them again.`);
  if (layer.keepApart.length > 0) left.add(`Who is kept apart in ${layer.name} is not carried.`);
  if (self?.opens || self?.closes)
    left.add(`When students choose in ${layer.name} was moved with the term: look at it.`);
  return {
    ...layer,
    id: idOf(layer.id),
    following:
      following?.flatMap((rule) => {
        const groupId = group(rule.groupId);
        return groupId ? [{ ...rule, sectionIds: rule.sectionIds.map(idOf), groupId }] : [];
      }) ?? null,
    keepApart: [],
    forming: null,
    selfPlacement: self && { ...self, opens: wall(self.opens), closes: wall(self.closes) },
  };
}

function carriedGroups(carrying: Carrying): Group[] {
  const { left, idOf } = carrying;
  const groups = [...carrying.groupIds].map((id) => carrying.old.groups[id] as Group);
  const carried = groups.map((group) => ({
    ...group,
    ...carrying.bareDays(group.name, group),
    id: idOf(group.id),
    layerId: idOf(group.layerId),
    leads: [],
    code: null,
    scopeGroupId: carrying.group(group.scopeGroupId),
  }));
  if (groups.some(({ code }) => code)) left.add("Codes of groups are not carried: make new ones.");
  return carried;
}

const carriedSets = ({ old, idOf, groupIds }: Carrying) =>
  Object.values(old.sets).map((set) => ({
    ...set,
    id: idOf(set.id),
    groupIds: set.groupIds.filter((id) => groupIds.has(id)).map(idOf),
  }));

function carriedItem(carrying: Carrying, item: Item): Item {
  const { left, idOf } = carrying;
  const { title } = item;
  if (item.combines.length > 0) left.add(`"${title}" held the work of earlier copies; that stays behind.`);
  const splitLayer = item.split && carrying.layer(item.split.layerId);
  return {
    ...item,
    id: idOf(item.id),
    parentId: item.parentId && idOf(item.parentId),
    audience: carrying.audience(item.audience, title),
    condition: item.condition && carrying.condition(item.condition, title),
    variants: item.variants.map((variant) => ({
      targets: carrying.targets(variant.targets),
      condition: variant.condition && carrying.condition(variant.condition, title),
    })),
    dates: carrying.dates(item.dates, title),
    split: item.split && splitLayer ? { ...item.split, layerId: splitLayer } : null,
    file: item.file && { ...item.file, id: idOf(item.file.id) },
    pageOf: carrying.group(item.pageOf),
    owners: [],
    combines: [],
    quiz: asUnreleased(item.quiz),
  };
}

const carriedEntrances = ({ old, idOf }: Carrying) =>
  Object.values(old.entrances).map((one) => ({
    ...one,
    id: idOf(one.id),
    itemId: idOf(one.itemId),
    folderId: one.folderId && idOf(one.folderId),
  }));

const carriedOverrides = (carrying: Carrying): Override[] =>
  ofCarried(carrying, Object.values(carrying.old.overrides)).map((one) => ({
    ...carrying.retargeted(one),
    itemId: carrying.idOf(one.itemId),
    dates: carrying.dates(one.dates, carrying.old.items[one.itemId]?.title ?? ""),
  }));

function tellPeople(left: Set<string>, rows: { target: Target }[], what: string): void {
  const count = rows.filter(({ target }) => target.kind === "person").length;
  if (count > 0)
    left.add(`${count} ${what}${count === 1 ? "" : "s"} of single people ${count === 1 ? "is" : "are"} not carried.`);
}

function carriedSettings({ layer }: Carrying, { layerOrder, classList, splitting, meetingLayerId }: Course) {
  const listed = classList.to === "layer" ? layer(classList.layerId) : null;
  const split = layer(splitting?.layerId ?? null);
  const shownTo: Course["classList"] =
    classList.to !== "layer" ? classList : listed ? { to: "layer", layerId: listed } : { to: "nobody" };
  return {
    layerOrder: layerOrder.flatMap((id) => (id === "sections" ? [id] : (layer(id) ?? []))),
    visitorCode: null,
    staffMay: {},
    classList: shownTo,
    splitting: splitting && split ? { ...splitting, layerId: split } : null,
    meetingLayerId: layer(meetingLayerId),
  };
}

/** What is of people or of the old term alone. */
function tellRest({ old, term, left }: Carrying): void {
  const owned = Object.values(old.items).filter(({ owners }) => owners.length > 0).length;
  if (owned === 1) left.add("1 item was owned by staff; without people it is yours alone.");
  else if (owned > 1) left.add(`${owned} items were owned by staff; without people they are yours alone.`);
  if (old.course.visitorCode) left.add("The visitors' code is not carried.");
  if (old.course.noClassDays.length > 0 && term.noClassDays.length === 0)
    left.add("The new term has no days without class yet: add them.");
  if (Object.keys(old.acceptances).length > 0) left.add("Findings that were let stand are found again.");
}
