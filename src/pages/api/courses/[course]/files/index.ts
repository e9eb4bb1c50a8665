import * as api from "../../../../../api/files.ts";
import { mostBytes } from "../../../../../core/formats/stored-files.ts";
import { now } from "../../../../../server/clock.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { problem } from "../../../../../server/http/problem.ts";
import { storeFile } from "../../../../../server/store/files.ts";

/** Stores the one file of a form, named `file`; answers what an item of kind file holds. */
export const POST = answering(api.storeFile, async ({ request, locals }) => {
  // A little over the most for the form around the file; nothing larger is read at all.
  if (Number(request.headers.get("content-length") ?? 0) > mostBytes + 100_000)
    return problem(
      413,
      "Too large",
      "The file has more than 50 MB. Make it smaller or link to it. Nothing was stored.",
    );
  const form = await request.formData().catch(() => null);
  const file = form?.get("file");
  if (!(file instanceof File))
    return problem(400, "No file", "The request holds no file. Choose one and send it again.");
  const bytes = new Uint8Array(await file.arrayBuffer());
  const stored = await storeFile(locals.access.courseId, locals.account.id, { name: file.name, bytes }, now());
  return "trouble" in stored ? problem(400, "Not stored", `${stored.trouble} Nothing was stored.`) : stored;
});
