/**
 * Who can open what at a moment, for all students at once: a set of bits an item, asked for lazily.
 * Cost grows with items × students / 32 and with the conditions and dates that differ by student.
 * Source: semantics.md section 4.
 */
import { foldersAbove, holdsAt, lookup, studentsAt } from "../plan/lookup.ts";
import { noProgress, type Progress } from "../plan/progress.ts";
import type {
  Audience,
  Condition,
  DateField,
  Enrolment,
  Entrance,
  Item,
  Placement,
  Plan,
  Target,
} from "../plan/types.ts";
import { differingTargets, instantOfValue, type Memberships, membershipsAt, resolveField } from "../timing/resolve.ts";
import { instantOf } from "../timing/wall.ts";
import { and, andNot, type Bits, emptyBits, fullBits, listBits, or, sameBits, setBit } from "./bits.ts";
import { progressHolds } from "./conditions.ts";

export interface Reach {
  plan: Plan;
  progress: Progress;
  t: number;
  /** Person ids; the place in this list is the bit. */
  students: string[];
  indexOf: Map<string, number>;
  everyone: Bits;
  memberships(index: number): Memberships;
  /** The students a target names. */
  members(target: Target): Bits;
  /** Whose value of a date or limit may differ from the item's own. */
  differing(item: Item, field: DateField): Bits;
  audience(item: Item): Bits;
  meant(item: Item): Bits;
  /** Whose condition holds. */
  conditionHolds(item: Item): Bits;
  /** Who is within opens and closes (an item that stays readable never closes). */
  withinDates(item: Item): Bits;
  released(item: Item): Bits;
  /** Who comes to the item by one of its entrances, whatever the item itself says. */
  arrives(item: Item): Bits;
  sees(item: Item): Bits;
  /** sees ∖ meant. */
  leak(item: Item): Bits;
}

/** Whether a course-wide index that is switched on lists items of this kind for everyone. */
function listedForAll(plan: Plan, item: Item): boolean {
  const { indexes } = plan.course;
  return (
    (indexes.discussions && item.kind === "discussion") ||
    (indexes.files && item.kind === "file") ||
    (indexes.calendar && item.kind === "event") ||
    (indexes.work && isWork(item))
  );
}

/** Work: assignments and quizzes, with points or not, and discussions that carry points. */
export const isWork = (item: Item): boolean =>
  item.kind === "assignment" || item.kind === "quiz" || (item.kind === "discussion" && item.points !== null);

/** A folder that is not published hides all beneath it, whichever entrance is used. */
export const isPublished = (plan: Plan, item: Item): boolean =>
  item.published && foldersAbove(plan, item).every((folder) => folder.published);

interface Roster {
  /** Person ids, by name. */
  enrolled: string[];
  indexOf: Map<string, number>;
  members: Record<"person" | "group" | "section", Map<string, Bits>>;
}

function rosterOf(enrolled: string[], placements: Placement[], enrolments: Enrolment[], t: number): Roster {
  const indexOf = new Map(enrolled.map((personId, index) => [personId, index]));
  const members = { person: new Map<string, Bits>(), group: new Map<string, Bits>(), section: new Map<string, Bits>() };
  const add = (kind: "group" | "section", id: string, index: number) => {
    let bits = members[kind].get(id);
    if (!bits) {
      bits = emptyBits(enrolled.length);
      members[kind].set(id, bits);
    }
    setBit(bits, index);
  };
  for (const placement of placements) {
    const index = indexOf.get(placement.personId);
    if (index !== undefined && holdsAt(placement, t)) add("group", placement.groupId, index);
  }
  for (const enrolment of enrolments) {
    const index = indexOf.get(enrolment.personId);
    if (index !== undefined && enrolment.sectionId && holdsAt(enrolment, t)) add("section", enrolment.sectionId, index);
  }
  return { enrolled, indexOf, members };
}

// A review asks of two plans at two moments, most often with the same placements: the last few rosters are kept.
const rosters = new WeakMap<
  Plan["placements"],
  { enrolments: Plan["enrolments"]; people: Plan["people"]; t: number; roster: Roster }[]
>();

/** Every student at t, and who of them is in which group and section. */
function everyRoster(plan: Plan, t: number): Roster {
  const { placements, enrolments, people } = plan;
  const kept = rosters.get(placements) ?? [];
  rosters.set(placements, kept);
  const found = kept.find((one) => one.t === t && one.enrolments === enrolments && one.people === people);
  if (found) return found.roster;
  const roster = rosterOf(studentsAt(plan, t), Object.values(placements), Object.values(enrolments), t);
  kept.unshift({ enrolments, people, t, roster });
  kept.length = Math.min(kept.length, 4);
  return roster;
}

/** The same for a few students alone: only their own rows are read. */
function rosterOfFew(plan: Plan, personIds: string[], t: number): Roster {
  const { placementsOfPerson, enrolmentsOfPerson } = lookup(plan);
  const theirs = <Row>(rows: Map<string, Row[]>) => personIds.flatMap((personId) => rows.get(personId) ?? []);
  const enrolments = theirs(enrolmentsOfPerson);
  const students = new Set(
    enrolments.filter((row) => row.role === "student" && holdsAt(row, t)).map((row) => row.personId),
  );
  return rosterOf(
    personIds.filter((id) => students.has(id)),
    theirs(placementsOfPerson),
    enrolments,
    t,
  );
}

/**
 * Reach at t. `only` narrows the question to some students (a student's own page asks for one).
 */
export function reachAt(plan: Plan, progress: Progress = noProgress, t: number, only?: string[]): Reach {
  const { enrolled, indexOf, members } = only ? rosterOfFew(plan, only, t) : everyRoster(plan, t);
  const count = enrolled.length;
  const everyone = fullBits(count);
  const nobody = emptyBits(count);
  // A student's own memberships are put together only where something differs by student.
  const known: Memberships[] = [];
  const memberships = (index: number): Memberships => {
    known[index] ??= membershipsAt(plan, enrolled[index] as string, t);
    return known[index];
  };
  const ofSet = new Map<string, Bits>();
  const membersOf = ({ kind, id }: Target): Bits => {
    if (kind === "set") {
      const groups = (plan.sets[id]?.groupIds ?? []).map((groupId) => members.group.get(groupId) ?? nobody);
      const bits = ofSet.get(id) ?? groups.reduce(or, nobody);
      ofSet.set(id, bits);
      return bits;
    }
    const known = members[kind].get(id);
    const index = kind === "person" ? indexOf.get(id) : undefined;
    if (known || index === undefined) return known ?? nobody;
    const alone = emptyBits(count);
    setBit(alone, index);
    members.person.set(id, alone);
    return alone;
  };
  const anyOf = (targets: Target[]): Bits => targets.reduce((bits, target) => or(bits, membersOf(target)), nobody);
  const audienceBits = ({ to, minus }: Audience): Bits => {
    const included = to === "everyone" ? everyone : anyOf(to);
    return minus.length === 0 ? included : andNot(included, anyOf(minus));
  };
  const perStudent = (ask: (personId: string) => boolean): Bits => {
    const bits = emptyBits(count);
    enrolled.forEach((personId, index) => {
      if (ask(personId)) setBit(bits, index);
    });
    return bits;
  };

  const conditionBits = (condition: Condition | null): Bits => {
    if (!condition) return everyone;
    switch (condition.kind) {
      case "allOf":
        return condition.of.reduce((bits, part) => and(bits, conditionBits(part)), everyone);
      case "anyOf":
        return condition.of.reduce((bits, part) => or(bits, conditionBits(part)), nobody);
      case "noneOf":
        return condition.of.reduce((bits, part) => andNot(bits, conditionBits(part)), everyone);
      case "from":
        return t >= instantOf(condition.moment, plan.course.timeZone) ? everyone : nobody;
      case "before":
        return t < instantOf(condition.moment, plan.course.timeZone) ? everyone : nobody;
      case "in":
        return anyOf(condition.targets);
      default:
        return perStudent((personId) => progressHolds(condition, plan, progress, personId, t));
    }
  };

  const remember = (compute: (item: Item) => Bits) => {
    const known = new Map<string, Bits>();
    return (item: Item): Bits => {
      const bits = known.get(item.id) ?? compute(item);
      known.set(item.id, bits);
      return bits;
    };
  };

  const audience = remember((item) => audienceBits(item.audience));
  const meant = remember((item) =>
    foldersAbove(plan, item).reduce((bits, folder) => and(bits, audience(folder)), audience(item)),
  );
  const conditionHolds = remember((item) => {
    let left = everyone;
    let holds = nobody;
    for (const variant of item.variants) {
      const theirs = and(left, anyOf(variant.targets));
      holds = or(holds, and(theirs, conditionBits(variant.condition)));
      left = andNot(left, theirs);
    }
    return or(holds, and(left, conditionBits(item.condition)));
  });

  /** Whose value of a moment passes a test: asked once for all, and one by one for those who may differ. */
  const momentBits = (
    item: Item,
    field: "opens" | "due" | "closes",
    test: (instant: number | null) => boolean,
  ): Bits => {
    const differ = anyOf(differingTargets(plan, item, field));
    const bits = test(instantOfValue(plan, item.dates[field])) ? andNot(everyone, differ) : emptyBits(count);
    for (const index of listBits(differ)) {
      const { value } = resolveField(plan, item, memberships(index), field);
      if (test(instantOfValue(plan, value))) setBit(bits, index);
    }
    return bits;
  };
  const withinDates = remember((item) => {
    const opened = momentBits(item, "opens", (opens) => opens === null || t >= opens);
    return item.readableAfterClose
      ? opened
      : and(
          opened,
          momentBits(item, "closes", (closes) => closes === null || t < closes),
        );
  });
  const released = remember((item) =>
    item.published ? and(and(audience(item), conditionHolds(item)), withinDates(item)) : nobody,
  );

  /** Every sealing folder above the home is released, and every folder above it is published. */
  const unsealed = remember((item) => {
    let bits = everyone;
    for (const folder of foldersAbove(plan, item)) {
      if (!folder.published) return nobody;
      if (folder.seals) bits = and(bits, released(folder));
    }
    return bits;
  });
  const indexed = remember((item) => {
    if (listedForAll(plan, item)) return everyone;
    return plan.course.indexes.calendar ? momentBits(item, "due", (due) => due !== null) : nobody;
  });

  // Folders may be entered by extra entrances, even from within each other, so who sees a folder is the least
  // fixed point: begin with nobody and grow until nothing changes.
  let folderSight: Map<string, Bits> | null = null;
  const throughEntrances = (item: Item, sight: Map<string, Bits>): Bits => {
    const { entrancesOfItem } = lookup(plan);
    const extra: Pick<Entrance, "folderId">[] = entrancesOfItem.get(item.id) ?? [];
    let bits = nobody;
    for (const { folderId } of [{ folderId: item.parentId }, ...extra]) {
      bits = or(bits, folderId === null ? everyone : (sight.get(folderId) ?? nobody));
    }
    return bits;
  };
  const folders = (): Map<string, Bits> => {
    if (folderSight) return folderSight;
    const list = Object.values(plan.items).filter(({ kind }) => kind === "folder");
    const sight = new Map<string, Bits>(list.map((folder) => [folder.id, nobody]));
    for (let grows = true; grows; ) {
      grows = false;
      for (const folder of list) {
        // A folder that has a due is in the calendar too.
        const bits = and(and(released(folder), unsealed(folder)), or(throughEntrances(folder, sight), indexed(folder)));
        if (!sameBits(bits, sight.get(folder.id) as Bits)) {
          sight.set(folder.id, bits);
          grows = true;
        }
      }
    }
    folderSight = sight;
    return sight;
  };
  const arrives = remember((item) => or(throughEntrances(item, folders()), indexed(item)));
  const sees = remember((item) => and(and(released(item), unsealed(item)), arrives(item)));

  return {
    plan,
    progress,
    t,
    students: enrolled,
    indexOf,
    everyone,
    memberships,
    members: membersOf,
    differing: (item, field) => anyOf(differingTargets(plan, item, field)),
    audience,
    meant,
    conditionHolds,
    withinDates,
    released,
    arrives,
    sees,
    leak: (item) => andNot(sees(item), meant(item)),
  };
}
