import type { APIRoute } from "astro";
import { tagged } from "../../../../server/problem.ts";
import { courseProgress } from "../../../../server/progress.ts";

export const GET: APIRoute = async ({ request, locals }) => {
  const { revision, progress } = await courseProgress(locals.seat.courseId);
  return tagged(request, `progress-${revision}`, () => progress);
};
