/** Reconciling an intake: every row gets exactly one verdict, before anything changes. Source: semantics.md section 2. */
import { compareNames, compareText, holdsAt } from "../plan/lookup.ts";
import type { Enrolment, Plan, Section } from "../plan/types.ts";
import { judgeClashes } from "./clashes.ts";
import { fold } from "./fold.ts";
import { Ids, type Known } from "./known.ts";
import { findLikenesses } from "./likeness.ts";
import { judgeRepeats } from "./repeats.ts";
import type { RosterRow } from "./rows.ts";
import {
  isUnusable,
  isUsed,
  type Judged,
  Judging,
  type Reconciled,
  type ReconcileOptions,
  type Unlisted,
  type Verdict,
  verdicts,
} from "./verdict.ts";

/** The sections of a course by their folded codes; each spelling is folded once. */
class Codes {
  private readonly folded = new Map<string, string>();
  readonly sections: Map<string, Section>;
  private readonly bySection: Map<string, string>;
  constructor(private readonly plan: Plan) {
    this.bySection = new Map(Object.values(plan.sections).map(({ id, code }) => [id, fold(code)]));
    this.sections = new Map(Object.values(plan.sections).map((section) => [fold(section.code), section]));
  }
  of(code: string): string {
    const known = this.folded.get(code);
    if (known !== undefined) return known;
    const made = fold(code);
    this.folded.set(code, made);
    return made;
  }
  ofEnrolment = ({ sectionId }: Enrolment): string => (sectionId === null ? "" : (this.bySection.get(sectionId) ?? ""));
  say = ({ sectionId }: Enrolment): string => this.plan.sections[sectionId ?? ""]?.code ?? "no section";
}

/** Verdicts of all rows against the plan. Nothing is changed. */
export function reconcile(plan: Plan, rows: RosterRow[], options: ReconcileOptions): Reconciled {
  const codes = new Codes(plan);
  const judging = new Judging(rows, new Ids(plan), options.samePeople);
  const { judged } = judging;
  const unknownSections = judgeReadability(judging, codes, options);
  const chosen = new Set(options.chosen);
  for (const known of judging.ids.repeated) judgeRepeats(judging, known, chosen);
  judgeClashes(judging);
  for (let at = 0; at < judged.length; at++) if (judging.isOpen(at)) judgeEnrolment(judging, at, codes, options.now);
  const covered = sectionsCovered(judged, codes);
  const { missing, byHand } = options.partial
    ? { missing: [], byHand: [] }
    : unlisted(judging, codes, covered, options.now);
  const counts = Object.fromEntries(verdicts.map((verdict) => [verdict, 0])) as Record<Verdict, number>;
  for (const { verdict } of judged) counts[verdict]++;
  return {
    rows: judged,
    missing,
    byHand,
    questions: findLikenesses(judging, options.samePeople),
    counts,
    newSections: [...covered]
      .filter(([code]) => !codes.sections.has(code))
      .map(([, code]) => code)
      .sort(compareText),
    covered: [...covered.values()].sort(compareText),
    sizes: sectionSizes(judged, codes, covered),
    unknownSections,
  };
}

/** Settles what cannot be read, and gives the codes that the course does not have. */
function judgeReadability(judging: Judging, codes: Codes, { acceptedSections }: ReconcileOptions): string[] {
  const accepted = new Set(acceptedSections.map(fold));
  const unknown = new Map<string, string>();
  judging.judged.forEach(({ row: { problem, sectionCode } }, at) => {
    if (problem !== null) {
      judging.settle(at, "unreadable", problem);
      return;
    }
    const code = codes.of(sectionCode);
    if (codes.sections.size === 0 || codes.sections.has(code) || accepted.has(code)) return;
    unknown.set(code, sectionCode);
    judging.settle(at, "unreadable", `section: the course has no section "${sectionCode}"`);
  });
  return [...unknown.values()].sort(compareText);
}

/** What a usable row means for its person's place in the course, and which fields it changes. */
function judgeEnrolment(judging: Judging, at: number, codes: Codes, now: number): void {
  const entry = judging.judged[at] as Judged;
  const { row } = entry;
  const known = judging.known[at] as Known;
  const own = codes.of(row.sectionCode);
  let here = false;
  let ended = false;
  let open: Enrolment[] | null = null;
  for (const enrolment of known.enrolments) {
    if (enrolment.role !== row.role) continue;
    if (!holdsAt(enrolment, now)) ended = true;
    else if (codes.ofEnrolment(enrolment) === own) here = true;
    else if (open) open.push(enrolment);
    else open = [enrolment];
  }
  if (open) judging.elsewhere.add(known);
  if (here) {
    if (entry.changes.length > 0) judging.settle(at, "changed", entry.changes.map(({ field }) => field).join(", "));
    else judging.settle(at, "same", "");
    return;
  }
  if (!open) {
    if (ended) judging.settle(at, "returning", `left the course earlier; comes back to ${row.sectionCode}`);
    else judging.settle(at, "new", `joins ${row.sectionCode}`);
    return;
  }
  const listed = new Set(
    judging.ids
      .rowsOf(known)
      .map((other) => judging.judged[other] as Judged)
      .filter(isUsed)
      .map((other) => codes.of(other.row.sectionCode)),
  );
  const from = open.map(codes.say).join(" and ");
  if (listed.size === 1 && open.every((enrolment) => !listed.has(codes.ofEnrolment(enrolment))))
    judging.settle(at, "moved", `from ${from} to ${row.sectionCode}`);
  else judging.settle(at, "new", `a further section, beside ${from}`);
}

/** Sections that occur in rows: known ones in any row, others in rows that could be read. Folded code to code. */
function sectionsCovered(judged: Judged[], codes: Codes): Map<string, string> {
  const covered = new Map<string, string>();
  for (const { row, verdict } of judged) {
    const code = codes.of(row.sectionCode);
    if (code === "" || covered.has(code)) continue;
    const section = codes.sections.get(code);
    if (section || verdict !== "unreadable") covered.set(code, section?.code ?? row.sectionCode);
  }
  return covered;
}

function sectionSizes(judged: Judged[], codes: Codes, covered: Map<string, string>): Record<string, number> {
  const sizes = new Map([...covered.keys()].map((code) => [code, 0]));
  for (const entry of judged) {
    const code = codes.of(entry.row.sectionCode);
    if (isUsed(entry)) sizes.set(code, (sizes.get(code) ?? 0) + 1);
  }
  return Object.fromEntries([...covered].map(([code, said]) => [said, sizes.get(code) ?? 0]));
}

/** Students of covered sections whom no row lists there, not even an unusable one of theirs. */
function unlisted({ ids, judged, elsewhere }: Judging, codes: Codes, covered: Map<string, string>, now: number) {
  const missing: Unlisted[] = [];
  const byHand: Unlisted[] = [];
  for (const known of ids) {
    const { person } = known;
    // Whoever is listed where they are, and is nowhere else, is not missing anywhere.
    if (!person || (ids.isListed(known) && !elsewhere.has(known))) continue;
    for (const enrolment of known.enrolments) {
      if (enrolment.role !== "student" || !holdsAt(enrolment, now)) continue;
      const code = codes.ofEnrolment(enrolment);
      if (!covered.has(code)) continue;
      const own = ids.rowsOf(known).map((at) => judged[at] as Judged);
      if (own.some(({ row }) => codes.of(row.sectionCode) === code)) continue;
      if (enrolment.origin !== "roster") byHand.push({ person, enrolment });
      else if (!own.some((entry) => isUnusable(entry) || entry.verdict === "moved"))
        missing.push({ person, enrolment });
    }
  }
  const byName = (a: Unlisted, b: Unlisted) =>
    compareNames(a.person, b.person) || compareText(a.person.sourcedId, b.person.sourcedId);
  return { missing: missing.sort(byName), byHand: byHand.sort(byName) };
}
