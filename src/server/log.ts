import pino from "pino";

/** One log for the server; the start command prints it for people. */
export const log = pino({
  level: process.env.AMBER_LOG_LEVEL ?? "info",
  base: null,
  timestamp: pino.stdTimeFunctions.isoTime,
});
