import type { APIRoute } from "astro";
import { z } from "zod";
import { now } from "../../../../server/clock.ts";
import { readBody } from "../../../../server/http/body.ts";
import { json } from "../../../../server/http/problem.ts";
import { feedOf, pullsOf, setFeed } from "../../../../server/intake/feeds.ts";
import { FeedTrouble, hasRegistrar, registrarClasses } from "../../../../server/intake/registrar.ts";

const Body = z.object({
  classes: z.array(z.string().min(1).max(200)).max(500),
  nightlyAt: z
    .string()
    .regex(/^([01]\d|2[0-3]):[0-5]\d$/, "a time such as 02:30")
    .nullable(),
  appliesItself: z.boolean(),
  leavingPercent: z.number().min(0).max(100),
});

/** The feed as it is set, the registrar's classes to choose from (or the trouble with it), and the latest pulls. */
export const GET: APIRoute = async ({ locals }) => {
  const { courseId } = locals.access;
  const [feed, pulls] = await Promise.all([feedOf(courseId), pullsOf(courseId)]);
  if (!hasRegistrar()) return json({ available: false, feed, pulls, classes: [], trouble: null });
  try {
    return json({ available: true, feed, pulls, classes: await registrarClasses(), trouble: null });
  } catch (error) {
    if (!(error instanceof FeedTrouble)) throw error;
    return json({ available: true, feed, pulls, classes: [], trouble: error.message });
  }
};

export const POST: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
  const { courseId, plan } = locals.access;
  await setFeed(courseId, locals.account.id, body, plan.course.timeZone, now());
  return json({ feed: await feedOf(courseId) });
};
