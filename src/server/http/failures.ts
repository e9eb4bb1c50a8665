/** What is answered where something failed: what is known of it, and what to do next. */
import { log } from "../log.ts";
import { isConflict, isDatabaseAway } from "../store/database.ts";
import { hasRoom } from "../store/room.ts";
import { WorkGivenUp } from "../threads/pool.ts";
import { onlyReads } from "./address.ts";
import { BodyRefused } from "./counted-body.ts";
import { failure } from "./problem.ts";
import { requestId } from "./this-request.ts";

const titles = { 408: "Too slow", 413: "Too large", 429: "Too many at once", 503: "Busy" };

/** A change that failed on its way may have been kept all the same: only reading changes nothing for certain. */
const sayChange = (request: Request): string =>
  onlyReads(request)
    ? "Nothing was changed."
    : "Whether your change was kept is not known: look at it again before you send it once more.";

/** The same answer, with the seconds after which to ask again. */
function later(answer: Response): Response {
  answer.headers.set("retry-after", "5");
  return answer;
}

/** Signing in and out stores next to nothing: whoever reads may come and go on a full disk. */
const smallChanges = new Set(["/sign-in", "/sign-out"]);

/** The answer to a change for which the disk has no room; null where it has, or where nothing is stored. */
export async function whyNoRoom(request: Request): Promise<Response | null> {
  if (onlyReads(request) || smallChanges.has(new URL(request.url).pathname) || (await hasRoom())) return null;
  const detail =
    "The disk of this server is almost full, so nothing can be stored just now. Nothing was changed, and what is there can be read. Tell whoever runs this server.";
  return later(failure(request, 503, "No room", detail));
}

/** The answer to a request whose work threw an error. */
export function failureOf(request: Request, error: unknown): Response {
  if (error instanceof BodyRefused) {
    const answer = failure(request, error.status, titles[error.status], error.message);
    // What still comes of it is not waited for.
    answer.headers.set("connection", "close");
    return error.status === 429 || error.status === 503 ? later(answer) : answer;
  }
  const { pathname } = new URL(request.url);
  if (error instanceof WorkGivenUp) {
    log.warn({ path: pathname }, error.message);
    const change = error.isBegun ? sayChange(request) : "Nothing was changed.";
    return later(failure(request, 503, titles[503], `${error.message} ${change} Try again in a minute.`));
  }
  log.error({ error: error instanceof Error ? error.stack : String(error), path: pathname }, "request failed");
  if (isDatabaseAway(error)) {
    const detail = `The database does not answer just now. ${sayChange(request)} Try again in a few seconds. The number of this request: ${requestId() ?? "none"}.`;
    return later(failure(request, 503, "Not available just now", detail));
  }
  if (isConflict(error)) {
    const detail = `Many are writing here at this moment. ${sayChange(request)} Try again in a few seconds.`;
    return later(failure(request, 503, titles[503], detail));
  }
  const detail = `${sayChange(request)} If it fails again, tell whoever runs this server, with this number: ${requestId() ?? "none"}.`;
  return failure(request, 500, "Something failed here", detail);
}
