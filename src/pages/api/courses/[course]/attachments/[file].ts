import * as api from "../../../../../api/gradebook.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { notFound } from "../../../../../server/http/guard.ts";
import { serveFile } from "../../../../../server/store/files.ts";
import { attachedTo } from "../../../../../server/student/posts-and-hand-ins.ts";

/** A file that goes with work or a post of a student, for staff within whose scope that is. */
export const GET = answering(api.readAttachment, async ({ params, locals }) => {
  const { courseId, scope } = locals.access;
  const found = await attachedTo(courseId, params.file ?? "");
  const isTheirs =
    found &&
    (scope === null || scope.personIds.has(found.personId) || (found.groupId !== null && scope.own.has(found.groupId)));
  return (isTheirs ? await serveFile(courseId, params.file ?? "") : null) ?? notFound(true);
});
