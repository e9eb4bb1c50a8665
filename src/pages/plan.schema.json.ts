import type { APIRoute } from "astro";
import { planSchema } from "../core/rolling/portable.ts";

/** The published JSON Schema of a plan as a file. */
export const GET: APIRoute = () =>
  new Response(JSON.stringify(planSchema(), null, 1), { headers: { "content-type": "application/schema+json" } });
