import type { APIRoute } from "astro";
import { z } from "zod";
import { SetUp } from "../api/institution.ts";

/** The JSON Schema of a file that sets an institution up: `npm start -- --empty --set-up FILE`. */
export const GET: APIRoute = () =>
  new Response(JSON.stringify(z.toJSONSchema(SetUp, { io: "input", unrepresentable: "any" }), null, 1), {
    headers: { "content-type": "application/schema+json" },
  });
