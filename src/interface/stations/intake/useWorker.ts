/** The intake's worker: asked one thing at a time, told the plan once a revision, and ended when work is cancelled. */
import { useCallback, useEffect, useRef, useState } from "react";
import type { Judged } from "../../../core/intake/verdict.ts";
import type { Plan } from "../../../core/plan/types.ts";
import type { IntakeAnswer, IntakeMessage, IntakeRequest } from "../../../workers/intake.ts";
import IntakeWorker from "../../../workers/intake.ts?worker";

export interface Under {
  says: string;
  /** 0 to 1. */
  share: number;
}
export type Asked = { answer: IntakeAnswer; rows: Judged[] } | { failed: string } | null;

export function useWorker() {
  const worker = useRef<Worker>(null);
  const told = useRef<Plan>(null);
  const lastId = useRef(0);
  const [under, setUnder] = useState<Under | null>(null);
  const end = useCallback(() => {
    worker.current?.terminate();
    worker.current = null;
    told.current = null;
    lastId.current++;
    setUnder(null);
  }, []);
  useEffect(() => end, [end]);

  /** Null where a later question overtook this one, or the work was cancelled. */
  const ask = useCallback((request: IntakeRequest, plan: Plan): Promise<Asked> => {
    worker.current ??= new IntakeWorker();
    const one = worker.current;
    if (told.current !== plan) {
      one.postMessage({ id: 0, kind: "plan", plan });
      told.current = plan;
    }
    const id = ++lastId.current;
    const rows: Judged[] = [];
    return new Promise((resolve) => {
      const settle = (asked: Asked) => {
        one.removeEventListener("message", listen);
        if (id === lastId.current) setUnder(null);
        resolve(id === lastId.current ? asked : null);
      };
      const listen = ({ data }: MessageEvent<IntakeMessage>) => {
        if (data.id !== id) return;
        if (data.kind === "progress") {
          if (id === lastId.current) setUnder({ says: data.says, share: data.share });
        } else if (data.kind === "rows") for (const row of data.rows) rows.push(row);
        else if (data.kind === "failed") settle({ failed: data.sentence });
        else settle({ answer: data, rows });
      };
      one.addEventListener("message", listen);
      one.onerror = (event) => settle({ failed: `This could not be read: ${event.message}. Nothing was changed.` });
      one.postMessage({ ...request, id });
    });
  }, []);
  return { ask, cancel: end, under };
}
