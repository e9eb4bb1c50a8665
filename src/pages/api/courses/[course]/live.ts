import * as api from "../../../../api/course.ts";
import { beAt, liveStream } from "../../../../server/course/live.ts";
import { answering } from "../../../../server/http/answer.ts";
import { tokenOf } from "../../../../server/http/guard.ts";

/** As long as the workbench is open. */
export const GET = answering(
  api.listen,
  ({ locals, cookies, query }) =>
    new Response(liveStream(locals.member.courseId, locals.account, tokenOf(cookies), query.station), {
      headers: {
        "content-type": "text/event-stream; charset=utf-8",
        "cache-control": "no-cache, no-transform",
        // A proxy that waits until its buffer is full would keep all that is told.
        "x-accel-buffering": "no",
      },
    }),
);

export const POST = answering(api.beAt, async ({ body, locals }) => {
  await beAt(body.connection, locals.member.courseId, locals.account, body.station);
  return {};
});
