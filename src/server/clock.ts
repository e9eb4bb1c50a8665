import { config } from "./config.ts";

/** The server's clock. AMBER_NOW (an ISO moment) fixes it, for tests and screenshots. */
const { AMBER_NOW } = config();
const fixed = AMBER_NOW ? Date.parse(AMBER_NOW) : null;

/** Epoch milliseconds. */
export const now = (): number => fixed ?? Date.now();

/** Whether the clock stands still. */
export const clockFixed = fixed !== null;
