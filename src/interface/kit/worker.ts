/** Workers that are asked by calling their functions. */
import { type Remote, wrap } from "comlink";
import { readersLocale } from "../../core/text/locale.ts";

/** The worker's script could not be loaded, or it stopped: what was asked of it has no answer. */
export class WorkerLost extends Error {}

export interface OpenWorker<Functions> {
  /** Rejects with what the function threw, or with WorkerLost. */
  ask<Answer extends Promise<unknown>>(call: (worker: Remote<Functions>) => Answer): Promise<Awaited<Answer>>;
  /** What is under way is not answered any more. */
  end(): void;
}

/** A worker's script, as it is imported. */
export type WorkerScript = new () => Worker;

export function openWorker<Functions>(Script: WorkerScript): OpenWorker<Functions> {
  // Its name says for whom it writes. The type that Astro gives such scripts forgets that they take one.
  const worker = new (Script as new (options: WorkerOptions) => Worker)({ name: JSON.stringify(readersLocale()) });
  const remote = wrap<Functions>(worker);
  return {
    ask: <Answer extends Promise<unknown>>(call: (worker: Remote<Functions>) => Answer) =>
      new Promise<Awaited<Answer>>((resolve, reject) => {
        const fail = ({ message }: ErrorEvent) => reject(new WorkerLost(message || "its script could not be loaded"));
        worker.addEventListener("error", fail);
        Promise.resolve(call(remote))
          .then(resolve, reject)
          .finally(() => worker.removeEventListener("error", fail));
      }),
    end: () => worker.terminate(),
  };
}

/** One question put to a worker of its own, which ends with its answer; `failed` where there is none. */
export async function askOnce<Functions, Answer>(
  script: WorkerScript,
  call: (worker: Remote<Functions>) => Promise<Answer>,
  failed: Answer,
): Promise<Answer> {
  const worker = openWorker<Functions>(script);
  try {
    return await worker.ask(call);
  } catch {
    return failed;
  } finally {
    worker.end();
  }
}
