/**
 * What the rows of a draft may make otherwise: which items are asked about again, and whether the order of the outline,
 * marks, calendars and the rest may differ. It may name too much, never too little. Source: semantics.md section 8.
 */
import { type Row, type RowChange, same } from "../plan/difference.ts";
import { lookup } from "../plan/lookup.ts";
import { referencesOf } from "../plan/references.ts";
import type { Item, Plan, TableName } from "../plan/types.ts";
import { mentionsIn } from "../reach/mentions.ts";
import { beneath } from "../reach/outline/check.ts";
import { isAnchor } from "../timing/anchors.ts";

export interface Impact {
  /** Items of either plan whose reach, dates, threads or words may be otherwise. */
  items: Set<string>;
  /** Of those, where not only who has it may be otherwise, but what it says: dates, words, threads. */
  details: Set<string>;
  /** Folders (null: the top) whose contents may stand in another order. */
  folders: Set<string | null>;
  /** Groups whose row or members change. */
  groups: Set<string>;
  /** Layers whose row changes, or a group of which changes, or its members. */
  layers: Set<string>;
  /** People whose enrolments, placements or names change. */
  people: Set<string>;
  /** Who is in the course, or what somebody is called. */
  enrolment: boolean;
  /** Class meetings of somebody. */
  meetings: boolean;
  /** How marks make totals. */
  grading: boolean;
  /** What the course as a whole shows: its name, its lists of everything of a kind. */
  course: boolean;
  classList: boolean;
}

const courseNames = ["code", "title", "term", "mayWriteToStaff"] as const;
/** Settings of the course by which class meetings may be otherwise. */
const meetingRules = ["meetingLayerId", "noClassDays", "termStart", "termEnd"];
const differs = (before: Row | null, after: Row | null, fields: readonly string[]): boolean =>
  fields.some((field) => !same(before?.[field], after?.[field]));

class Finder {
  readonly found: Impact = {
    items: new Set(),
    details: new Set(),
    folders: new Set(),
    groups: new Set(),
    layers: new Set(),
    people: new Set(),
    enrolment: false,
    meetings: false,
    grading: false,
    course: false,
    classList: false,
  };
  private readonly plans: Plan[];
  private isAll = false;
  private isListed = false;
  /** Changed groups and sections, read once for all of them. */
  private readonly named: { table: TableName; id: string }[] = [];
  constructor(
    before: Plan,
    after: Plan,
    private readonly changes: RowChange[],
  ) {
    this.plans = [before, after];
  }

  find(): Impact {
    for (const change of this.changes) this.note(change);
    if (this.isAll) for (const plan of this.plans) for (const id of Object.keys(plan.items)) this.found.items.add(id);
    else this.addNaming();
    if (this.found.meetings) this.addAnchored();
    for (const id of this.found.items) this.found.details.add(id);
    // A list that is switched on or off leads to items, and changes nothing of what they say.
    if (this.isListed) this.addItems(() => true);
    this.close();
    return this.found;
  }

  private note({ table, id, before, after }: RowChange): void {
    const { found } = this;
    const either = [before, after].filter((row) => row !== null);
    switch (table) {
      case "course":
        found.course ||= differs(before, after, [...courseNames, "indexes"]);
        found.grading ||= differs(before, after, ["grading"]);
        found.classList ||= differs(before, after, ["classList"]);
        found.meetings ||= differs(before, after, ["title", "timeZone", ...meetingRules]);
        this.isAll ||= differs(before, after, ["timeZone"]);
        // Where two overrides meet, the policy decides.
        if (differs(before, after, ["datePolicy", "layerOrder"]))
          this.addItems(({ id }, plan) => (lookup(plan).overridesOfItem.get(id) ?? []).length > 1);
        if (differs(before, after, meetingRules)) this.addAnchored();
        if (differs(before, after, ["indexes"])) this.isListed = true;
        return;
      case "items":
        found.items.add(id);
        // A folder's lists are looked at by its contents; where something goes or comes, both are.
        for (const row of either) found.folders.add((row.parentId as string | null) ?? null);
        found.grading ||= differs(before, after, ["categoryId", "points", "position", "parentId"]);
        return;
      case "entrances":
        for (const row of either) {
          found.items.add(String(row.itemId));
          found.folders.add((row.folderId as string | null) ?? null);
        }
        return;
      case "overrides":
        for (const row of either) found.items.add(String(row.itemId));
        return;
      case "allowances":
        this.addDated();
        return;
      case "acceptances":
        return;
      default:
        this.notePeople(table, id, either);
    }
  }

  private notePeople(table: TableName, id: string, either: Row[]): void {
    const { found } = this;
    const group = (groupId: string) => {
      found.groups.add(groupId);
      this.named.push({ table: "groups", id: groupId });
      for (const plan of this.plans) {
        const layerId = plan.groups[groupId]?.layerId;
        if (layerId === undefined) continue;
        found.layers.add(layerId);
        if (plan.course.meetingLayerId === layerId) found.meetings = true;
        if (Object.values(plan.allowances).some(({ target }) => target.kind !== "person" && target.kind !== "section"))
          this.addDated();
      }
    };
    if (table === "groups") group(id);
    else if (table === "placements") {
      for (const row of either) {
        group(String(row.groupId));
        found.people.add(String(row.personId));
      }
    } else if (table === "layers") {
      found.layers.add(id);
      // A layer that comes or goes changes nothing by itself: what names its groups does.
      if (either.length < 2) return;
      this.isAll = true;
      found.meetings = true;
    } else if (table === "enrolments") {
      for (const row of either) found.people.add(String(row.personId));
      found.enrolment = true;
      found.meetings = true;
      this.isAll = true;
    } else if (table === "people") {
      found.people.add(id);
      found.enrolment = true;
      this.isAll = true;
    } else if (table === "sections") {
      this.named.push({ table, id });
      found.meetings = true;
      this.addAnchored();
    } else if (table === "sets") {
      this.named.push({ table, id });
      if (this.plans.some((plan) => Object.values(plan.allowances).some(({ target }) => target.kind === "set")))
        this.addDated();
    }
  }

  private addItems(test: (item: Item, plan: Plan) => boolean): void {
    for (const plan of this.plans)
      for (const item of Object.values(plan.items)) if (test(item, plan)) this.found.items.add(item.id);
  }
  /** Items with a date or limit that allowances add to. */
  private addDated(): void {
    this.addItems(({ id, dates, kind }, plan) => {
      const all = [dates, ...(lookup(plan).overridesOfItem.get(id) ?? []).map((one) => one.dates)];
      return kind !== "event" && all.some((one) => one.due ?? one.closes ?? one.attempts ?? one.minutes);
    });
  }
  /** Items with a date or condition by class meetings. */
  private addAnchored(): void {
    for (const plan of this.plans) {
      for (const id of mentionsIn(plan).anchored) this.found.items.add(id);
      for (const row of Object.values(plan.overrides))
        if (Object.values(row.dates).some(isAnchor)) this.found.items.add(row.itemId);
    }
  }

  /** Items that name a changed group, section or set, whom a set names, or whose dates go by its meetings. */
  private addNaming(): void {
    const { found, plans } = this;
    const wanted = new Set(this.named.map(({ table, id }) => `${table}/${id}`));
    if (wanted.size === 0) return;
    for (const plan of plans)
      for (const set of Object.values(plan.sets))
        if (set.groupIds.some((id) => wanted.has(`groups/${id}`))) wanted.add(`sets/${set.id}`);
    const hit = (table: TableName, row: object) =>
      referencesOf(table, row as Row).some((one) => wanted.has(`${one.table}/${one.id}`));
    for (const plan of plans) {
      for (const item of Object.values(plan.items))
        if (hit("items", item) || (item.split && found.layers.has(item.split.layerId))) found.items.add(item.id);
      for (const row of Object.values(plan.overrides)) if (hit("overrides", row)) found.items.add(row.itemId);
    }
  }

  /** What follows: whatever lies beneath a folder, is entered through it, or asks for an item, and so on. */
  private close(): void {
    const { items, details } = this.found;
    for (const id of items)
      for (const plan of this.plans) {
        // An item that is not there may be asked for too.
        for (const asking of mentionsIn(plan).byItem.get(id) ?? []) {
          items.add(asking);
          details.add(asking);
        }
        if (plan.items[id]?.kind !== "folder") continue;
        for (const inner of beneath(plan, id)) items.add(inner);
        for (const { itemId } of lookup(plan).entrancesInFolder.get(id) ?? []) items.add(itemId);
      }
  }
}

export const impactOf = (before: Plan, after: Plan, changes: RowChange[]): Impact =>
  new Finder(before, after, changes).find();
