import type { APIRoute } from "astro";
import { reportCsv } from "../../../../core/reach/audit/report.ts";
import { publishedReport } from "../../../../server/course/report.ts";
import { json } from "../../../../server/http/problem.ts";

/** The audit as CSV (`format=csv`) or JSON. */
export const GET: APIRoute = async ({ locals, url }) => {
  const report = await publishedReport(locals.access, url.searchParams.get("layer"));
  const name = `audit ${locals.access.plan.course.code} revision ${report.revision}`;
  const saved = (ending: string) => ({
    "content-disposition": `attachment; filename*=UTF-8''${encodeURIComponent(name)}.${ending}`,
  });
  if (url.searchParams.get("format") !== "csv") return json(report, { headers: saved("json") });
  // The mark at the beginning tells spreadsheet programs that this is UTF-8.
  return new Response(`\uFEFF${reportCsv(report)}`, {
    headers: { "content-type": "text/csv; charset=utf-8", ...saved("csv") },
  });
};
