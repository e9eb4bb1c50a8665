/** Reconciling an intake: every row gets exactly one verdict, before anything changes. Source: semantics.md section 2. */
import { compareNames, compareText, holdsAt, openEnrolments } from "../plan/lookup.ts";
import type { Enrolment, Plan, Section } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";
import { judgeClashes } from "./clashes.ts";
import { Ids, type RosterIdentity } from "./known.ts";
import { findLikenesses, meantOtherwise } from "./likeness.ts";
import { judgeRepeats } from "./repeats.ts";
import type { RosterRow } from "./rows.ts";
import {
  type Ended,
  Judging,
  type Likeness,
  type ManyLeaving,
  type Reconciled,
  type ReconcileOptions,
  type Unlisted,
} from "./verdict.ts";

/** The sections of a course by their folded codes. */
class Codes {
  readonly sections: Map<string, Section>;
  constructor(private readonly plan: Plan) {
    this.sections = new Map(Object.values(plan.sections).map((section) => [fold(section.code), section]));
  }
  say = ({ sectionId }: Enrolment): string => this.plan.sections[sectionId ?? ""]?.code ?? "no section";
}

/** Verdicts of all rows against the plan. Nothing is changed. */
export function reconcile(plan: Plan, rows: RosterRow[], options: ReconcileOptions): Reconciled {
  const codes = new Codes(plan);
  const judging = new Judging(rows, new Ids(plan), options.samePeople);
  const unknownSections = judgeReadability(judging, codes, options);
  const chosen = new Set(options.chosen);
  for (const known of judging.ids.repeated) judgeRepeats(judging, known, chosen);
  judgeClashes(judging);
  for (let at = 0; at < rows.length; at++) if (judging.isOpen(at)) judgeEnrolment(judging, at, codes, options.now);
  const covered = sectionsCovered(judging, codes);
  const questions = findLikenesses(judging, options.samePeople);
  const { missing, byHand } = whoLeaves(judging, covered, questions, options);
  return {
    rows: judging.judged(),
    missing,
    byHand,
    questions,
    counts: judging.counts(),
    newSections: [...covered]
      .filter(([code]) => !codes.sections.has(code))
      .map(([, code]) => code)
      .sort(compareText),
    covered: [...covered.values()].sort(compareText),
    sizes: sectionSizes(judging, covered),
    manyLeaving: manyLeaving(plan, judging, missing, options.now),
    unknownSections,
  };
}

/** Settles what cannot be read, and gives the codes that the course does not have. */
function judgeReadability(judging: Judging, codes: Codes, options: ReconcileOptions): string[] {
  const { acceptedSections, changesOnly } = options;
  const accepted = new Set(acceptedSections.map(fold));
  const unknown = new Map<string, string>();
  const lacking = judging.codes.map(
    (code) => codes.sections.size > 0 && !codes.sections.has(code) && !accepted.has(code),
  );
  for (const [at, row] of judging.rows.entries()) {
    if (row.problem !== null) judging.settle(at, "unreadable", row.problem);
    else if (changesOnly && row.givenName === "" && row.familyName === "" && !judging.known[at]?.person)
      // Whoever did not change need not be described again; whoever is new must be.
      judging.settle(
        at,
        "unreadable",
        `${row.sourcedId}: the course does not know them, and the file does not describe them`,
      );
    else if (lacking[judging.codeOf[at] as number]) {
      unknown.set(judging.code(at), row.sectionCode);
      judging.settle(at, "unreadable", `section: the course has no section "${row.sectionCode}"`);
    }
  }
  return [...unknown.values()].sort(compareText);
}

/** What a usable row means for its person's place in the course, and which fields it changes. */
function judgeEnrolment(judging: Judging, at: number, codes: Codes, now: number): void {
  const row = judging.rows[at] as RosterRow;
  const known = judging.known[at] as RosterIdentity;
  const own = judging.code(at);
  let here = false;
  let ended = false;
  /** Places in the list of enrolments. */
  let open: number[] | null = null;
  for (let place = 0; place < known.enrolments.length; place++) {
    const enrolment = known.enrolments[place] as Enrolment;
    if (enrolment.role !== row.role) continue;
    if (!holdsAt(enrolment, now)) ended = true;
    else if (known.codes[place] === own) here = true;
    else if (open) open.push(place);
    else open = [place];
  }
  if (open) judging.elsewhere.add(known);
  if (here) {
    const changes = judging.changes.get(at);
    if (changes) judging.settle(at, "changed", changes.map(({ field }) => field).join(", "));
    else judging.settle(at, "same", "");
    return;
  }
  if (!open) {
    if (ended) judging.settle(at, "returning", `left the course earlier; comes back to ${row.sectionCode}`);
    else judging.settle(at, "new", `joins ${row.sectionCode}`);
    return;
  }
  const { used, listed } = judging.sectionsOf(known);
  const from = open.map((place) => codes.say(known.enrolments[place] as Enrolment)).join(" and ");
  if (used.size === 1 && open.every((place) => !listed.has(known.codes[place] as string)))
    judging.settle(at, "moved", `from ${from} to ${row.sectionCode}`);
  else judging.settle(at, "new", `a further section, beside ${from}`);
}

/** Sections that occur in rows: known ones in any row, others in rows that could be read. Folded code to code. */
function sectionsCovered(judging: Judging, codes: Codes): Map<string, string> {
  const readable = new Int32Array(judging.codes.length).fill(-1);
  for (let at = judging.rows.length - 1; at >= 0; at--)
    if (judging.verdictOf(at) !== "unreadable") readable[judging.codeOf[at] as number] = at;
  const covered = new Map<string, string>();
  for (const [number, code] of judging.codes.entries()) {
    const section = codes.sections.get(code);
    const said = section?.code ?? judging.rows[readable[number] as number]?.sectionCode;
    if (code !== "" && said !== undefined) covered.set(code, said);
  }
  return covered;
}

function sectionSizes(judging: Judging, covered: Map<string, string>): Record<string, number> {
  const sizes = new Int32Array(judging.codes.length);
  for (let at = 0; at < judging.rows.length; at++)
    if (judging.isUsed(at)) (sizes[judging.codeOf[at] as number] as number)++;
  return Object.fromEntries(
    judging.codes.flatMap((code, number) => (covered.has(code) ? [[covered.get(code), sizes[number]]] : [])),
  );
}

type Leaving = Pick<Reconciled, "missing" | "byHand">;

/** Whom the roster does not list: of a whole list, of a part of one (nobody), or of a list of changes. */
function whoLeaves(
  judging: Judging,
  covered: Map<string, string>,
  questions: readonly Likeness[],
  { partial, changesOnly, now }: ReconcileOptions,
): Leaving {
  if (changesOnly) return namedAsEnded(judging, changesOnly.ended, now);
  return partial ? { missing: [], byHand: [] } : unlisted(judging, covered, questions, now);
}

/** Open enrolments that a list of changes names as ended, if no row of it lists them again. */
function namedAsEnded(judging: Judging, ended: readonly Ended[], now: number): Leaving {
  const found = new Map<Enrolment, Unlisted>();
  for (const { sourcedId, sectionCode } of ended) {
    const known = judging.ids.of(sourcedId);
    if (!known?.person) continue;
    const { person } = known;
    const { listed } = judging.sectionsOf(known);
    for (const [place, enrolment] of known.enrolments.entries()) {
      const code = known.codes[place] as string;
      const isNamed = sectionCode === "" || code === fold(sectionCode);
      if (isNamed && holdsAt(enrolment, now) && !listed.has(code)) found.set(enrolment, { person, enrolment });
    }
  }
  const all = [...found.values()].sort(byName);
  return {
    missing: all.filter(({ enrolment }) => enrolment.origin === "roster"),
    byHand: all.filter(({ enrolment }) => enrolment.origin !== "roster"),
  };
}

/** Sections of which more than a tenth of the students would leave: whether missing, moved on, or named as ended. */
function manyLeaving(plan: Plan, judging: Judging, missing: readonly Unlisted[], now: number): ManyLeaving[] {
  const leaves = new Set(missing.map(({ enrolment }) => enrolment));
  for (let at = 0; at < judging.rows.length; at++)
    if (judging.verdictOf(at) === "moved")
      for (const enrolment of judging.known[at]?.enrolments ?? []) leaves.add(enrolment);
  if (leaves.size === 0) return [];
  const counts = new Map<string, { leaving: number; of: number }>();
  for (const enrolment of openEnrolments(plan, now)) {
    if (enrolment.role !== "student" || enrolment.sectionId === null) continue;
    const count = counts.get(enrolment.sectionId) ?? { leaving: 0, of: 0 };
    counts.set(enrolment.sectionId, { leaving: count.leaving + Number(leaves.has(enrolment)), of: count.of + 1 });
  }
  return [...counts]
    .filter(([, { leaving, of }]) => leaving * 10 > of)
    .map(([id, count]) => ({ code: plan.sections[id]?.code ?? "", ...count }))
    .sort((a, b) => compareText(a.code, b.code));
}

/** Students of covered sections whom no row lists there, not even an unusable one that may mean them. */
function unlisted(
  judging: Judging,
  covered: Map<string, string>,
  questions: readonly Likeness[],
  now: number,
): Leaving {
  const { ids, elsewhere } = judging;
  const meant = meantOtherwise(judging, questions);
  const missing: Unlisted[] = [];
  const byHand: Unlisted[] = [];
  // Whoever is listed where they are, and is nowhere else, is not missing anywhere.
  for (const known of [...ids.unlisted(), ...elsewhere]) {
    const { person } = known;
    if (!person || meant.has(known)) continue;
    for (const [place, enrolment] of known.enrolments.entries()) {
      if (enrolment.role !== "student" || !holdsAt(enrolment, now)) continue;
      const code = known.codes[place] as string;
      if (!covered.has(code)) continue;
      const rows = judging.ids.rowsOf(known);
      if (rows.some((at) => judging.code(at) === code) || judging.isMeantByClash(known, code)) continue;
      if (enrolment.origin !== "roster") byHand.push({ person, enrolment });
      else if (
        !judging.isMeantByClash(known) &&
        !rows.some((at) => judging.isUnusable(at) || judging.verdictOf(at) === "moved")
      )
        missing.push({ person, enrolment });
    }
  }
  return { missing: missing.sort(byName), byHand: byHand.sort(byName) };
}

const byName = (a: Unlisted, b: Unlisted): number =>
  compareNames(a.person, b.person) || compareText(a.person.sourcedId, b.person.sourcedId);
