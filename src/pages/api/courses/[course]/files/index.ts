import * as api from "../../../../../api/files.ts";
import { now } from "../../../../../server/clock.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { readFormWithFile } from "../../../../../server/http/body.ts";
import { problem } from "../../../../../server/http/problem.ts";
import { storeArrived } from "../../../../../server/store/files.ts";

/** Stores the one file of a form, named `file`; answers what an item of kind file holds. */
export const POST = answering(api.storeFile, async ({ request, locals }) => {
  const { file } = await readFormWithFile(request, locals.account.id);
  if (!file) return problem(400, "No file", "The request holds no file. Choose one and send it again.");
  const stored = await storeArrived(locals.access.courseId, locals.account.id, file, now());
  return "trouble" in stored ? problem(400, "Not stored", `${stored.trouble} Nothing was stored.`) : stored;
});
