/** The audit of what is published, as a report. */
import { auditOf } from "../../core/reach/audit/audit.ts";
import { type Report, reportOf } from "../../core/reach/audit/report.ts";
import { reachAt } from "../../core/reach/reach.ts";
import { now } from "../clock.ts";
import type { CourseAccess } from "../http/guard.ts";
import { courseProgress } from "../store/progress.ts";

/** `layerId`: between whose groups sightlines are counted; the usual layer where it is none of the course's. */
export async function publishedReport(
  { courseId, plan, revision }: Pick<CourseAccess, "courseId" | "plan" | "revision">,
  layerId: string | null,
): Promise<Report> {
  const { progress } = await courseProgress(courseId);
  const t = now();
  const reach = reachAt(plan, progress, t);
  const audit = auditOf(reach, layerId && plan.layers[layerId] ? layerId : undefined);
  return reportOf(plan, audit, { revision, t, students: reach.students.length });
}
