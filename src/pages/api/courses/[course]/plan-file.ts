import * as api from "../../../../api/course.ts";
import { writePlan } from "../../../../core/rolling/portable.ts";
import { answering } from "../../../../server/http/answer.ts";

export const GET = answering(api.readPlanFile, ({ url, locals }) => {
  const { plan } = locals.access;
  const name = `${plan.course.code} plan.json`.replace(/[^\w. -]/g, "_");
  return new Response(writePlan(plan, `${url.origin}/plan.schema.json`), {
    headers: {
      "content-type": "application/json; charset=utf-8",
      "content-disposition": `attachment; filename="${name}"`,
    },
  });
});
