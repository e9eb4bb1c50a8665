import type { APIRoute } from "astro";
import { json } from "../../server/http/problem.ts";

/** This process answers. Nothing else is asked: a process is not restarted because its database is away. */
export const GET: APIRoute = () => json({ live: true }, { headers: { "cache-control": "no-store" } });
