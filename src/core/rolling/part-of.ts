/** Sections that leave a course, by themselves or into a course of their own. Source: semantics.md sections 2, 3 and 8. */
import { followAll } from "../placement/commands.ts";
import { derivedId, put } from "../plan/command.ts";
import type { Row } from "../plan/difference.ts";
import { holdsAt, isEnrolledAt } from "../plan/lookup.ts";
import { mapReferences } from "../plan/references.ts";
import { emptyPlan, type Plan, type TableName, tableNames } from "../plan/types.ts";

export interface Leaving {
  plan: Plan;
  /** Who is in the course no longer. */
  gone: string[];
  /** Who stays through another section, or as staff. */
  staying: string[];
}

/** Takes sections out at a moment: whoever is in them leaves as if dropped; what was stays true, and their work is kept. */
export function withoutSections(plan: Plan, sectionIds: ReadonlySet<string>, at: number, id: string): Leaving {
  const open = Object.values(plan.enrolments).filter(
    (row) => row.sectionId !== null && sectionIds.has(row.sectionId) && holdsAt(row, at),
  );
  const ended = put(
    plan,
    "enrolments",
    open.map((row) => ({ ...row, until: at })),
  );
  const people = [...new Set(open.map(({ personId }) => personId))];
  const staying = people.filter((personId) => isEnrolledAt(ended, personId, at));
  const stays = new Set(staying);
  return {
    plan: followAll(ended, id, { now: at }),
    gone: people.filter((personId) => !stays.has(personId)),
    staying,
  };
}

export interface NewCourse {
  id: string;
  code: string;
  title: string;
}
export interface OwnCourse {
  plan: Plan;
  /** The new id of a row, or of anything else that work stands in. */
  idOf(oldId: string): string;
  /** Ids of the people who go with it, as the old course has them. */
  people: ReadonlySet<string>;
}

/**
 * The sections as a course of their own: everybody who was ever in them, and whoever is staff of the whole course; all
 * layers, groups, items, conditions and dates. So each of their students sees what they saw. Source: semantics.md section 4.
 */
export function courseOfSections(
  plan: Plan,
  sectionIds: ReadonlySet<string>,
  course: NewCourse,
  at: number,
): OwnCourse {
  const idOf = (oldId: string) => derivedId(course.id, oldId);
  const enrolments = Object.values(plan.enrolments).filter(({ sectionId, role, ...row }) =>
    sectionId === null ? role !== "student" && role !== "visitor" && holdsAt(row, at) : sectionIds.has(sectionId),
  );
  const people = new Set(enrolments.map(({ personId }) => personId));
  const kept = new Set(enrolments.map(({ id }) => id));
  const goes: Partial<Record<TableName, (row: Row) => boolean>> = {
    sections: ({ id }) => sectionIds.has(id),
    people: ({ id }) => people.has(id),
    enrolments: ({ id }) => kept.has(id),
    placements: ({ personId }) => people.has(String(personId)),
    overrides: (row) => isCarried(row.target as { kind: string; id: string }),
    allowances: (row) => isCarried(row.target as { kind: string; id: string }),
    // A finding that was let stand is told by the old course's ids.
    acceptances: () => false,
  };
  function isCarried({ kind, id }: { kind: string; id: string }): boolean {
    return kind === "person" ? people.has(id) : kind === "section" ? sectionIds.has(id) : true;
  }
  const retarget = ({ table, id }: { table: TableName; id: string }) =>
    (table === "people" && !people.has(id)) || (table === "sections" && !sectionIds.has(id)) ? [] : [idOf(id)];
  const { staffMay, ...settings } = plan.course;
  const own = emptyPlan({
    ...mapReferences("course", settings, retarget),
    ...course,
    staffMay: Object.fromEntries(
      Object.entries(staffMay).flatMap(([id, may]) => (people.has(id) ? [[idOf(id), may]] : [])),
    ),
    visitorCode: null,
  });
  for (const table of tableNames) {
    const rows = Object.values(plan[table] as Record<string, Row>).filter((row) => goes[table]?.(row) ?? true);
    const carried = rows.map((row) => carriedRow(table, row, retarget, idOf));
    Object.assign(own, { [table]: Object.fromEntries(carried.map((row) => [row.id, row])) });
  }
  return { plan: own, idOf, people };
}

/** A row under its new id, with the new ids of all that it names; what holds beside rows keeps its meaning. */
function carriedRow(
  table: TableName,
  row: Row,
  retarget: Parameters<typeof mapReferences>[2],
  idOf: (oldId: string) => string,
): Row {
  const next: Row = { ...mapReferences(table, row, retarget), id: idOf(row.id) };
  if (table === "items") return { ...next, ...carriedBeside(row, idOf) };
  if (table === "groups") return { ...next, code: null };
  // Two who are kept apart are two: sets of one say nothing.
  if (table === "layers") return { ...next, keepApart: (next.keepApart as string[][]).filter((set) => set.length > 1) };
  return next;
}

/** What an item names that is no row: its file, and the copies that it was made of. */
export function carriedBeside(row: Row, idOf: (oldId: string) => string) {
  const { file, combines } = row as unknown as Plan["items"][string];
  return {
    file: file && { ...file, id: idOf(file.id) },
    combines: combines.map(({ itemId, groupIds }) => ({ itemId: idOf(itemId), groupIds: groupIds.map(idOf) })),
  };
}
