/** The worker that forms groups: one try at a time, with how far it is; stopping takes the best so far. */
import { proxy } from "comlink";
import { useCallback, useEffect, useRef, useState } from "react";
import type { Formed, Unformed } from "../../../../core/placement/forming/form.ts";
import type { FormingInput } from "../../../../core/placement/forming/input.ts";
import type { FormingProgress, FormingWorker as Functions } from "../../../../workers/forming.ts";
import FormingWorker from "../../../../workers/forming.ts?sharing";
import { type OpenWorker, openWorker } from "../../../kit/worker.ts";

export function useForming() {
  const worker = useRef<OpenWorker<Functions>>(null);
  const [under, setUnder] = useState<FormingProgress | null>(null);
  const end = useCallback(() => {
    worker.current?.end();
    worker.current = null;
  }, []);
  useEffect(() => end, [end]);
  const run = useCallback(
    async (input: FormingInput, seed: number): Promise<Formed | Unformed | { failed: string }> => {
      worker.current ??= openWorker<Functions>(FormingWorker);
      setUnder({ share: 0, total: Number.NaN });
      try {
        // What is told on the way may come after the end.
        let isOver = false;
        const onProgress = proxy((progress: FormingProgress) => {
          if (!isOver) setUnder(progress);
        });
        const made = await worker.current.ask((one) => one.form(input, seed, onProgress));
        isOver = true;
        return made;
      } catch (error) {
        end();
        return { failed: `The groups could not be formed: ${(error as Error).message}. Nothing was changed.` };
      } finally {
        setUnder(null);
      }
    },
    [end],
  );
  const stop = useCallback(() => void worker.current?.ask((one) => one.stop()), []);
  return { run, stop, under };
}
