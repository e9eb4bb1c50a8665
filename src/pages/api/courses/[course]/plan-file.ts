import * as api from "../../../../api/course.ts";
import { writePlan } from "../../../../core/rolling/portable.ts";
import { originOf } from "../../../../server/http/address.ts";
import { answering } from "../../../../server/http/answer.ts";

export const GET = answering(api.readPlanFile, ({ request, locals }) => {
  const { plan } = locals.access;
  const name = `${plan.course.code} plan.json`.replace(/[^\w. -]/g, "_");
  return new Response(writePlan(plan, `${originOf(request)}/plan.schema.json`), {
    headers: {
      "content-type": "application/json; charset=utf-8",
      "content-disposition": `attachment; filename="${name}"`,
    },
  });
});
