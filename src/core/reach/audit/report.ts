/** The audit as a report: what a coordinator can hand to someone who asks whether sections are kept apart. */

import { sayInstant, wallOf } from "../../clock/local-time.ts";
import { writeCsv } from "../../formats/text.ts";
import { fullName } from "../../plan/lookup.ts";
import type { Plan } from "../../plan/types.ts";
import type { Audit } from "./audit.ts";
import { type FindingKind, findingKinds, kindWords } from "./finding.ts";

export interface Report {
  course: string;
  term: string;
  /** Of the plan that is published. */
  revision: number;
  /** When it was made, in the course's time zone. */
  made: string;
  students: number;
  items: number;
  totals: { kind: FindingKind; name: string; open: number; accepted: number }[];
  sightlines: {
    layer: string;
    pairs: number;
    possible: number;
    surfaces: { name: string; pairs: number; alone: number }[];
  } | null;
  findings: {
    kind: FindingKind;
    name: string;
    subject: string;
    says: string;
    why: string;
    since: string | null;
    accepted: string | null;
    students: { id: string; name: string }[];
  }[];
}

export function reportOf(plan: Plan, audit: Audit, facts: { revision: number; t: number; students: number }): Report {
  const { timeZone } = plan.course;
  const of = (kind: FindingKind) => audit.findings.filter((one) => one.kind === kind);
  const lines = audit.sightlines;
  return {
    course: `${plan.course.code} ${plan.course.title}`,
    term: plan.course.term,
    revision: facts.revision,
    made: wallOf(facts.t, timeZone).replace("T", " "),
    students: facts.students,
    items: Object.keys(plan.items).length,
    totals: findingKinds.map((kind) => ({
      kind,
      name: kindWords[kind].name,
      open: of(kind).filter(({ accepted }) => !accepted).length,
      accepted: of(kind).filter(({ accepted }) => accepted).length,
    })),
    sightlines: lines && {
      layer: plan.layers[lines.layerId]?.name ?? "",
      pairs: lines.pairs,
      possible: lines.possible,
      surfaces: lines.surfaces.map(({ surface, pairs, alone }) => ({ name: surface.says, pairs, alone })),
    },
    findings: audit.findings.map((one) => ({
      kind: one.kind,
      name: kindWords[one.kind].name,
      subject: one.subject,
      says: one.says,
      why: one.why,
      since: one.from === null ? null : sayInstant(one.from, timeZone),
      accepted: one.accepted?.reason ?? null,
      students: one.personIds.map((id) => {
        const person = plan.people[id];
        return { id: person?.sourcedId ?? "", name: person ? fullName(person) : "" };
      }),
    })),
  };
}

/** A line a finding, the students in the last column; what a spreadsheet would run as a formula is made plain. */
export function reportCsv(report: Report): string {
  const rows = report.findings.map((one) => [
    one.name,
    one.subject,
    one.says,
    one.why,
    one.since ?? "",
    one.accepted === null ? "open" : `accepted: ${one.accepted}`,
    String(one.students.length),
    one.students.map(({ id, name }) => `${id} ${name}`).join("; "),
  ]);
  const head = ["Finding", "What", "Says", "Why", "Since", "State", "Students", "Who"];
  return writeCsv(head, rows);
}
