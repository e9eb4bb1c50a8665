/** The audit of the published plan with the draft, given as commands, away from the page. No logic of its own. */
import { type Command, replay } from "../core/commands.ts";
import { countToMark } from "../core/gradebook/to-mark.ts";
import type { Plan } from "../core/plan/types.ts";
import { type Audit, audit } from "../core/reach/audit/audit.ts";
import type { Finding } from "../core/reach/audit/finding.ts";
import { usualLayer } from "../core/reach/audit/sightlines.ts";
import { reachAt } from "../core/reach/reach.ts";
import { type Added, addedBy, nothingAdded } from "../core/review/added.ts";
import { type Mend, mendsOf } from "../core/review/mends/mends.ts";
import type { Told, ToldCourse } from "./told.ts";

export interface AuditSubject {
  commands: Command[];
  /** When the draft is applied, and the moment that is looked at, epoch milliseconds. */
  now: number;
  t: number;
  layerId: string | null;
  /** What of the draft is to be published, where something is left out: what it adds is asked of that. */
  taken: Command[] | null;
}
export function auditFunctions({ course }: ToldCourse) {
  let drafted: { from: Plan; key: string; plan: Plan } | null = null;

  /** The plan as drafted, the same value as long as the draft is the same, so that what was found out of it is kept. */
  function planOf({ plan }: Told, { commands, now }: Pick<AuditSubject, "commands" | "now">): Plan {
    if (commands.length === 0) return plan;
    const key = commands.map(({ id }) => id).join();
    if (drafted?.from !== plan || drafted.key !== key)
      drafted = { from: plan, key, plan: replay(plan, commands, { now }).plan };
    return drafted.plan;
  }

  return {
    audit({ commands, now, t, layerId, taken }: AuditSubject): { audit: Audit; added: Added; toMark: number } {
      const { plan: published, progress } = course();
      const plan = planOf(course(), { commands, now });
      const isDrafted = plan !== published;
      const made = audit(plan, progress, t, layerId ?? undefined, isDrafted ? published : null);
      const toMark = countToMark(reachAt(plan, progress, t));
      if (!isDrafted) return { audit: made, added: nothingAdded, toMark };
      const after = taken ? replay(published, taken, { now }).plan : plan;
      const known = after === plan ? { made } : {};
      const added = addedBy({ published, after, progress, t, layerId: layerId ?? usualLayer(plan), ...known });
      return { audit: made, added, toMark };
    },
    /** The mends of a finding, tried. */
    mends: (subject: AuditSubject, finding: Finding): Mend[] =>
      mendsOf(planOf(course(), subject), course().progress, subject.t, finding, subject.layerId ?? undefined),
  };
}
