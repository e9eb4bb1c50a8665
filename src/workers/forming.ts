/** Forming groups away from the page: told how far it is, and stopped with the best so far. No logic of its own. */
import { type Formed, type Forward, form, scoreOf, type Unformed } from "../core/placement/forming/form.ts";
import type { FormingInput } from "../core/placement/forming/input.ts";

export type FormingRequest = { kind: "form"; id: number; input: FormingInput; seed: number } | { kind: "stop" };
export type FormingMessage = { id: number } & (
  | { kind: "progress"; share: number; total: number }
  | { kind: "done"; made: Formed | Unformed }
  | { kind: "failed"; sentence: string }
);

let stopped = false;
const breath = () => new Promise((resolve) => setTimeout(resolve));

async function work(id: number, input: FormingInput, seed: number): Promise<void> {
  stopped = false;
  const steps = form(input, seed);
  let told = performance.now();
  // A score of everyone costs as much as many steps: it is asked for now and then.
  let scored = { at: told, total: Number.NaN };
  for (;;) {
    const { done, value } = steps.next();
    if (done) {
      postMessage({ id, kind: "done", made: value as Formed | Unformed } satisfies FormingMessage);
      return;
    }
    if (performance.now() - told < 80) continue;
    const { share, best } = value as Forward;
    if (performance.now() - scored.at > 600) {
      const { total } = scoreOf(input, best());
      scored = { at: performance.now(), total };
    }
    postMessage({ id, kind: "progress", share, total: scored.total } satisfies FormingMessage);
    await breath();
    if (stopped) {
      postMessage({ id, kind: "done", made: best() } satisfies FormingMessage);
      return;
    }
    told = performance.now();
  }
}

addEventListener("message", ({ data }: MessageEvent<FormingRequest>) => {
  if (data.kind === "stop") stopped = true;
  else
    work(data.id, data.input, data.seed).catch((error: Error) =>
      postMessage({
        id: data.id,
        kind: "failed",
        sentence: `The groups could not be formed: ${error.message}. Nothing was changed.`,
      } satisfies FormingMessage),
    );
});
