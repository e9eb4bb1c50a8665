import * as api from "../../../../api/course.ts";
import { reportCsv } from "../../../../core/reach/audit/report.ts";
import { publishedReport } from "../../../../server/course/report.ts";
import { answered, answering } from "../../../../server/http/answer.ts";

export const GET = answering(api.readReport, async ({ locals, query }) => {
  const report = await publishedReport(locals.access, query.layer ?? null);
  const name = `audit ${locals.access.plan.course.code} revision ${report.revision}`;
  const saved = (ending: string) => `attachment; filename*=UTF-8''${encodeURIComponent(name)}.${ending}`;
  if (query.format !== "csv") {
    const answer = answered(api.readReport, report);
    answer.headers.set("content-disposition", saved("json"));
    return answer;
  }
  // The mark at the beginning tells spreadsheet programs that this is UTF-8.
  return new Response(`\uFEFF${reportCsv(report)}`, {
    headers: { "content-type": "text/csv; charset=utf-8", "content-disposition": saved("csv") },
  });
});
