/** The audit of the draft at the chosen moment, always on: computed in a worker, the last one shown until the next is there. */

import { useCallback, useMemo, useRef, useState } from "react";
import type { Audit } from "../../core/reach/audit/audit.ts";
import type { Finding } from "../../core/reach/audit/finding.ts";
import { type Added, nothingAdded } from "../../core/review/added.ts";
import type { Parted } from "../../core/review/leaving.ts";
import type { Mend } from "../../core/review/mends/mends.ts";
import type { AuditSubject } from "../../workers/audit.ts";
import type { CourseFunctions } from "../../workers/course.ts";
import CourseWorker from "../../workers/course.ts?sharing";
import { useEffectWhen } from "../kit/when.ts";
import type { CountedState } from "./state.ts";
import { hasFailed, useCourseWorker } from "./useCourseWorker.ts";

export interface AuditState extends Audit {
  /** Hand-ins that nobody marked. */
  toMark: number;
  /** Whether a newer one is on its way, or the first. */
  pending: boolean;
  /** Whether anything was found out yet: until then no number is said. */
  isKnown: boolean;
  failure: string | null;
  added: Added;
  layerId: string | null;
  setLayerId(layerId: string): void;
  /** The mends of a finding, tried; null where they could not be computed. */
  mends(finding: Finding): Promise<Mend[] | null>;
}

const nothing = {
  findings: [],
  sightlines: null,
  added: nothingAdded,
  toMark: 0,
};

export function useAudit(state: CountedState, parted: Parted, t: number): AuditState {
  const ask = useCourseWorker<CourseFunctions>(CourseWorker, "The audit");
  const lastId = useRef(0);
  const [layerId, setLayerId] = useState<string | null>(null);
  const [found, setFound] = useState<Audit & { added: Added; toMark: number }>(nothing);
  const [status, setStatus] = useState<{ pending: boolean; failure: string | null }>({ pending: true, failure: null });

  const { published, progress, now } = state;
  const { tried } = state;
  const commands = useMemo(
    () => [...state.draft.commands, ...tried.map(({ command }) => command)],
    [state.draft.commands, tried],
  );
  const taken = useMemo(
    () => (parted.staying.size === 0 ? null : parted.taken.applied.map(({ command }) => command)),
    [parted],
  );
  const subject: AuditSubject = { commands, now, t, layerId, taken };
  // The clock goes on by itself: only a new hour, another moment, plan or draft is another question.
  const hour = Math.floor(t / 3600_000);
  const latest = useRef(subject);
  latest.current = subject;
  // T and now count by the hour.
  useEffectWhen([published, progress, commands, taken, hour, layerId, ask], () => {
    setStatus((before) => ({ ...before, pending: true }));
    // Typing and dragging go on meanwhile: the question is asked when they pause.
    const timer = setTimeout(() => {
      const id = ++lastId.current;
      void ask({ plan: published, progress }, (worker) => worker.audit(latest.current)).then((answer) => {
        if (id !== lastId.current) return;
        if (!hasFailed(answer)) setFound({ ...answer.audit, added: answer.added, toMark: answer.toMark });
        setStatus({ pending: false, failure: hasFailed(answer) ? answer.failed : null });
      });
    }, 120);
    return () => clearTimeout(timer);
  });

  const mends = useCallback(
    async (finding: Finding) => {
      const mends = await ask({ plan: published, progress }, (worker) => worker.mends(latest.current, finding));
      return hasFailed(mends) ? null : mends;
    },
    [ask, published, progress],
  );
  return useMemo(
    () => ({ ...found, ...status, isKnown: found !== nothing, layerId, setLayerId, mends }),
    [found, status, layerId, mends],
  );
}
