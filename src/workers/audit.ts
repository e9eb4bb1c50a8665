/** The audit of the published plan with the draft, given as commands, away from the page. No logic of its own. */
import { type Command, replay } from "../core/commands.ts";
import type { Plan } from "../core/plan/types.ts";
import { type Audit, audit } from "../core/reach/audit/audit.ts";
import type { Finding } from "../core/reach/audit/finding.ts";
import { usualLayer } from "../core/reach/audit/sightlines.ts";
import { reachAt } from "../core/reach/reach.ts";
import { type SightlineChange, sightlineChange } from "../core/review/meetings.ts";
import { type Mend, mendsOf } from "../core/review/mends/mends.ts";
import { answerWith, type Failed, type Told } from "./told.ts";

export interface AuditSubject {
  commands: Command[];
  /** When the draft is applied, and the moment that is looked at, epoch milliseconds. */
  now: number;
  t: number;
  layerId: string | null;
  /** What of the draft is to be published, where something is left out: what it adds is asked of that. */
  taken: Command[] | null;
}
export type AuditQuestion =
  | { kind: "audit"; id: number; subject: AuditSubject }
  | { kind: "mends"; id: number; subject: AuditSubject; finding: Finding };
export type AuditMessage =
  | { kind: "audited"; id: number; audit: Audit; added: Added }
  | { kind: "mended"; id: number; mends: Mend[] }
  | Failed;
/** How many students the draft newly strands, and lets see what is not meant for them later. */
export interface Added {
  stranded: number;
  leaks: number;
  /** What is found that was not before, with the students whom it touches newly. */
  findings: Finding[];
  /** Between the groups that sightlines are counted between; null where there are none. */
  sightlines: SightlineChange | null;
}

let drafted: { from: Plan; key: string; plan: Plan } | null = null;

/** The plan as drafted, the same value as long as the draft is the same, so that what was found out of it is kept. */
function planOf({ plan }: Told, { commands, now }: AuditSubject): Plan {
  if (commands.length === 0) return plan;
  const key = commands.map(({ id }) => id).join();
  if (drafted?.from !== plan || drafted.key !== key)
    drafted = { from: plan, key, plan: replay(plan, commands, { now }).plan };
  return drafted.plan;
}

const touched = (findings: Finding[], kind: Finding["kind"]) =>
  new Set(
    findings.filter((one) => one.kind === kind).flatMap(({ key, personIds }) => personIds.map((id) => `${key} ${id}`)),
  );

/** Students of what is found now and was not before. */
function newly(before: Finding[], after: Finding[], kind: Finding["kind"]): number {
  const known = touched(before, kind);
  return new Set(
    [...touched(after, kind)].filter((pair) => !known.has(pair)).map((pair) => pair.slice(pair.lastIndexOf(" "))),
  ).size;
}

/** What the review warns of: found, not asked about, and not let stand. */
function addedFindings(before: Finding[], after: Finding[]): Finding[] {
  const known = new Map(before.map((one) => [one.key, one]));
  return after.flatMap((one) => {
    if (one.asks || one.accepted !== null || one.kind === "sightline" || one.kind === "moved earlier") return [];
    const was = known.get(one.key);
    if (!was) return [one];
    const there = new Set(was.personIds);
    const personIds = one.personIds.filter((id) => !there.has(id));
    return personIds.length > 0 ? [{ ...one, personIds }] : [];
  });
}

function answer(published: Told, request: AuditQuestion): AuditMessage {
  const { id, subject } = request;
  const plan = planOf(published, subject);
  const { progress } = published;
  if (request.kind === "mends")
    return {
      id,
      kind: "mended",
      mends: mendsOf(plan, progress, subject.t, request.finding, subject.layerId ?? undefined),
    };
  const drafts = plan !== published.plan;
  const made = audit(plan, progress, subject.t, subject.layerId ?? undefined, drafts ? published.plan : null);
  const layerId = subject.layerId ?? usualLayer(plan);
  const added: Added = { stranded: 0, leaks: 0, findings: [], sightlines: null };
  if (drafts) {
    const then = published.plan;
    const now = subject.taken ? replay(then, subject.taken, subject).plan : plan;
    const before = audit(then, progress, subject.t, layerId).findings;
    const after = now === plan ? made.findings : audit(now, progress, subject.t, layerId, then).findings;
    added.stranded = newly(before, after, "stranded");
    added.leaks = newly(before, after, "leak");
    added.findings = addedFindings(before, after);
    if (layerId !== null && then.layers[layerId] && now.layers[layerId])
      added.sightlines = sightlineChange(
        reachAt(then, progress, subject.t),
        reachAt(now, progress, subject.t),
        layerId,
      );
  }
  return { id, kind: "audited", audit: made, added };
}

answerWith("The audit", answer);
