import * as api from "../../../../../api/calendars.ts";
import { noteEvent } from "../../../../../server/accounts/security-events.ts";
import { addressesOf, makeAddress } from "../../../../../server/course/calendar-addresses.ts";
import { calendarAnswer, calendarFile } from "../../../../../server/course/calendars.ts";
import { originOf } from "../../../../../server/http/address.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { notFound } from "../../../../../server/http/guard.ts";
import { problem } from "../../../../../server/http/problem.ts";

/** The addresses of the course; with `of`, a calendar as a file: `staff`, `group/ID` or `student/ID`. */
export const GET = answering(api.readCalendars, async ({ request, query, locals }) => {
  const { courseId, plan } = locals.access;
  if (query.of === undefined) return addressesOf(courseId, plan, locals.account.id, false);
  const [kind, id] = query.of.split("/");
  const whose = api.Whose.safeParse({ kind, id });
  const file = whose.success ? await calendarFile(courseId, whose.data, { origin: originOf(request) }) : null;
  if (file === null) return notFound(true);
  const name = `${plan.course.code} dates`;
  await noteEvent({ kind: "exported", accountId: locals.account.id, courseId, what: `${name}.ics` });
  return calendarAnswer(request, file, name);
});

export const POST = answering(api.makeCalendarAddress, async ({ body: whose, locals }) => {
  const { courseId, plan } = locals.access;
  if (!exists(whose)) return notFound(true);
  const address = await makeAddress(courseId, locals.account.id, whose);
  if (address === null)
    return problem(
      409,
      "Enough addresses",
      `You have ${api.mostAddresses} addresses of this calendar, which is the most. Withdraw one that nobody fetches, then make another.`,
    );
  return { address };

  function exists(one: api.Whose): boolean {
    return one.kind === "staff" || Boolean((one.kind === "group" ? plan.groups : plan.people)[one.id]);
  }
});
