/** A calendar under its private address: whoever has the address reads it, without signing in. */
import type { APIRoute } from "astro";
import { originOf } from "../../server/address.ts";
import { calendarAnswer, calendarAt } from "../../server/calendars.ts";
import { notFound } from "../../server/guard.ts";

export const GET: APIRoute = async ({ params, request }) => {
  const token = (params.token ?? "").replace(/\.ics$/, "");
  const file = token.length <= 100 ? await calendarAt(token, originOf(request)) : null;
  return file === null ? notFound(false) : calendarAnswer(file, "dates");
};
