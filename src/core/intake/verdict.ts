/** What reconciling answers, row by row. Source: semantics.md section 2. */
import type { Enrolment, Person } from "../plan/types.ts";
import { changesTo, type FieldChange, noChanges } from "./facts.ts";
import type { Ids, Known } from "./known.ts";
import type { RosterRow } from "./rows.ts";

export const verdicts = ["unreadable", "duplicate", "clash", "returning", "moved", "new", "changed", "same"] as const;
export type Verdict = (typeof verdicts)[number];

export interface Judged {
  row: RosterRow;
  verdict: Verdict;
  /** For rows that are not used, why; otherwise what the verdict means for this row. */
  says: string;
  changes: readonly FieldChange[];
  /** Conflicting rows of one id: none is used until one is chosen. */
  conflict: boolean;
}
/** Someone with an open enrolment whom the roster does not list. */
export interface Unlisted {
  person: Person;
  enrolment: Enrolment;
}
/** Somebody new who may be someone known, or listed, under another id. Asked, never guessed. */
export interface Likeness {
  row: RosterRow;
  /** The other id. */
  sourcedId: string;
  /** The other's name, and where it is from. */
  other: string;
  because: string;
}
export interface Reconciled {
  rows: Judged[];
  missing: Unlisted[];
  /** Added by hand or by code, of a section that the roster covers, and not listed: they stay. */
  byHand: Unlisted[];
  /** Possible same people that nobody has answered yet. */
  questions: Likeness[];
  counts: Record<Verdict, number>;
  /** Codes of sections that occur in the input and that the course lacks. */
  newSections: string[];
  /** Codes that occur, known or accepted as new: what a complete roster covers. */
  covered: string[];
  /** People whom usable rows list, by those codes. */
  sizes: Record<string, number>;
  /** Codes in rows that could not be used because the course has no such section. */
  unknownSections: string[];
}
export interface ReconcileOptions {
  /** A partial roster: nobody is missing. */
  partial: boolean;
  /** Section codes the coordinator accepts as new. In a course without sections all are. */
  acceptedSections: string[];
  /** Rows chosen among conflicting ones, as `file:line`. */
  chosen: string[];
  /** Answers to possible same people: a new id, and the id whose person it is, or null for two people. */
  samePeople: Record<string, string | null>;
  now: number;
}

/** The rows of an intake while they are judged: a verdict each, the id each names, and which are settled. */
export class Judging {
  readonly judged: Judged[] = [];
  /** The id of each row. */
  readonly known: Known[] = [];
  /** Known people with an open enrolment beside the section of a row of theirs. */
  readonly elsewhere = new Set<Known>();
  private readonly settled: Uint8Array;
  constructor(
    rows: RosterRow[],
    readonly ids: Ids,
    samePeople: Record<string, string | null>,
  ) {
    this.settled = new Uint8Array(rows.length);
    const answers = new Map(Object.entries(samePeople));
    for (let at = 0; at < rows.length; at++) {
      const row = rows[at] as RosterRow;
      const known = ids.enter(answers.get(row.sourcedId) ?? row.sourcedId, at);
      const changes = known.person ? changesTo(known.person, row) : noChanges;
      this.judged.push({ row, verdict: "same", says: "", changes, conflict: false });
      this.known.push(known);
    }
  }
  isOpen = (at: number): boolean => this.settled[at] === 0;
  settle(at: number, verdict: Verdict, says: string): void {
    const entry = this.judged[at] as Judged;
    entry.verdict = verdict;
    entry.says = says;
    this.settled[at] = 1;
  }
  /** The numbers and rows of an id that are not settled yet. */
  openRows(known: Known): { at: number; row: RosterRow }[] {
    return this.ids
      .rowsOf(known)
      .filter(this.isOpen)
      .map((at) => ({ at, row: (this.judged[at] as Judged).row }));
  }
}
export const rowKey = (row: Pick<RosterRow, "file" | "line">): string => `${row.file}:${row.line}`;

/** A row that is not used: it is listed and offered for mending. Plain repeats of a used row are not. */
export const isUnusable = ({ verdict, conflict }: Pick<Judged, "verdict" | "conflict">): boolean =>
  verdict === "unreadable" || verdict === "clash" || (verdict === "duplicate" && conflict);

/** A row that the intake acts on. */
export const isUsed = (judged: Pick<Judged, "verdict" | "conflict">): boolean =>
  judged.verdict !== "duplicate" && !isUnusable(judged);
