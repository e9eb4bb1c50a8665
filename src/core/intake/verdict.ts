/** What reconciling answers, row by row. Source: semantics.md section 2. */
import type { Enrolment, Person } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";
import { changesTo, type FieldChange, noChanges } from "./facts.ts";
import type { Ids, RosterIdentity } from "./known.ts";
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
/** What two who may be the same have in common, the likeliest first. */
export type LikenessKind = "zeros" | "login" | "e-mail" | "birthday" | "section";
/** Somebody new who may be someone known, or listed, under another id. Asked, never guessed. */
export interface Likeness {
  row: RosterRow;
  /** The other id. */
  sourcedId: string;
  /** The other's name, and where it is from. */
  other: string;
  kind: LikenessKind;
  because: string;
}
/** What a list of changes names as ended; an empty section code: every section of that person. */
export interface Ended {
  sourcedId: string;
  sectionCode: string;
}
/** A section that would lose more than a tenth of its students at once. */
export interface ManyLeaving {
  code: string;
  leaving: number;
  of: number;
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
  /** Sections that would lose more than a tenth of their students: asked about, whatever the verdicts. */
  manyLeaving: ManyLeaving[];
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
  /**
   * Of a list that holds only what changed, what it names as ended: whoever else it does not list is not missing. Null of
   * whole lists.
   */
  changesOnly: { ended: Ended[] } | null;
  now: number;
}

/** A whole roster about which nobody has answered anything yet. */
export const wholeRoster: Omit<ReconcileOptions, "now"> = {
  partial: false,
  acceptedSections: [],
  chosen: [],
  samePeople: {},
  changesOnly: null,
};

const open = 255;
/** The first three are those of rows that are not used, in conflict or not. */
const numbers = Object.fromEntries(verdicts.map((verdict, number) => [verdict, number])) as Record<Verdict, number>;

/**
 * The rows of an intake while they are judged: a verdict each, the id each names, and which are settled. Most rows
 * are the same as what is stored, so that what is said beyond the verdict is kept only where there is something.
 */
export class Judging {
  /** The id of each row. */
  readonly known: RosterIdentity[];
  /** The folded section codes that occur, in the order of their first rows, and which of them each row has. */
  readonly codes: string[] = [];
  readonly codeOf: Int32Array;
  readonly changes = new Map<number, readonly FieldChange[]>();
  /** Known people with an open enrolment beside the section of a row of theirs. */
  readonly elsewhere = new Set<RosterIdentity>();
  /** The groups of clashing rows that somebody may be meant by: the sections that those rows name. */
  private readonly clashing = new Map<RosterIdentity, ReadonlySet<string>[]>();
  private readonly sections = new Map<RosterIdentity, { used: ReadonlySet<string>; listed: ReadonlySet<string> }>();
  private readonly verdicts: Uint8Array;
  private readonly says = new Map<number, string>();
  private readonly conflicts = new Set<number>();
  constructor(
    readonly rows: RosterRow[],
    readonly ids: Ids,
    samePeople: Record<string, string | null>,
  ) {
    this.known = new Array(rows.length);
    this.codeOf = new Int32Array(rows.length);
    this.verdicts = new Uint8Array(rows.length).fill(open);
    const answers = new Map(Object.entries(samePeople));
    const spelled = new Map<string, number>();
    const numbered = new Map<string, number>();
    for (let at = 0; at < rows.length; at++) {
      const row = rows[at] as RosterRow;
      const answer = answers.size > 0 ? answers.get(row.sourcedId) : null;
      const known = ids.enter(answer ?? row.sourcedId, at);
      const changes = known.person ? changesTo(known.person, row, Boolean(answer)) : noChanges;
      if (changes.length > 0) this.changes.set(at, changes);
      this.known[at] = known;
      const { sectionCode } = row;
      let code = spelled.get(sectionCode);
      if (code === undefined) {
        const folded = fold(sectionCode);
        code = numbered.get(folded) ?? this.codes.push(folded) - 1;
        numbered.set(folded, code);
        spelled.set(sectionCode, code);
      }
      this.codeOf[at] = code;
    }
  }
  /** The folded section code of a row. */
  code = (at: number): string => this.codes[this.codeOf[at] as number] as string;
  isOpen = (at: number): boolean => this.verdicts[at] === open;
  verdictOf = (at: number): Verdict => verdicts[this.verdicts[at] as number] as Verdict;
  settle(at: number, verdict: Verdict, says: string, conflict = false): void {
    this.verdicts[at] = numbers[verdict];
    if (says !== "") this.says.set(at, says);
    if (conflict) this.conflicts.add(at);
  }
  /** Notes that rows clash over a login that several would have: any of those may be the one who is meant. */
  meansAnyOf(holders: readonly RosterIdentity[], rows: readonly number[]): void {
    const codes = new Set(rows.map(this.code));
    for (const known of holders) {
      const groups = this.clashing.get(known);
      if (groups) groups.push(codes);
      else this.clashing.set(known, [codes]);
    }
  }
  /** Whether a row that clashes may mean somebody; in a section, where one is named. */
  isMeantByClash = (known: RosterIdentity, code?: string): boolean =>
    this.clashing.get(known)?.some((codes) => code === undefined || codes.has(code)) ?? false;
  isUsed = (at: number): boolean => (this.verdicts[at] as number) > numbers.clash;
  isUnusable = (at: number): boolean => isUnusable({ verdict: this.verdictOf(at), conflict: this.conflicts.has(at) });
  /** The sections in which usable rows of an id list it, and any rows: asked once repeats and clashes are settled. */
  sectionsOf(known: RosterIdentity): { used: ReadonlySet<string>; listed: ReadonlySet<string> } {
    let found = this.sections.get(known);
    if (!found) {
      const rows = this.ids.rowsOf(known);
      found = { used: new Set(rows.filter(this.isUsed).map(this.code)), listed: new Set(rows.map(this.code)) };
      this.sections.set(known, found);
    }
    return found;
  }
  /** The numbers and rows of an id that are not settled yet. */
  openRows(known: RosterIdentity): { at: number; row: RosterRow }[] {
    return this.ids
      .rowsOf(known)
      .filter(this.isOpen)
      .map((at) => ({ at, row: this.rows[at] as RosterRow }));
  }
  counts(): Record<Verdict, number> {
    const found = new Array<number>(verdicts.length).fill(0);
    for (const verdict of this.verdicts) (found[verdict] as number)++;
    return Object.fromEntries(verdicts.map((verdict, at) => [verdict, found[at]])) as Record<Verdict, number>;
  }
  judged(): Judged[] {
    return this.rows.map((row, at) => {
      const verdict = this.verdictOf(at);
      // Of a row that is the same there is nothing more to say, and almost all are.
      if (verdict === "same") return { row, verdict, says: "", changes: noChanges, conflict: false };
      const [says, changes] = [this.says.get(at) ?? "", this.changes.get(at) ?? noChanges];
      return { row, verdict, says, changes, conflict: this.conflicts.has(at) };
    });
  }
}
export const rowKey = (row: Pick<RosterRow, "file" | "line">): string => `${row.file}:${row.line}`;

/** A row that is not used: it is listed and offered for mending. Plain repeats of a used row are not. */
export const isUnusable = ({ verdict, conflict }: Pick<Judged, "verdict" | "conflict">): boolean =>
  verdict === "unreadable" || verdict === "clash" || (verdict === "duplicate" && conflict);

/** A row that the intake acts on. */
export const isUsed = (judged: Pick<Judged, "verdict" | "conflict">): boolean =>
  judged.verdict !== "duplicate" && !isUnusable(judged);
