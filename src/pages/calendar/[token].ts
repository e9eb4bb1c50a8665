/** A calendar under its private address: whoever has the address reads it, without signing in. */
import type { APIRoute } from "astro";
import { calendarAt } from "../../server/course/calendar-addresses.ts";
import { alarmIn, calendarAnswer } from "../../server/course/calendars.ts";
import { originOf } from "../../server/http/address.ts";
import { notFound } from "../../server/http/guard.ts";

export const GET: APIRoute = async ({ params, request, url }) => {
  const token = (params.token ?? "").replace(/\.ics$/, "");
  const file =
    token.length <= 100
      ? await calendarAt(token, { origin: originOf(request), alarmMinutes: alarmIn(url.searchParams) })
      : null;
  return file === null ? notFound(false) : calendarAnswer(request, file, "dates");
};
