/** What a move of sections between courses would do: worked out alike for the look before it and for the move itself. */

import { membershipOf } from "../../core/access/roles.ts";
import { fullName, holdsAt, plainName } from "../../core/plan/lookup.ts";
import type { Plan } from "../../core/plan/types.ts";
import { joinCourses } from "../../core/rolling/join.ts";
import { withoutAnybody, withSectionsOf } from "../../core/rolling/over.ts";
import { courseOfSections, type Leaving, withoutSections } from "../../core/rolling/part-of.ts";
import { isolated } from "../../core/text/names.ts";
import { plural } from "../../core/text/plural.ts";
import type { StoredPlan } from "../store/plan-rows.ts";
import type { WorkCopy, WorkRow } from "../store/work-copy.ts";

export const moveKinds = ["out", "own", "over", "join", "archive"] as const;
export type MoveKind = (typeof moveKinds)[number];

export interface MoveRequest {
  /** Made by whoever asks: the same move sent twice is made once, and the rows that are born are named by it. */
  id: string;
  kind: MoveKind;
  courseId: string;
  /** The course that sections go to, or that becomes a part of this one. */
  otherId: string | null;
  sectionIds: string[];
  /** Of a course of their own. */
  code: string;
  title: string;
}
export interface Courses {
  here: StoredPlan;
  other: StoredPlan | null;
}
/** A course whose plan becomes another. */
export interface Changed {
  before: Plan;
  after: Plan;
  /** Whether it is archived by it. */
  archived: boolean;
}
export interface Prepared {
  /** For the journal of each course. */
  says: string;
  /** For whoever looks: what becomes of whom, a sentence each. */
  notes: string[];
  here: Changed;
  other: Changed | null;
  /** A course that is made. */
  made: Plan | null;
  work: WorkCopy | null;
}
type Answer = Prepared | { wrong: string };

/** Whether somebody coordinates a course at a moment: only then may they move anything into it or out of it. */
export const coordinates = (plan: Plan, sourcedId: string, at: number): boolean =>
  membershipOf(plan, sourcedId, at)?.role === "coordinator";

const some = (plan: Plan, ids: string[]): string => {
  const names = ids.slice(0, 6).flatMap((id) => (plan.people[id] ? [isolated(plainName(plan.people[id]))] : []));
  return names.join(", ") + (ids.length > 6 ? ` and ${ids.length - 6} more` : "");
};
const wordsOf = (plan: Plan, sectionIds: string[]): string =>
  sectionIds.map((id) => plan.sections[id]?.code ?? "").join(", ");

/** What the move makes of the courses, or a sentence that says why it cannot be. */
export function prepareMove(request: MoveRequest, { here, other }: Courses, at: number): Answer {
  const { plan } = here;
  const { kind, sectionIds } = request;
  if (kind === "archive") return archived(plan, at);
  if (kind === "join") return other ? joined(request, plan, other.plan, at) : { wrong: "Choose the other course." };
  const gone = sectionIds.find((id) => !plan.sections[id]);
  if (sectionIds.length === 0) return { wrong: "Tick at least one section." };
  if (gone) return { wrong: "A section that was ticked is not there any more. Look at the list again." };
  const sections = new Set(sectionIds);
  const left = withoutSections(plan, sections, at, request.id);
  if (kind === "own") return intoOwn(request, plan, left, at);
  if (kind === "over") return other ? intoOther(request, plan, left, other.plan, at) : { wrong: "Choose a course." };
  const codes = wordsOf(plan, sectionIds);
  return {
    says: `Took out ${codes}`,
    notes: leavingNotes(plan, left),
    here: { before: plan, after: left.plan, archived: false },
    ...{ other: null, made: null, work: null },
  };
}

function leavingNotes(plan: Plan, { gone, staying }: Leaving): string[] {
  const notes = [
    gone.length === 0
      ? `Nobody leaves ${plan.course.code}.`
      : `${plural(gone.length, "person leaves", "people leave")} ${plan.course.code} as if dropped: ${some(plan, gone)}. What they did there is kept.`,
  ];
  if (staying.length > 0)
    notes.push(
      `${plural(staying.length, "person stays", "people stay")} by another section or on the staff: ${some(plan, staying)}.`,
    );
  return notes;
}

function archived(plan: Plan, at: number): Prepared {
  const after = withoutAnybody(plan, at);
  const people = Object.values(after.enrolments)
    .filter((row) => row.until === at)
    .map(({ personId }) => personId);
  const ids = [...new Set(people)];
  return {
    says: "Archived",
    notes: [
      ids.length === 0
        ? "Nobody but its coordinators is in it."
        : `${plural(ids.length, "person has", "people have")} it no longer: ${some(plan, ids)}. Its coordinators can read it.`,
      "The registrar's rosters are not drawn any more.",
    ],
    here: { before: plan, after, archived: true },
    ...{ other: null, made: null, work: null },
  };
}

function intoOwn(request: MoveRequest, plan: Plan, left: Leaving, at: number): Answer {
  const { id, code, title, sectionIds } = request;
  if (!code || !title) return { wrong: "Give the course of their own a code and a title." };
  const own = courseOfSections(plan, new Set(sectionIds), { id, code, title }, at);
  const groups = groupsOf(plan, own.people);
  return {
    says: `Made ${code} of ${wordsOf(plan, sectionIds)}`,
    notes: [
      ...leavingNotes(plan, left),
      `${code} has the same groups, items, conditions and dates: its students find there what they found here, with what they did. Posts of others stay here.`,
      `Its staff, as here: ${some(plan, staffOf(plan, own.people, at))}.`,
    ],
    here: { before: plan, after: left.plan, archived: false },
    other: null,
    made: own.plan,
    work: {
      ...{ from: plan.course.id, to: id, idOf: own.idOf },
      keeps: (_, row) => {
        const isTheirs = (id: WorkRow[string] | undefined) =>
          id === undefined || id === null || own.people.has(String(id)) || groups.has(String(id));
        // Notes of staff go by whom they are about; one about an item is everybody's.
        if (row.about_kind) return row.about_kind === "item" || isTheirs(row.about_id);
        return [row.person_id, row.holder_id, row.group_id].every(isTheirs);
      },
    },
  };
}
const staffOf = (plan: Plan, people: ReadonlySet<string>, at: number): string[] => {
  const rows = Object.values(plan.enrolments).filter(
    (row) => people.has(row.personId) && row.role !== "student" && row.role !== "visitor" && holdsAt(row, at),
  );
  return [...new Set(rows.map(({ personId }) => personId))];
};
/** Groups that a student among these people is, or was, in: what they wrote there stays theirs. */
function groupsOf(plan: Plan, people: ReadonlySet<string>): Set<string> {
  const students = new Set(
    Object.values(plan.enrolments).flatMap(({ personId, role }) =>
      role === "student" && people.has(personId) ? [personId] : [],
    ),
  );
  const placed = Object.values(plan.placements).filter(({ personId }) => students.has(personId));
  return new Set(placed.map(({ groupId }) => groupId));
}

function intoOther(request: MoveRequest, plan: Plan, left: Leaving, into: Plan, at: number): Answer {
  const over = withSectionsOf(into, plan, new Set(request.sectionIds), at, request.id);
  if ("wrong" in over) return over;
  const codes = wordsOf(plan, request.sectionIds);
  return {
    says: `Moved ${codes} from ${plan.course.code} to ${into.course.code}`,
    notes: [
      ...leavingNotes(plan, left),
      `${plural(over.people, "person is", "people are")} in ${into.course.code} from then on, in ${codes}: they find what is for everyone there.`,
      `What they did stays in ${plan.course.code}: the items of ${into.course.code} are others.`,
    ],
    here: { before: plan, after: left.plan, archived: false },
    other: { before: into, after: over.plan, archived: false },
    ...{ made: null, work: null },
  };
}

function joined({ id }: MoveRequest, into: Plan, from: Plan, at: number): Answer {
  if (into.course.id === from.course.id) return { wrong: "That is this course itself. Choose another." };
  const answer = joinCourses(into, from, at, id);
  if ("wrong" in answer) return answer;
  const { code } = from.course;
  return {
    says: `Took in ${code} ${from.course.title}, which became a part of ${into.course.code}`,
    notes: [
      ...answer.says,
      `${code} is archived: its coordinators can read it. Messages that were sent there stay there.`,
    ],
    here: { before: into, after: answer.plan, archived: false },
    other: { before: from, after: withoutAnybody(from, at), archived: true },
    made: null,
    work: { from: from.course.id, to: into.course.id, idOf: answer.idOf, keeps: () => true },
  };
}

/** Who depends on a move by now, as sentences for whoever wants it taken back. */
export const sayDependents = (dependents: string[]): string =>
  `It was not taken back, because later changes depend on it: ${dependents.slice(0, 6).join("; ")}${
    dependents.length > 6 ? `, and ${dependents.length - 6} more` : ""
  }. Take those back first.`;

/** Who, by their full names. */
export const namesIn = (plan: Plan, ids: string[]): string[] =>
  ids.flatMap((id) => (plan.people[id] ? [fullName(plan.people[id])] : []));
