import * as api from "../../../../api/journal.ts";
import { noteEvent } from "../../../../server/accounts/security-events.ts";
import { readAccessLog } from "../../../../server/course/access-log.ts";
import { answering } from "../../../../server/http/answer.ts";

export const GET = answering(api.readAccessLog, ({ query, locals }) => readAccessLog(locals.access.plan, query));

export const POST = answering(api.noteExport, async ({ body, locals }) => {
  const { account, access } = locals;
  await noteEvent({ kind: "exported", accountId: account.id, courseId: access.courseId, what: body.name });
  return {};
});
