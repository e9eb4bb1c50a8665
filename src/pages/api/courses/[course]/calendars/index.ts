import * as api from "../../../../../api/calendars.ts";
import { addressesOf, calendarAnswer, calendarFile, makeAddress } from "../../../../../server/course/calendars.ts";
import { originOf } from "../../../../../server/http/address.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { notFound } from "../../../../../server/http/guard.ts";

/** The addresses of the course; with `of`, a calendar as a file: `staff`, `group/ID` or `student/ID`. */
export const GET = answering(api.readCalendars, async ({ request, query, locals }) => {
  const { courseId, plan } = locals.access;
  if (query.of === undefined) return addressesOf(courseId, plan, locals.account.id, false);
  const [kind, id] = query.of.split("/");
  const whose = api.Whose.safeParse({ kind, id });
  const file = whose.success ? await calendarFile(courseId, whose.data, { origin: originOf(request) }) : null;
  return file === null ? notFound(true) : calendarAnswer(request, file, `${plan.course.code} dates`);
});

export const POST = answering(api.makeCalendarAddress, async ({ body: whose, locals }) => {
  const { courseId, plan } = locals.access;
  if (!exists(whose)) return notFound(true);
  const address = await makeAddress(courseId, locals.account.id, whose);
  return { address };

  function exists(one: api.Whose): boolean {
    return one.kind === "staff" || Boolean((one.kind === "group" ? plan.groups : plan.people)[one.id]);
  }
});
