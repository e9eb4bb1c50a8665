/**
 * Whom a course knows by the registrar's id, and which rows of an intake name them. The people are indexed once a
 * plan and kept; an intake adds rows to them by number, so that 100,000 rows need no index of their own.
 */
import type { Enrolment, Person, Plan } from "../plan/types.ts";

export interface Known {
  /** Its place in the list: known people first, then ids that only the rows name. */
  index: number;
  sourcedId: string;
  person: Person | null;
  enrolments: readonly Enrolment[];
}

const noEnrolments: readonly Enrolment[] = Object.freeze([]);

interface Index {
  list: Known[];
  byId: Map<string, Known>;
}
const kept = new WeakMap<Plan["people"], WeakMap<Plan["enrolments"], Index>>();

/** Everyone in the plan's people, with their enrolments. */
export function knownPeople(plan: Plan): Index {
  const inner = kept.get(plan.people) ?? new WeakMap<Plan["enrolments"], Index>();
  kept.set(plan.people, inner);
  const ready = inner.get(plan.enrolments);
  if (ready) return ready;
  const list: Known[] = [];
  const byId = new Map<string, Known>();
  for (const id in plan.people) {
    const person = plan.people[id] as Person;
    const known: Known = { index: list.length, sourcedId: person.sourcedId, person, enrolments: noEnrolments };
    list.push(known);
    byId.set(person.sourcedId, known);
  }
  for (const id in plan.enrolments) {
    const enrolment = plan.enrolments[id] as Enrolment;
    const known = byId.get(plan.people[enrolment.personId]?.sourcedId ?? "");
    if (!known) continue;
    if (known.enrolments === noEnrolments) known.enrolments = [enrolment];
    else (known.enrolments as Enrolment[]).push(enrolment);
  }
  const index = { list, byId };
  inner.set(plan.enrolments, index);
  return index;
}

/** The ids of one intake: known ones and new ones, each with the numbers of its rows. */
export class Ids {
  private readonly people: Index;
  private readonly added = new Map<string, Known>();
  private readonly addedList: Known[] = [];
  /** Number of the first row that names the id, by the id's index; -1 where none does. */
  private readonly firstRow: number[];
  private readonly furtherRows = new Map<Known, number[]>();
  /** Ids that several rows name. */
  readonly repeated: Known[] = [];

  constructor(plan: Plan) {
    this.people = knownPeople(plan);
    this.firstRow = new Array(this.people.list.length).fill(-1);
  }

  /** The id, with one more row of its own. A blank id is nobody's. */
  enter(sourcedId: string, row: number): Known {
    const known = this.people.byId.get(sourcedId) ?? this.added.get(sourcedId) ?? this.add(sourcedId);
    if ((this.firstRow[known.index] as number) < 0) this.firstRow[known.index] = row;
    else {
      const further = this.furtherRows.get(known);
      if (further) further.push(row);
      else {
        this.furtherRows.set(known, [row]);
        this.repeated.push(known);
      }
    }
    return known;
  }

  /** The numbers of the rows that name an id. */
  rowsOf(known: Known): number[] {
    const first = this.firstRow[known.index] as number;
    return first < 0 ? [] : [first, ...(this.furtherRows.get(known) ?? [])];
  }

  isListed = (known: Known): boolean => (this.firstRow[known.index] as number) >= 0;

  *[Symbol.iterator](): Iterator<Known> {
    yield* this.people.list;
    yield* this.addedList;
  }

  private add(sourcedId: string): Known {
    const index = this.people.list.length + this.addedList.length;
    const known: Known = { index, sourcedId, person: null, enrolments: noEnrolments };
    this.firstRow.push(-1);
    this.addedList.push(known);
    if (sourcedId !== "") this.added.set(sourcedId, known);
    return known;
  }
}
