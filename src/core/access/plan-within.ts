/**
 * The plan as an instructor or support person may know it: nothing in it names a person, group, section or private layer
 * outside their scope. Source: semantics.md section 9.
 */
import { derivedId } from "../plan/command.ts";
import { foldersAbove } from "../plan/lookup.ts";
import type {
  Allowance,
  Audience,
  Condition,
  Course,
  DateField,
  DateFields,
  Group,
  Item,
  Layer,
  Override,
  Plan,
  Table,
  Target,
} from "../plan/types.ts";
import { membershipsAt, resolveField } from "../timing/resolving/resolve.ts";
import type { Scope } from "./scope.ts";

/** What rows are named by that say for one student what a rule for others says. */
const rowsOfScope = "6c0d3a8e-9a3b-4b7e-9d1f-2f6b8f1f7a10";

const tableOf = <Row extends { id: string }>(rows: Row[]): Table<Row> =>
  Object.fromEntries(rows.map((row) => [row.id, row]));

/** The plan within a scope at t. */
export function planWithin(plan: Plan, staffId: string, scope: Scope, t: number): Plan {
  const within = new Narrowing(plan, staffId, scope, t);
  const { isKnown, knownTo, isKnownSection } = within;
  const enrolments = Object.values(plan.enrolments).filter(({ personId }) => knownTo(personId));
  const groups = within.groups();
  const layers = within.layers(groups);
  const items = within.items();
  const itemIds = new Set(items.map(({ id }) => id));
  const placements = Object.values(plan.placements).filter(
    ({ personId, groupId }) => knownTo(personId) && isKnown(groupId),
  );
  const entrances = Object.values(plan.entrances).filter(
    ({ itemId, folderId }) => itemIds.has(itemId) && (folderId === null || itemIds.has(folderId)),
  );
  return {
    course: within.course(new Set(layers.map(({ id }) => id))),
    sections: tableOf(Object.values(plan.sections).filter(({ id }) => isKnownSection(id))),
    people: tableOf(within.people(items)),
    enrolments: tableOf(enrolments),
    layers: tableOf(layers),
    groups: tableOf(groups),
    sets: tableOf(within.sets),
    placements: tableOf(placements),
    items: tableOf(items),
    entrances: tableOf(entrances),
    overrides: within.overrides(itemIds),
    allowances: tableOf(within.allowances()),
    acceptances: {},
  };
}

class Narrowing {
  /** Named sets of groups that are all known. */
  readonly sets: Plan["sets"][string][];
  private readonly sectionIds: ReadonlySet<string>;
  /** Groups with a student of the scope. */
  private readonly populated: ReadonlySet<string>;
  constructor(
    private readonly plan: Plan,
    private readonly staffId: string,
    private readonly scope: Scope,
    private readonly t: number,
  ) {
    const own = Object.values(plan.enrolments).filter(({ personId }) => this.knownTo(personId));
    this.sectionIds = new Set([...scope.sectionIds, ...own.flatMap(({ sectionId }) => sectionId ?? [])]);
    const placed = Object.values(plan.placements).filter(({ personId }) => this.isTheirs(personId));
    this.populated = new Set(placed.map(({ groupId }) => groupId));
    this.sets = Object.values(plan.sets).filter(({ groupIds }) => groupIds.length > 0 && groupIds.every(this.isKnown));
  }

  private isTheirs = (personId: string): boolean => this.scope.personIds.has(personId);
  /** A student of the scope, or the reader. */
  knownTo = (personId: string): boolean => this.isTheirs(personId) || personId === this.staffId;
  isKnownSection = (sectionId: string): boolean => this.sectionIds.has(sectionId);
  isKnown = (groupId: string): boolean => {
    const layer = this.plan.layers[this.plan.groups[groupId]?.layerId ?? ""];
    return this.scope.groupIds.has(groupId) || (layer !== undefined && !layer.private && this.populated.has(groupId));
  };
  private isVisible = ({ kind, id }: Target): boolean => {
    if (kind === "group") return this.isKnown(id);
    if (kind === "section") return this.isKnownSection(id);
    return kind === "person" ? this.isTheirs(id) : this.sets.some((one) => one.id === id);
  };

  groups(): Group[] {
    const known = Object.values(this.plan.groups).filter(({ id }) => this.isKnown(id));
    return known.map((group) => ({
      ...group,
      code: null,
      leads: group.leads.filter(this.knownTo),
      scopeGroupId: group.scopeGroupId && this.isKnown(group.scopeGroupId) ? group.scopeGroupId : null,
    }));
  }
  /** The layers of known groups, and those along which something is split. */
  layers(groups: readonly Group[]): Layer[] {
    const splitting = Object.values(this.plan.items).flatMap(({ split }) => split?.layerId ?? []);
    const ids = new Set([...groups.map(({ layerId }) => layerId), ...splitting]);
    const known = Object.values(this.plan.layers).filter(({ id }) => ids.has(id));
    return known.map((layer) => ({ ...layer, following: null, keepApart: [], forming: null, selfPlacement: null }));
  }

  /** The students of the scope whom a group or set names now; a section that they may not know of has none of them. */
  private membersOf({ kind, id }: Target): string[] {
    return [...this.scope.personIds].filter((personId) => {
      const { groupIds, setIds } = membershipsAt(this.plan, personId, this.t);
      return kind === "group" ? groupIds.has(id) : kind === "set" && setIds.has(id);
    });
  }
  /** Who is named by a target that they may not know of is named by themselves. */
  private openly = (targets: Target[]): Target[] =>
    targets.flatMap((target) =>
      this.isVisible(target) ? [target] : this.membersOf(target).map((id): Target => ({ kind: "person", id })),
    );
  private condition(one: Condition | null): Condition | null {
    if (one === null) return null;
    if ("of" in one) return { ...one, of: one.of.map((part) => this.condition(part) as Condition) };
    return one.kind === "in" ? { ...one, targets: this.openly(one.targets) } : one;
  }
  private audience = ({ to, minus }: Audience): Audience => ({
    to: to === "everyone" ? to : this.openly(to),
    minus: this.openly(minus),
  });

  /** An item that is for others alone is not theirs to know of, nor what lies beneath it. */
  private isHidden = ({ audience, pageOf }: Item): boolean =>
    (audience.to !== "everyone" && !audience.to.some(this.isVisible)) || (pageOf !== null && !this.isKnown(pageOf));
  items(): Item[] {
    const shown = Object.values(this.plan.items).filter(
      (item) => ![item, ...foldersAbove(this.plan, item)].some(this.isHidden),
    );
    return shown.map((item) => ({
      ...item,
      audience: this.audience(item.audience),
      condition: this.condition(item.condition),
      variants: item.variants.map((one) => ({
        targets: this.openly(one.targets),
        condition: this.condition(one.condition),
      })),
    }));
  }
  /** Who owns an item is named to all staff who see it, and no more is said of them. */
  people(items: readonly Item[]): Plan["people"][string][] {
    const owners = new Set(items.flatMap((item) => item.owners).filter((id) => !this.knownTo(id)));
    const all = Object.values(this.plan.people);
    const colleagues = all.filter(({ id }) => owners.has(id));
    return [
      ...all.filter(({ id }) => this.knownTo(id)),
      ...colleagues.map((one) => ({ ...one, sourcedId: "staff", username: null, email: null, attributes: {} })),
    ];
  }

  /** What an override of a hidden group comes to for somebody is said of them alone, as it was resolved. */
  overrides(itemIds: ReadonlySet<string>): Table<Override> {
    const theirs = Object.values(this.plan.overrides).filter(({ itemId }) => itemIds.has(itemId));
    const found = tableOf(theirs.filter(({ target }) => this.isVisible(target)));
    for (const override of theirs) {
      const item = this.plan.items[override.itemId];
      if (!item || this.isVisible(override.target)) continue;
      for (const personId of this.membersOf(override.target)) {
        const own = Object.values(found).find(
          ({ itemId, target }) => itemId === item.id && target.kind === "person" && target.id === personId,
        );
        const id = own?.id ?? derivedId(rowsOfScope, item.id, personId);
        const dates = { ...this.resolved(item, personId, override.dates), ...own?.dates };
        found[id] = { id, itemId: item.id, target: { kind: "person", id: personId }, dates };
      }
    }
    return found;
  }
  private resolved(item: Item, personId: string, dates: DateFields): DateFields {
    const memberships = membershipsAt(this.plan, personId, this.t);
    const fields = Object.keys(dates) as DateField[];
    return Object.fromEntries(
      fields.flatMap((field) => {
        const { value } = resolveField(this.plan, item, memberships, field);
        return value === null ? [] : [[field, value]];
      }),
    ) as DateFields;
  }
  allowances(): Allowance[] {
    return Object.values(this.plan.allowances).flatMap((one) =>
      this.isVisible(one.target)
        ? [one]
        : this.membersOf(one.target).map((id) => ({
            ...one,
            id: derivedId(rowsOfScope, one.id, id),
            target: { kind: "person" as const, id },
          })),
    );
  }

  course(layerIds: ReadonlySet<string>): Course {
    const { course } = this.plan;
    const { staffMay, classList, splitting, meetingLayerId } = course;
    const own = staffMay[this.staffId];
    return {
      ...course,
      visitorCode: null,
      staffMay: own ? { [this.staffId]: own } : {},
      layerOrder: course.layerOrder.filter((id) => id === "sections" || layerIds.has(id)),
      classList: classList.to === "layer" && !layerIds.has(classList.layerId) ? { to: "nobody" } : classList,
      splitting: splitting && layerIds.has(splitting.layerId) ? splitting : null,
      meetingLayerId: meetingLayerId && layerIds.has(meetingLayerId) ? meetingLayerId : null,
    };
  }
}
