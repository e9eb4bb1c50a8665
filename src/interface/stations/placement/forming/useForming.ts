/** The worker that forms groups: one try at a time, with how far it is; stopping takes the best so far. */
import { useCallback, useEffect, useRef, useState } from "react";
import type { Formed, Unformed } from "../../../../core/placement/forming/form.ts";
import type { FormingInput } from "../../../../core/placement/forming/input.ts";
import type { FormingMessage, FormingRequest } from "../../../../workers/forming.ts";
import FormingWorker from "../../../../workers/forming.ts?worker";

export function useForming() {
  const worker = useRef<Worker>(null);
  const last = useRef(0);
  const [under, setUnder] = useState<{ share: number; total: number } | null>(null);
  useEffect(() => () => worker.current?.terminate(), []);
  const run = useCallback((input: FormingInput, seed: number): Promise<Formed | Unformed | { failed: string }> => {
    worker.current ??= new FormingWorker();
    const one = worker.current;
    const id = ++last.current;
    setUnder({ share: 0, total: Number.NaN });
    return new Promise((resolve) => {
      const settle = (made: Formed | Unformed | { failed: string }) => {
        one.removeEventListener("message", listen);
        setUnder(null);
        resolve(made);
      };
      const listen = ({ data }: MessageEvent<FormingMessage>) => {
        if (data.id !== id) return;
        if (data.kind === "progress") setUnder({ share: data.share, total: data.total });
        else if (data.kind === "failed") settle({ failed: data.sentence });
        else settle(data.made);
      };
      one.addEventListener("message", listen);
      one.onerror = ({ message }) =>
        settle({ failed: `The groups could not be formed: ${message}. Nothing was changed.` });
      one.postMessage({ kind: "form", id, input, seed } satisfies FormingRequest);
    });
  }, []);
  const stop = useCallback(() => worker.current?.postMessage({ kind: "stop" } satisfies FormingRequest), []);
  return { run, stop, under };
}
