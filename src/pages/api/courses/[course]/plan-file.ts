import * as api from "../../../../api/course.ts";
import { noteEvent } from "../../../../server/accounts/security-events.ts";
import { originOf } from "../../../../server/http/address.ts";
import { answering } from "../../../../server/http/answer.ts";
import { attachment } from "../../../../server/http/attachment.ts";
import { notFound } from "../../../../server/http/guard.ts";
import { inThread } from "../../../../server/threads/pool.ts";

export const GET = answering(api.readPlanFile, async ({ request, locals }) => {
  const { access, account } = locals;
  const { plan, courseId } = access;
  const name = `${plan.course.code} plan.json`;
  const file = await inThread("planFile", [courseId, `${originOf(request)}/plan.schema.json`]);
  if (file === null) return notFound(true);
  await noteEvent({ kind: "exported", accountId: account.id, courseId, what: name });
  return new Response(file, {
    headers: { "content-type": "application/json; charset=utf-8", "content-disposition": attachment(name) },
  });
});
