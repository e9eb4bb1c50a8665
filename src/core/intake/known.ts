/**
 * Whom a course knows by the registrar's id, and which rows of an intake name them. The people are indexed once a
 * plan and kept; an intake adds rows to them by number, so that 100,000 rows need no index of their own.
 */
import { onceWith } from "../memo.ts";
import type { Enrolment, Person, Plan } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";

export interface RosterIdentity {
  /** Its place in the list: known people first, then ids that only the rows name. */
  index: number;
  sourcedId: string;
  person: Person | null;
  enrolments: readonly Enrolment[];
  /** The folded section code of each enrolment; empty where it is in no section. */
  codes: readonly string[];
}

const noEnrolments: readonly Enrolment[] = Object.freeze([]);
const noCodes: readonly string[] = Object.freeze([]);

interface Index {
  list: RosterIdentity[];
  byId: Map<string, RosterIdentity>;
}
type Enrolments = Plan["enrolments"];
const indexOf = onceWith((people: Plan["people"], enrolments: Enrolments, sections: Plan["sections"]): Index => {
  const codes = new Map(Object.values(sections).map(({ id, code }) => [id, fold(code)]));
  const list: RosterIdentity[] = [];
  const byId = new Map<string, RosterIdentity>();
  for (const id in people) {
    const person = people[id] as Person;
    const known: RosterIdentity = {
      index: list.length,
      sourcedId: person.sourcedId,
      person,
      enrolments: noEnrolments,
      codes: noCodes,
    };
    list.push(known);
    byId.set(person.sourcedId, known);
  }
  for (const id in enrolments) {
    const enrolment = enrolments[id] as Enrolment;
    const known = byId.get(people[enrolment.personId]?.sourcedId ?? "");
    if (!known) continue;
    const code = codes.get(enrolment.sectionId ?? "") ?? "";
    if (known.enrolments === noEnrolments) {
      known.enrolments = [enrolment];
      known.codes = [code];
    } else {
      (known.enrolments as Enrolment[]).push(enrolment);
      (known.codes as string[]).push(code);
    }
  }
  return { list, byId };
});

/** Everyone in the plan's people, with their enrolments. */
export const knownPeople = ({ people, enrolments, sections }: Plan): Index => indexOf(people, enrolments, sections);

/** The ids of one intake: known ones and new ones, each with the numbers of its rows. */
export class Ids {
  private readonly people: Index;
  private readonly added = new Map<string, RosterIdentity>();
  private readonly addedList: RosterIdentity[] = [];
  /** Number of the first row that names the id, by the id's index; -1 where none does. */
  private readonly firstRow: number[];
  private next = 0;
  private readonly furtherRows = new Map<RosterIdentity, number[]>();
  /** Ids that several rows name. */
  readonly repeated: RosterIdentity[] = [];

  constructor(plan: Plan) {
    this.people = knownPeople(plan);
    this.firstRow = new Array(this.people.list.length).fill(-1);
  }

  /** The id, with one more row of its own. A blank id is nobody's. */
  enter(sourcedId: string, row: number): RosterIdentity {
    // A roster comes in much the order in which its people came the time before.
    const expected = this.people.list[this.next];
    const known =
      expected?.sourcedId === sourcedId
        ? expected
        : (this.people.byId.get(sourcedId) ?? this.added.get(sourcedId) ?? this.add(sourcedId));
    this.next = known.index + 1;
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
  rowsOf(known: RosterIdentity): number[] {
    const first = this.firstRow[known.index] as number;
    return first < 0 ? [] : [first, ...(this.furtherRows.get(known) ?? [])];
  }

  /** Whether some row names an id that the course does not know. */
  get hasNew(): boolean {
    return this.addedList.length > 0;
  }

  /** Somebody by the registrar's id; undefined where neither the course nor a row names it. */
  of = (sourcedId: string): RosterIdentity | undefined => this.people.byId.get(sourcedId) ?? this.added.get(sourcedId);

  isListed = (known: RosterIdentity): boolean => (this.firstRow[known.index] as number) >= 0;

  /** Known people whom no row names. */
  *unlisted(): Iterable<RosterIdentity> {
    const { list } = this.people;
    for (let index = 0; index < list.length; index++)
      if ((this.firstRow[index] as number) < 0) yield list[index] as RosterIdentity;
  }

  *[Symbol.iterator](): Iterator<RosterIdentity> {
    yield* this.people.list;
    yield* this.addedList;
  }

  private add(sourcedId: string): RosterIdentity {
    const index = this.people.list.length + this.addedList.length;
    const known: RosterIdentity = { index, sourcedId, person: null, enrolments: noEnrolments, codes: noCodes };
    this.firstRow.push(-1);
    this.addedList.push(known);
    if (sourcedId !== "") this.added.set(sourcedId, known);
    return known;
  }
}
