import * as api from "../../../../api/intake.ts";
import { now } from "../../../../server/clock.ts";
import { answering } from "../../../../server/http/answer.ts";
import { feedOf, pullsOf, setFeed } from "../../../../server/intake/feeds.ts";
import { FeedTrouble, hasRegistrar, registrarClasses } from "../../../../server/intake/registrar.ts";

export const GET = answering(api.readFeed, async ({ locals }) => {
  const { courseId } = locals.access;
  const [feed, pulls] = await Promise.all([feedOf(courseId), pullsOf(courseId)]);
  if (!hasRegistrar()) return { available: false, feed, pulls, classes: [], trouble: null };
  try {
    return { available: true, feed, pulls, classes: await registrarClasses(), trouble: null };
  } catch (error) {
    if (!(error instanceof FeedTrouble)) throw error;
    return { available: true, feed, pulls, classes: [], trouble: error.message };
  }
});

export const POST = answering(api.setFeed, async ({ body, locals }) => {
  const { courseId, plan } = locals.access;
  await setFeed(courseId, locals.account.id, body, plan.course.timeZone, now());
  return { feed: await feedOf(courseId) };
});
