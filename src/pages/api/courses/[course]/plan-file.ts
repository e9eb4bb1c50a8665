import type { APIRoute } from "astro";
import { writePlan } from "../../../../core/rolling/portable.ts";

/** The published plan as a JSON file. */
export const GET: APIRoute = ({ url, locals }) => {
  const { plan } = locals.access;
  const name = `${plan.course.code} plan.json`.replace(/[^\w. -]/g, "_");
  return new Response(writePlan(plan, `${url.origin}/plan.schema.json`), {
    headers: {
      "content-type": "application/json; charset=utf-8",
      "content-disposition": `attachment; filename="${name}"`,
    },
  });
};
