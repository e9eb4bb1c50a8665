/** The audit of the published plan with the draft, given as commands, away from the page. No logic of its own. */
import { type Command, replay } from "../core/commands.ts";
import type { Plan } from "../core/plan/types.ts";
import { type Audit, audit } from "../core/reach/audit/audit.ts";
import type { Finding } from "../core/reach/audit/finding.ts";
import { usualLayer } from "../core/reach/audit/sightlines.ts";
import { type Added, addedBy, nothingAdded } from "../core/review/added.ts";
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
let drafted: { from: Plan; key: string; plan: Plan } | null = null;

/** The plan as drafted, the same value as long as the draft is the same, so that what was found out of it is kept. */
function planOf({ plan }: Told, { commands, now }: AuditSubject): Plan {
  if (commands.length === 0) return plan;
  const key = commands.map(({ id }) => id).join();
  if (drafted?.from !== plan || drafted.key !== key)
    drafted = { from: plan, key, plan: replay(plan, commands, { now }).plan };
  return drafted.plan;
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
  const isDrafted = plan !== published.plan;
  const made = audit(plan, progress, subject.t, subject.layerId ?? undefined, isDrafted ? published.plan : null);
  if (!isDrafted) return { id, kind: "audited", audit: made, added: nothingAdded };
  const after = subject.taken ? replay(published.plan, subject.taken, subject).plan : plan;
  const known = after === plan ? { made } : {};
  const layerId = subject.layerId ?? usualLayer(plan);
  const added = addedBy({ published: published.plan, after, progress, t: subject.t, layerId, ...known });
  return { id, kind: "audited", audit: made, added };
}

answerWith("The audit", answer);
