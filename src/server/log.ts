import pino from "pino";
import { config } from "./config.ts";
import { requestId } from "./http/this-request.ts";

/** One log for the server; the start command prints it for people. */
export const log = pino({
  level: config().AMBER_LOG_LEVEL,
  base: null,
  mixin() {
    const request = requestId();
    return request ? { request } : {};
  },
  timestamp: pino.stdTimeFunctions.isoTime,
});
