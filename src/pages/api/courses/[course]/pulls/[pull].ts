import * as api from "../../../../../api/intake.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { notFound } from "../../../../../server/http/guard.ts";
import { openPull, settlePull } from "../../../../../server/intake/feeds.ts";

export const GET = answering(api.openPull, async ({ locals, params }) => {
  const roster = await openPull(locals.access.courseId, params.pull ?? "");
  return roster ? roster : notFound(true);
});

/** Puts it away; again is the same as once. */
export const DELETE = answering(api.putPullAway, async ({ locals, params }) => {
  const [courseId, pullId] = [locals.access.courseId, params.pull ?? ""];
  if (!(await openPull(courseId, pullId))) return notFound(true);
  await settlePull(courseId, pullId, "put away");
  return { putAway: true };
});
