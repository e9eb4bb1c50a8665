import type { APIRoute } from "astro";
import { z } from "zod";
import { Id } from "../../../../core/plan/types.ts";
import { beAt, liveStream } from "../../../../server/course/live.ts";
import { readBody } from "../../../../server/http/body.ts";
import { tokenOf } from "../../../../server/http/guard.ts";
import { json } from "../../../../server/http/problem.ts";

const Station = z.enum(["intake", "placement", "reach", "timing", "gradebook", "review"]);

/** Server-sent events of the course, as long as the workbench is open. */
export const GET: APIRoute = ({ locals, cookies, url }) => {
  const station = Station.safeParse(url.searchParams.get("station")).data ?? "intake";
  return new Response(liveStream(locals.access.courseId, locals.account, tokenOf(cookies), station), {
    headers: { "content-type": "text/event-stream; charset=utf-8", "cache-control": "no-cache, no-transform" },
  });
};

const Body = z.object({ connection: Id, station: Station });

/** At which station somebody is now. */
export const POST: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
  await beAt(body.connection, locals.access.courseId, locals.account, body.station);
  return json({});
};
