import * as api from "../../../../api/course.ts";
import { plainLocale } from "../../../../core/text/locale.ts";
import { noteEvent } from "../../../../server/accounts/security-events.ts";
import { answeredJson, answering } from "../../../../server/http/answer.ts";
import { attachment } from "../../../../server/http/attachment.ts";
import { notFound } from "../../../../server/http/guard.ts";
import { answerIn } from "../../../../server/http/this-request.ts";
import { inThread } from "../../../../server/threads/pool.ts";

export const GET = answering(api.readReport, async ({ locals, query }) => {
  const { account, access } = locals;
  const format = query.format === "csv" ? "csv" : "json";
  // A file is the same whoever saves it: programs read it.
  answerIn(plainLocale);
  const audit = await inThread("auditFile", [access.courseId, query.layer ?? null, format]);
  if (!audit) return notFound(true);
  const file = `audit ${access.plan.course.code} revision ${audit.revision}.${format}`;
  await noteEvent({ kind: "exported", accountId: account.id, courseId: access.courseId, what: file });
  const headers = { "content-disposition": attachment(file) };
  if (format === "json") return answeredJson(api.readReport, audit.text, headers);
  // The mark at the beginning tells spreadsheet programs that this is UTF-8.
  return new Response(`\uFEFF${audit.text}`, { headers: { ...headers, "content-type": "text/csv; charset=utf-8" } });
});
