/**
 * What the worker threads do: work on whole courses that takes longer than others can wait for. Each reads what it needs from
 * the database itself, over connections of its own. Where a thread is ended in the middle, the database undoes its transaction.
 */
import type { Read } from "../../api/endpoint.ts";
import * as intakeApi from "../../api/intake.ts";
import { type Report, reportCsv } from "../../core/reach/audit/report.ts";
import { writePlan } from "../../core/rolling/portable.ts";
import { publishedReport } from "../course/report.ts";
import { judgeJson, type Misread } from "../http/judge-json.ts";
import { applyIntake as apply, type IntakeAnswer } from "../intake/intakes.ts";
import { course } from "../store/courses.ts";

type Sent = Read<typeof intakeApi.applyIntake.body>;

/** Takes in what was sent: its bytes, since reading a hundred thousand rows takes a second by itself. */
export async function applyIntake(
  courseId: string,
  accountId: string,
  sent: Uint8Array,
): Promise<Misread | { answer: IntakeAnswer; asked: Pick<Sent, "pullId" | "remember"> }> {
  const read = judgeJson(new TextDecoder().decode(sent), intakeApi.applyIntake.body);
  if ("misread" in read) return read;
  const { pullId, remember } = read.value;
  return { answer: await apply(courseId, accountId, read.value), asked: { pullId, remember } };
}

export { erase } from "../institution/erasing.ts";
export { renewFindings } from "../institution/findings.ts";
export { lookAtMove, makeMove } from "../institution/moving.ts";
export { takeMoveBack } from "../institution/moving-back.ts";
export { keepToRetention } from "../institution/retention.ts";
export { mergeClasses } from "../institution/shells.ts";
export { pull } from "../intake/feeds.ts";
export { undoIntake } from "../intake/intakes.ts";

/** The published plan as a file; null where the course is gone. */
export async function planFile(courseId: string, schemaAddress: string): Promise<string | null> {
  const stored = await course(courseId);
  return stored && writePlan(stored.plan, schemaAddress);
}

async function publishedAudit(courseId: string, layerId: string | null): Promise<Report | null> {
  const stored = await course(courseId);
  return stored && publishedReport({ courseId, ...stored }, layerId);
}

/** The audit of what is published as a text of JSON or CSV, and of which revision; null where the course is gone. */
export async function auditFile(
  courseId: string,
  layerId: string | null,
  format: "json" | "csv",
): Promise<{ text: string; revision: number } | null> {
  const report = await publishedAudit(courseId, layerId);
  return report && { text: format === "csv" ? reportCsv(report) : JSON.stringify(report), revision: report.revision };
}

/** Students that a page names of one finding; all of them stand in the file. */
const mostNamed = 200;

/** The same as a page shows it: of each finding as many students as anybody reads, and how many `more` there are. */
export async function auditPage(courseId: string, layerId: string | null) {
  const report = await publishedAudit(courseId, layerId);
  if (!report) return null;
  const findings = report.findings.map(({ students, ...one }) => ({
    ...one,
    students: students.slice(0, mostNamed),
    more: Math.max(0, students.length - mostNamed),
  }));
  return { ...report, findings };
}
