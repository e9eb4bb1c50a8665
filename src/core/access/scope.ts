/**
 * The course as an instructor or support person may know it: the students of the sections and groups they were given,
 * and nothing that names anybody or anything else. What differs for their students because of a group that is not
 * theirs to know of differs for each of those students alone. Source: semantics.md section 9.
 */
import { derivedId } from "../plan/command.ts";
import { foldersAbove, holdsAt, lookup } from "../plan/lookup.ts";
import { type Progress, progressByItem, progressOf } from "../plan/progress.ts";
import type { Audience, Condition, DateField, DateFields, Item, Plan, Table, Target } from "../plan/types.ts";
import { progressThrough } from "../reach/combined.ts";
import { membershipsAt, resolveField } from "../timing/resolving/resolve.ts";

/** What rows are named by that say for one student what a rule for others says. */
const rowsOfScope = "6c0d3a8e-9a3b-4b7e-9d1f-2f6b8f1f7a10";

export interface Scope {
  /** Sections that the person's enrolments name, and groups that they are placed in. */
  sectionIds: Set<string>;
  groupIds: Set<string>;
  /** Students of those. */
  personIds: Set<string>;
  /** Groups that are theirs as a whole: given, or with no student outside the scope. */
  own: Set<string>;
}

/** What somebody on the staff was given at t. */
export function scopeOf(plan: Plan, staffId: string, t: number): Scope {
  const { enrolmentsOfPerson, placementsOfPerson } = lookup(plan);
  const open = <Row extends { since: number; until: number | null }>(rows: Row[] | undefined) =>
    (rows ?? []).filter((row) => holdsAt(row, t));
  const sectionIds = new Set(
    open(enrolmentsOfPerson.get(staffId)).flatMap(({ role, sectionId }) =>
      sectionId !== null && (role === "instructor" || role === "support") ? [sectionId] : [],
    ),
  );
  const groupIds = new Set(open(placementsOfPerson.get(staffId)).map(({ groupId }) => groupId));
  const students = new Map<string, boolean>();
  for (const row of Object.values(plan.enrolments)) {
    if (row.role !== "student" || !holdsAt(row, t)) continue;
    const given = row.sectionId !== null && sectionIds.has(row.sectionId);
    students.set(row.personId, given || (students.get(row.personId) ?? false));
  }
  const outside = new Set<string>();
  const placed = Object.values(plan.placements).filter((row) => holdsAt(row, t) && students.has(row.personId));
  for (const { groupId, personId } of placed) if (groupIds.has(groupId)) students.set(personId, true);
  for (const { groupId, personId } of placed) if (!students.get(personId)) outside.add(groupId);
  const personIds = new Set([...students].flatMap(([id, given]) => (given ? [id] : [])));
  const whole = placed.flatMap(({ groupId }) => (outside.has(groupId) ? [] : [groupId]));
  return { sectionIds, groupIds, personIds, own: new Set([...groupIds, ...whole]) };
}

const tableOf = <Row extends { id: string }>(rows: Row[]): Table<Row> =>
  Object.fromEntries(rows.map((row) => [row.id, row]));

/** The plan within a scope at t. Nothing in it names a person, group, section or private layer outside. */
export function planWithin(plan: Plan, staffId: string, scope: Scope, t: number): Plan {
  const { personIds } = scope;
  const isTheirs = (id: string) => personIds.has(id);
  const knownTo = (id: string) => isTheirs(id) || id === staffId;
  const enrolments = Object.values(plan.enrolments).filter(({ personId }) => knownTo(personId));
  const sectionIds = new Set([...scope.sectionIds, ...enrolments.flatMap(({ sectionId }) => sectionId ?? [])]);
  const populated = new Set(
    Object.values(plan.placements)
      .filter((row) => isTheirs(row.personId))
      .map(({ groupId }) => groupId),
  );
  const isKnown = (groupId: string): boolean => {
    const layer = plan.layers[plan.groups[groupId]?.layerId ?? ""];
    return scope.groupIds.has(groupId) || (layer !== undefined && !layer.private && populated.has(groupId));
  };
  const groups = Object.values(plan.groups)
    .filter(({ id }) => isKnown(id))
    .map((group) => ({
      ...group,
      code: null,
      leads: group.leads.filter(knownTo),
      scopeGroupId: group.scopeGroupId && isKnown(group.scopeGroupId) ? group.scopeGroupId : null,
    }));
  const splitting = new Set(Object.values(plan.items).flatMap(({ split }) => split?.layerId ?? []));
  const layerIds = new Set([...groups.map(({ layerId }) => layerId), ...splitting]);
  const layers = Object.values(plan.layers)
    .filter(({ id }) => layerIds.has(id))
    .map((layer) => ({ ...layer, following: null, keepApart: [], forming: null, selfPlacement: null }));
  const sets = Object.values(plan.sets).filter(({ groupIds }) => groupIds.length > 0 && groupIds.every(isKnown));
  const known = {
    group: isKnown,
    section: (id: string) => sectionIds.has(id),
    person: isTheirs,
    set: (id: string) => sets.some((one) => one.id === id),
  };
  const isVisible = ({ kind, id }: Target) => known[kind](id);
  /** The students of the scope whom a target names now. */
  const membersOf = ({ kind, id }: Target): string[] =>
    [...personIds].filter((personId) => {
      const { groupIds, sectionIds: sections, setIds } = membershipsAt(plan, personId, t);
      return kind === "group"
        ? groupIds.has(id)
        : kind === "section"
          ? sections.has(id)
          : kind === "set" && setIds.has(id);
    });
  /** Who is named by a target that they may not know of is named by themselves. */
  const openly = (targets: Target[]): Target[] =>
    targets.flatMap((target) =>
      isVisible(target) ? [target] : membersOf(target).map((id): Target => ({ kind: "person", id })),
    );
  const condition = (one: Condition | null): Condition | null =>
    one === null
      ? null
      : "of" in one
        ? { ...one, of: one.of.map((part) => condition(part) as Condition) }
        : one.kind === "in"
          ? { ...one, targets: openly(one.targets) }
          : one;
  const audience = ({ to, minus }: Audience): Audience => ({
    to: to === "everyone" ? to : openly(to),
    minus: openly(minus),
  });
  // An item that is for others alone is not theirs to know of, nor what lies beneath it.
  const isForOthers = (item: Item) => item.audience.to !== "everyone" && !item.audience.to.some(isVisible);
  const hidden = (item: Item) => isForOthers(item) || (item.pageOf !== null && !isKnown(item.pageOf));
  const items = Object.values(plan.items)
    .filter((item) => ![item, ...foldersAbove(plan, item)].some(hidden))
    .map((item) => ({
      ...item,
      audience: audience(item.audience),
      condition: condition(item.condition),
      variants: item.variants.map((one) => ({ targets: openly(one.targets), condition: condition(one.condition) })),
    }));
  const itemIds = new Set(items.map(({ id }) => id));
  // Who owns an item is named to all staff who see it, and no more is said of them.
  const owners = new Set(items.flatMap((item) => item.owners).filter((id) => !knownTo(id)));
  const colleagues = Object.values(plan.people)
    .filter(({ id }) => owners.has(id))
    .map((one) => ({ ...one, sourcedId: "staff", username: null, email: null, attributes: {} }));

  // What an override of a hidden group comes to for somebody is said of them alone, as it was resolved.
  const overrides = tableOf(
    Object.values(plan.overrides).filter(({ itemId, target }) => itemIds.has(itemId) && isVisible(target)),
  );
  for (const { itemId, target, dates } of Object.values(plan.overrides)) {
    const item = plan.items[itemId];
    if (!item || !itemIds.has(itemId) || isVisible(target)) continue;
    for (const personId of membersOf(target)) {
      const memberships = membershipsAt(plan, personId, t);
      const own = Object.values(overrides).find(
        (one) => one.itemId === itemId && one.target.kind === "person" && one.target.id === personId,
      );
      const resolved = Object.fromEntries(
        (Object.keys(dates) as DateField[]).flatMap((field) => {
          const { value } = resolveField(plan, item, memberships, field);
          return value === null ? [] : [[field, value]];
        }),
      ) as DateFields;
      const id = own?.id ?? derivedId(rowsOfScope, itemId, personId);
      overrides[id] = { id, itemId, target: { kind: "person", id: personId }, dates: { ...resolved, ...own?.dates } };
    }
  }
  const allowances = Object.values(plan.allowances).flatMap((one) =>
    isVisible(one.target)
      ? [one]
      : membersOf(one.target).map((id) => ({
          ...one,
          id: derivedId(rowsOfScope, one.id, id),
          target: { kind: "person" as const, id },
        })),
  );
  const layerOr = <Value>(layerId: string | null | undefined, value: Value, otherwise: Value): Value =>
    layerId && layerIds.has(layerId) ? value : otherwise;
  const { course } = plan;
  return {
    course: {
      ...course,
      visitorCode: null,
      staffMay: course.staffMay[staffId] ? { [staffId]: course.staffMay[staffId] } : {},
      layerOrder: course.layerOrder.filter((id) => id === "sections" || layerIds.has(id)),
      classList:
        course.classList.to === "layer" && !layerIds.has(course.classList.layerId)
          ? { to: "nobody" }
          : course.classList,
      splitting: layerOr(course.splitting?.layerId, course.splitting, null),
      meetingLayerId: layerOr(course.meetingLayerId, course.meetingLayerId, null),
    },
    sections: tableOf(Object.values(plan.sections).filter(({ id }) => sectionIds.has(id))),
    people: tableOf([...Object.values(plan.people).filter(({ id }) => knownTo(id)), ...colleagues]),
    enrolments: tableOf(enrolments),
    layers: tableOf(layers),
    groups: tableOf(groups),
    sets: tableOf(sets),
    placements: tableOf(
      Object.values(plan.placements).filter(({ personId, groupId }) => knownTo(personId) && isKnown(groupId)),
    ),
    items: tableOf(items),
    entrances: tableOf(
      Object.values(plan.entrances).filter(
        ({ itemId, folderId }) => itemIds.has(itemId) && (folderId === null || itemIds.has(folderId)),
      ),
    ),
    overrides,
    allowances: tableOf(allowances),
    acceptances: {},
  };
}

/** Progress within a scope: what others did counts where it is their students' too, and names nobody else. */
export function progressWithin(plan: Plan, progress: Progress, within: Plan, scope: Scope): Progress {
  const through = progressByItem(progressThrough(plan, progress));
  const given = progressByItem(progress);
  const copies = new Set(Object.values(within.items).flatMap(({ combines }) => combines.map(({ itemId }) => itemId)));
  const rowsOf = <Row>(rows: Map<string, Row[]>, keep: (row: Row) => Row[]): Map<string, Row[]> =>
    new Map(
      [...rows].flatMap(([itemId, list]) =>
        within.items[itemId] || copies.has(itemId) ? [[itemId, list.flatMap(keep)] as const] : [],
      ),
    );
  const theirs = <Row extends { personId: string }>(row: Row): Row[] =>
    scope.personIds.has(row.personId) ? [row] : [];
  const handIns = rowsOf(through.handIns, (row) => {
    if (!scope.personIds.has(row.personId)) return [];
    const { by, ...plain } = row;
    return [by !== undefined && scope.personIds.has(by) ? row : plain];
  });
  return progressOf({
    marks: rowsOf(given.marks, theirs),
    handIns,
    openings: rowsOf(given.openings, theirs),
    groupMarks: rowsOf(given.groupMarks, (row) => (within.groups[row.groupId] ? [row] : [])),
  });
}
