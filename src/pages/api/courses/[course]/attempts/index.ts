import * as api from "../../../../../api/attempts.ts";
import { runningCounts } from "../../../../../server/attempts/reading.ts";
import { answering } from "../../../../../server/http/answer.ts";

/** How many attempts run now, by item. */
export const GET = answering(api.readRunning, ({ locals }) => runningCounts(locals.access));
