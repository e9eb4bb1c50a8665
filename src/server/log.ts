import pino from "pino";
import { config } from "./config.ts";

/** One log for the server; the start command prints it for people. */
export const log = pino({
  level: config().AMBER_LOG_LEVEL,
  base: null,
  timestamp: pino.stdTimeFunctions.isoTime,
});
