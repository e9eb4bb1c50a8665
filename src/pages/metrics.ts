import type { APIRoute } from "astro";
import { notFound } from "../server/http/guard.ts";
import { mayReadMetrics, metrics } from "../server/metrics.ts";

/** Without the token there is nothing at this address. */
export const GET: APIRoute = async ({ request }) => {
  if (!mayReadMetrics(request)) return notFound(false);
  const { type, text } = await metrics();
  return new Response(text, { headers: { "content-type": type, "cache-control": "no-store" } });
};
