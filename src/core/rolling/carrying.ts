/** How what a plan says is moved onto a new term: ids, days, dates, conditions and audiences; people stay behind. */
import { v5 } from "uuid";
import type { z } from "zod";
import { addDays, daysBetween, mondayOf, sayDay } from "../clock/local-time.ts";
import { lookup } from "../plan/lookup.ts";
import {
  type Audience,
  type Condition,
  Course,
  type DateFields,
  type Layer,
  type Moment,
  type Plan,
  type Target,
} from "../plan/types.ts";
import { isAnchor } from "../timing/anchors.ts";
import type { MeetingDays } from "../timing/meetings.ts";

export const NewTerm = Course.pick({ code: true, title: true, term: true, termStart: true, termEnd: true }).extend({
  id: Course.shape.id,
  noClassDays: Course.shape.noClassDays,
});
export type NewTerm = z.infer<typeof NewTerm>;

/** An old plan on its way into a new term. */
export class Carrying {
  /** What could not be carried, or is to be looked at, each in a sentence. */
  readonly left = new Set<string>();
  /** Layers that were not put away. */
  readonly layers: readonly Layer[];
  /** Groups of those layers that were not put away, in their order. */
  readonly groupIds: ReadonlySet<string>;
  /** From the first week of the old term to that of the new. */
  private readonly byDays: number;
  constructor(
    readonly old: Plan,
    readonly term: NewTerm,
  ) {
    const { layers, groupsOfLayer } = lookup(old);
    this.layers = layers;
    this.groupIds = new Set(layers.flatMap(({ id }) => (groupsOfLayer.get(id) ?? []).map((group) => group.id)));
    this.byDays = daysBetween(mondayOf(old.course.termStart), mondayOf(term.termStart));
  }

  /** The new id of a row: of the same course always the same. */
  idOf = (id: string): string => v5(id, this.term.id);

  isCarried = ({ kind, id }: Target): boolean => {
    if (kind === "group") return this.groupIds.has(id);
    return kind === "section" ? id in this.old.sections : kind === "set" && id in this.old.sets;
  };
  targets = (list: Target[]): Target[] =>
    list.filter(this.isCarried).map(({ kind, id }) => ({ kind, id: this.idOf(id) }));
  /** The new id of a layer that is carried; null of another, or of none. */
  layer = (id: string | null): string | null => (id && this.layers.some((one) => one.id === id) ? this.idOf(id) : null);
  /** The new id of a group that is carried; null of another, or of none. */
  group = (id: string | null): string | null => (id && this.groupIds.has(id) ? this.idOf(id) : null);
  wall = <Wall extends string | null>(wall: Wall): Wall => wall && (addDays(wall, this.byDays) as Wall);

  moment(given: Moment): Moment {
    if (!isAnchor(given)) return addDays(given, this.byDays);
    const { meeting, fallback } = given;
    const next = typeof meeting === "number" ? meeting : { lastBefore: this.day(meeting.lastBefore) };
    return { ...given, meeting: next, fallback: fallback && addDays(fallback, this.byDays) };
  }
  private day = (day: string): string => addDays(`${day}T00:00`, this.byDays).slice(0, 10);

  /** Dates of an item, moved; those that then lie where no class is are told. */
  dates(given: DateFields, title: string): DateFields {
    const moved = { ...given };
    for (const field of ["opens", "due", "closes"] as const) {
      const value = given[field];
      if (value === undefined || value === "none") continue;
      const next = this.moment(value);
      moved[field] = next;
      if (!isAnchor(next)) this.tellDay(`"${title}" ${field}`, next.slice(0, 10));
    }
    return moved;
  }
  private tellDay(what: string, day: string): void {
    if (day < this.term.termStart || day > this.term.termEnd)
      this.left.add(`${what} on ${sayDay(day)}, outside the new term: look at it.`);
    else if (this.term.noClassDays.some((free) => free.day === day))
      this.left.add(`${what} on ${sayDay(day)}, a day without class: look at it.`);
  }

  condition(one: Condition, title: string): Condition {
    if ("of" in one) return { ...one, of: one.of.map((part) => this.condition(part, title)) };
    if ("moment" in one) return { ...one, moment: this.moment(one.moment) };
    if ("itemId" in one) return { ...one, itemId: this.idOf(one.itemId) };
    const kept = this.targets(one.targets);
    if (kept.length < one.targets.length)
      this.left.add(
        `A condition of "${title}" named people; it names ${kept.length === 0 ? "nobody" : "the others alone"} now.`,
      );
    return { ...one, targets: kept };
  }

  audience({ to, minus }: Audience, title: string): Audience {
    if (to === "everyone") return { to, minus: this.targets(minus) };
    const kept = this.targets(to);
    if (kept.length < to.length)
      this.left.add(
        kept.length === 0
          ? `"${title}" was for named people alone; it is for nobody now.`
          : `"${title}" was for named people too; it is for its groups and sections alone now.`,
      );
    return { to: kept, minus: this.targets(minus) };
  }

  /** Days without class, and meetings that were moved or added, are of their own term. */
  bareDays(name: string, { moved, added }: MeetingDays): Pick<MeetingDays, "noClassDays" | "moved" | "added"> {
    if (moved.length + added.length > 0)
      this.left.add(`Meetings of ${name} that were moved or added by hand are not carried.`);
    return { noClassDays: [], moved: [], added: [] };
  }

  /** A row of some target, with new ids. */
  retargeted = <Row extends { id: string; target: Target }>(row: Row): Row => ({
    ...row,
    id: this.idOf(row.id),
    target: { ...row.target, id: this.idOf(row.target.id) },
  });
}
