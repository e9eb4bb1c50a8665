import type { APIRoute } from "astro";
import { json } from "../../server/http/problem.ts";
import { health, isReady } from "../../server/institution/health.ts";

/** Whether this process can do its work: 200, or 503 with the parts that fail. Reasons are for administrators. */
export const GET: APIRoute = async () => {
  const parts = await health(Date.now());
  const ready = isReady(parts);
  const body = { ready, parts: Object.fromEntries(parts.map(({ name, state }) => [name, state])) };
  return json(body, { status: ready ? 200 : 503, headers: { "cache-control": "no-store" } });
};
