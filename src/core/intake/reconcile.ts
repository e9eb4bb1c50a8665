/** Reconciling an intake: every row gets exactly one verdict, before anything changes. Source: semantics.md section 2. */
import { compareText, holdsAt, lookup } from "../plan/lookup.ts";
import type { Enrolment, Person, Plan } from "../plan/types.ts";
import type { RosterRow } from "./rows.ts";

export const verdicts = ["unreadable", "duplicate", "clash", "returning", "moved", "new", "changed", "same"] as const;
export type Verdict = (typeof verdicts)[number];

export interface FieldChange {
  field: string;
  from: string;
  to: string;
}
export interface Judged {
  row: RosterRow;
  verdict: Verdict;
  /** For rows that are not used, why; otherwise what the verdict means for this row. */
  says: string;
  changes: FieldChange[];
  /** Conflicting rows of one id: none is used until one is chosen. */
  conflict: boolean;
}
export interface Missing {
  person: Person;
  enrolment: Enrolment;
}
export interface Reconciled {
  rows: Judged[];
  missing: Missing[];
  counts: Record<Verdict, number>;
  /** Codes of sections that occur in the input and that the course lacks. */
  newSections: string[];
  /** Codes that occur, known or accepted as new: what a complete roster covers. */
  covered: string[];
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
  now: number;
}

export const rowKey = (row: Pick<RosterRow, "file" | "line">): string => `${row.file}:${row.line}`;
const fold = (text: string) => text.normalize("NFC").toLowerCase();
const personFields = ["username", "email", "givenName", "familyName"] as const;

/** Everything a row says about the person, as field and value; blank cells say nothing. */
function facts(row: RosterRow): [string, string][] {
  const named = personFields.map((field): [string, string] => [field, row[field]]);
  return [...named, ...Object.entries(row.attributes)].filter(([, value]) => value !== "");
}
const comparable = (field: string, value: string) =>
  field === "username" || field === "email" ? fold(value) : value.normalize("NFC");

function disagree(a: RosterRow, b: RosterRow): boolean {
  const said = new Map(facts(a));
  return facts(b).some(([field, value]) => {
    const other = said.get(field);
    return other !== undefined && comparable(field, other) !== comparable(field, value);
  });
}
const equal = (a: RosterRow, b: RosterRow): boolean =>
  a.role === b.role &&
  facts(a).length === facts(b).length &&
  !disagree(a, b) &&
  facts(b).every(([field]) => facts(a).some(([f]) => f === field));

const stored = (person: Person, field: string): string =>
  field in person && field !== "attributes" ? String(person[field as "email"] ?? "") : (person.attributes[field] ?? "");

export function changesTo(person: Person, row: RosterRow): FieldChange[] {
  return facts(row)
    .map(([field, to]) => ({ field, from: stored(person, field), to }))
    .filter(({ from, to }) => from.normalize("NFC") !== to.normalize("NFC"));
}

export function reconcile(plan: Plan, rows: RosterRow[], options: ReconcileOptions): Reconciled {
  const { now } = options;
  const bySourcedId = new Map(Object.values(plan.people).map((person) => [person.sourcedId, person]));
  const sections = new Map(Object.values(plan.sections).map((section) => [fold(section.code), section]));
  const accepted = new Set(options.acceptedSections.map(fold));
  const anyNew = sections.size === 0;
  const judged: Judged[] = rows.map((row) => ({
    row,
    verdict: "same",
    says: "",
    changes: [],
    conflict: false,
  }));
  const open = new Set(judged);
  const settle = (entry: Judged, verdict: Verdict, says: string) => {
    Object.assign(entry, { verdict, says });
    open.delete(entry);
  };

  const unknown = new Map<string, string>();
  for (const entry of judged) {
    const { row } = entry;
    const code = fold(row.sectionCode);
    if (row.problem) settle(entry, "unreadable", row.problem);
    else if (!anyNew && !sections.has(code) && !accepted.has(code)) {
      unknown.set(code, row.sectionCode);
      settle(entry, "unreadable", `section: the course has no section "${row.sectionCode}"`);
    }
  }

  judgeRepeats(open, new Set(options.chosen), settle);
  judgeClashes(open, bySourcedId, settle);

  const listed = new Map<string, Set<string>>();
  for (const { row } of open) {
    const codes = listed.get(row.sourcedId) ?? new Set();
    listed.set(row.sourcedId, codes.add(fold(row.sectionCode)));
  }
  const { enrolmentsOfPerson } = lookup(plan);
  const codeOf = (enrolment: Enrolment) => fold(plan.sections[enrolment.sectionId ?? ""]?.code ?? "");
  for (const entry of [...open]) {
    const { row } = entry;
    const person = bySourcedId.get(row.sourcedId);
    const enrolments = person ? (enrolmentsOfPerson.get(person.id) ?? []).filter(({ role }) => role === row.role) : [];
    const current = enrolments.filter((enrolment) => holdsAt(enrolment, now));
    if (person) entry.changes = changesTo(person, row);
    const codes = listed.get(row.sourcedId) as Set<string>;
    const here = current.some((enrolment) => codeOf(enrolment) === fold(row.sectionCode));
    const elsewhere = current.filter((enrolment) => !codes.has(codeOf(enrolment)));
    if (current.length === 0 && enrolments.length > 0)
      settle(entry, "returning", `left the course earlier; comes back to ${row.sectionCode}`);
    else if (!here && codes.size === 1 && elsewhere.length > 0 && current.length === elsewhere.length) {
      const from = elsewhere
        .map((enrolment) => plan.sections[enrolment.sectionId ?? ""]?.code ?? "no section")
        .join(" and ");
      settle(entry, "moved", `from ${from} to ${row.sectionCode}`);
    } else if (!here)
      settle(
        entry,
        "new",
        current.length > 0
          ? `a further section, beside ${current.map((e) => plan.sections[e.sectionId ?? ""]?.code ?? "none").join(" and ")}`
          : `joins ${row.sectionCode}`,
      );
    else if (entry.changes.length > 0) settle(entry, "changed", entry.changes.map(({ field }) => field).join(", "));
    else settle(entry, "same", "");
  }

  const unusable = new Set(judged.filter((entry) => isUnusable(entry)).map(({ row }) => row.sourcedId));
  const occurring = new Map<string, string>();
  for (const { row, verdict } of judged) {
    const code = fold(row.sectionCode);
    if (code && (sections.has(code) || verdict !== "unreadable") && !occurring.has(code))
      occurring.set(code, row.sectionCode);
  }
  const moved = new Set(judged.filter(({ verdict }) => verdict === "moved").map(({ row }) => row.sourcedId));
  const missing: Missing[] = [];
  if (!options.partial) {
    for (const enrolment of Object.values(plan.enrolments)) {
      const person = plan.people[enrolment.personId];
      const code = codeOf(enrolment);
      if (!person || enrolment.role !== "student" || enrolment.origin !== "roster" || !holdsAt(enrolment, now))
        continue;
      if (!occurring.has(code) || unusable.has(person.sourcedId)) continue;
      const codes = listed.get(person.sourcedId);
      if (codes?.has(code) || moved.has(person.sourcedId)) continue;
      missing.push({ person, enrolment });
    }
    missing.sort(
      (a, b) =>
        compareText(a.person.familyName, b.person.familyName) || compareText(a.person.givenName, b.person.givenName),
    );
  }

  const counts = Object.fromEntries(verdicts.map((verdict) => [verdict, 0])) as Record<Verdict, number>;
  for (const { verdict } of judged) counts[verdict]++;
  return {
    rows: judged,
    missing,
    counts,
    newSections: [...occurring]
      .filter(([code]) => !sections.has(code))
      .map(([, code]) => code)
      .sort(compareText),
    covered: [...occurring.values()].sort(compareText),
    unknownSections: [...unknown.values()].sort(compareText),
  };
}

/** A row that is not used: it is listed and offered for mending. Plain repeats of a used row are not. */
export const isUnusable = ({ verdict, conflict }: Judged): boolean =>
  verdict === "unreadable" || verdict === "clash" || (verdict === "duplicate" && conflict);

type Settle = (entry: Judged, verdict: Verdict, says: string) => void;

function judgeRepeats(open: Set<Judged>, chosen: Set<string>, settle: Settle): void {
  const byId = new Map<string, Judged[]>();
  for (const entry of open) {
    const list = byId.get(entry.row.sourcedId);
    if (list) list.push(entry);
    else byId.set(entry.row.sourcedId, [entry]);
  }
  for (const entries of byId.values()) {
    if (entries.length === 1) continue;
    const conflicting = entries.some((a, index) =>
      entries
        .slice(index + 1)
        .some(({ row }) =>
          fold(a.row.sectionCode) === fold(row.sectionCode) ? !equal(a.row, row) : disagree(a.row, row),
        ),
    );
    const picked = entries.filter(({ row }) => chosen.has(rowKey(row)));
    if (conflicting && picked.length !== 1) {
      const lines = entries.map(({ row }) => row.line).join(", ");
      for (const entry of entries) {
        entry.conflict = true;
        settle(entry, "duplicate", `lines ${lines} disagree about this person; choose the one that is right`);
      }
      continue;
    }
    const first = new Map<string, Judged>();
    for (const entry of conflicting ? [...picked, ...entries.filter((other) => other !== picked[0])] : entries) {
      const code = fold(entry.row.sectionCode);
      const stands = first.get(code);
      if (!stands && !(conflicting && entry !== picked[0] && picked[0] && disagree(entry.row, picked[0].row)))
        first.set(code, entry);
      else
        settle(
          entry,
          "duplicate",
          stands ? `the same as line ${stands.row.line}` : `line ${picked[0]?.row.line} was chosen instead`,
        );
    }
  }
}

/**
 * Clashes are judged on the state that the usable rows would leave. A row that clashes is not used, so its
 * person keeps the old login, which may clash with another row: ask again until nothing more falls.
 */
function judgeClashes(open: Set<Judged>, bySourcedId: Map<string, Person>, settle: Settle): void {
  for (let again = true; again; ) {
    again = false;
    for (const field of ["username", "email"] as const) {
      const claimed = new Map(
        [...open].filter(({ row }) => row[field] !== "").map(({ row }) => [row.sourcedId, fold(row[field])]),
      );
      const holders = new Map<string, Set<string>>();
      const hold = (value: string | null | undefined, sourcedId: string) => {
        if (value) holders.set(value, (holders.get(value) ?? new Set()).add(sourcedId));
      };
      for (const [sourcedId, value] of claimed) hold(value, sourcedId);
      for (const person of bySourcedId.values()) {
        if (!claimed.has(person.sourcedId)) hold(person[field] && fold(person[field]), person.sourcedId);
      }
      for (const entry of [...open]) {
        const others = [...(holders.get(fold(entry.row[field])) ?? [])].filter((id) => id !== entry.row.sourcedId);
        if (entry.row[field] === "" || others.length === 0) continue;
        settle(
          entry,
          "clash",
          `${field === "email" ? "e-mail" : "username"} ${entry.row[field]} belongs to ${others.join(" and ")}`,
        );
        again = true;
      }
    }
  }
}
