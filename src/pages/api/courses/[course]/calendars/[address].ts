import * as api from "../../../../../api/calendars.ts";
import { addressesOf, withdrawAddress } from "../../../../../server/course/calendar-addresses.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { notFound } from "../../../../../server/http/guard.ts";

export const DELETE = answering(api.withdrawCalendarAddress, async ({ params, locals }) => {
  const { courseId, plan } = locals.access;
  if (!(await withdrawAddress(courseId, params.address ?? "", null))) return notFound(true);
  return await addressesOf(courseId, plan, locals.account.id, false);
});
