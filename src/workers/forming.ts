/** Forming groups away from the page: told how far it is, and stopped with the best so far. No logic of its own. */
import "./page-locale.ts";
import { expose } from "comlink";
import { type Formed, type Forward, form, scoreOf, type Unformed } from "../core/placement/forming/form.ts";
import type { FormingInput } from "../core/placement/forming/input.ts";

export interface FormingProgress {
  /** 0 to 1. */
  share: number;
  /** The score of the best so far; NaN until one was counted. */
  total: number;
}

let stopped = false;
const breath = () => new Promise((resolve) => setTimeout(resolve));

async function formGroups(
  input: FormingInput,
  seed: number,
  onProgress: (progress: FormingProgress) => void,
): Promise<Formed | Unformed> {
  stopped = false;
  const steps = form(input, seed);
  let told = performance.now();
  // A score of everyone costs as much as many steps: it is asked for now and then.
  let scored = { at: told, total: Number.NaN };
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value as Formed | Unformed;
    if (performance.now() - told < 80) continue;
    const { share, best } = value as Forward;
    if (performance.now() - scored.at > 600) scored = { at: performance.now(), total: scoreOf(input, best()).total };
    onProgress({ share, total: scored.total });
    await breath();
    if (stopped) return best();
    told = performance.now();
  }
}

const functions = {
  form: formGroups,
  /** What is being formed ends with the best so far. */
  stop() {
    stopped = true;
  },
};
export type FormingWorker = typeof functions;
expose(functions);
