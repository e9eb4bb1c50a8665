/** Work that would keep everybody waiting, in worker threads: so many at a time, so many waiting, and none for ever. */
import { Piscina } from "piscina";
import { readersLocale } from "../../core/text/locale.ts";
import { config } from "../config.ts";
import type { Outcome } from "./entry.ts";
import type * as work from "./work.ts";

type Work = typeof work;
type Name = keyof Work;

/** Work that was not done, or not to its end: a sentence that says why. What was begun is undone, unless it had just been done. */
export class WorkGivenUp extends Error {
  readonly isBegun: boolean;
  constructor(says: string, { isBegun }: { isBegun: boolean }) {
    super(says);
    this.isBegun = isBegun;
  }
}

let pool: Piscina | null = null;
/** How much was asked for that has not ended: the library does not count what may be given up. */
let asked = 0;
/** Tasks under way or waiting. */
export const waitingForThreads = (): number => asked;
function threads(): Piscina {
  const { AMBER_THREADS_FILE: filename, AMBER_THREADS } = config();
  if (!filename) throw new Error("AMBER_THREADS_FILE is not set. Start the application with npm start.");
  pool ??= new Piscina({
    filename,
    // One stands ready: whoever asks first need not wait until it has read its program.
    minThreads: 1,
    maxThreads: AMBER_THREADS,
    // A thread that waits hears that a connection of its own was closed; blocked in Atomics.wait it would use it once more.
    atomics: "disabled",
    // A thread that has nothing to do keeps the course it read for a while, then gives its memory back.
    idleTimeout: 300_000,
  });
  return pool;
}

/** Starts the first thread, before anybody waits for it. */
export const readyThreads = (): void => void threads();

/** Ends all threads, and what they were doing. */
export async function closeThreads(): Promise<void> {
  await pool?.destroy();
  pool = null;
}

interface Waiting {
  /** Milliseconds, of waiting and working together, after which it is given up. */
  patience?: number;
  /** Buffers of the arguments that are handed over and not copied. */
  moves?: ArrayBuffer[];
}

/** Does something of work.ts in a thread. Throws WorkGivenUp where too many wait, or where it takes too long. */
export async function inThread<Called extends Name>(
  name: Called,
  args: Parameters<Work[Called]>,
  { patience = config().AMBER_THREADS_PATIENCE, moves = [] }: Waiting = {},
): Promise<Awaited<ReturnType<Work[Called]>>> {
  const { AMBER_THREADS, AMBER_THREADS_WAITING } = config();
  if (asked >= AMBER_THREADS + AMBER_THREADS_WAITING)
    throw new WorkGivenUp("Too much is being worked out just now.", { isBegun: false });
  const signal = AbortSignal.timeout(patience);
  asked++;
  try {
    const outcome: Outcome = await threads().run(
      { name, args, locale: readersLocale() },
      { signal, transferList: moves },
    );
    if ("value" in outcome) return outcome.value as Awaited<ReturnType<Work[Called]>>;
    const { message, stack, code } = outcome.error;
    throw Object.assign(new Error(message), { stack, code });
  } catch (error) {
    if (!signal.aborted) throw error;
    const says = `This took longer than ${Math.ceil(patience / 1000)} seconds, so it was given up.`;
    throw new WorkGivenUp(says, { isBegun: true });
  } finally {
    asked--;
  }
}
