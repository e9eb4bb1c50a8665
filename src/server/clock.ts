/** The server's clock. AMBER_NOW (an ISO moment) fixes it, for tests and screenshots. */
const fixed = process.env.AMBER_NOW ? Date.parse(process.env.AMBER_NOW) : null;
if (fixed !== null && Number.isNaN(fixed)) {
  throw new Error(`AMBER_NOW is "${process.env.AMBER_NOW}"; write a moment such as 2026-11-25T10:00:00Z.`);
}

/** Epoch milliseconds. */
export const now = (): number => fixed ?? Date.now();

/** Whether the clock stands still. */
export const clockFixed = fixed !== null;
