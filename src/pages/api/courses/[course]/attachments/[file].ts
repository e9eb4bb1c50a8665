import type { APIRoute } from "astro";
import { serveFile } from "../../../../../server/files.ts";
import { notFound } from "../../../../../server/guard.ts";
import { attachedTo } from "../../../../../server/posts-and-hand-ins.ts";

/** A file that goes with work or a post of a student, for staff within whose scope that is. */
export const GET: APIRoute = async ({ params, locals }) => {
  const { courseId, scope } = locals.seat;
  const found = await attachedTo(courseId, params.file ?? "");
  const isTheirs =
    found &&
    (scope === null || scope.personIds.has(found.personId) || (found.groupId !== null && scope.own.has(found.groupId)));
  return (isTheirs ? await serveFile(courseId, params.file ?? "") : null) ?? notFound(true);
};
