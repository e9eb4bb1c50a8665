import * as api from "../../../../../api/files.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { notFound } from "../../../../../server/http/guard.ts";
import { serveFile } from "../../../../../server/store/files.ts";

/** A stored file of the course, for those who design it. */
export const GET = answering(
  api.readFile,
  async ({ locals, params }) => (await serveFile(locals.access.courseId, params.file ?? "")) ?? notFound(true),
);
