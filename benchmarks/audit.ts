/** The whole audit, sightlines included, against full evaluations of reach; and how it grows. */
import { audit } from "../src/core/reach/audit/audit.ts";
import { reachAt } from "../src/core/reach/reach.ts";
import { fastest, isQuick, keep, type Row, sized } from "./measure.ts";
import { evaluate, fresh, largeCourse, now, unseen } from "./reach.ts";

export async function auditRows(): Promise<Row[]> {
  const rows: Row[] = [];
  const each: number[] = [];
  for (const students of isQuick ? [60, 200] : [500, 5000]) {
    const { plan, progress } = largeCourse(students);
    const best = await fastest(
      {
        audit: unseen(plan, (one) => keep(audit(one, { ...progress }, now).findings.length)),
        full: unseen(plan, (one) => keep(evaluate(reachAt(one, { ...progress }, now)))),
      },
      5,
    );
    each.push(best.audit);
    rows.push({
      name: "Reach: the whole audit",
      ours: best.audit,
      against: [{ name: "full evaluation", milliseconds: best.full, kind: "peer" }],
      note: `${students.toLocaleString("en-GB")} students, 400 items, 20 layers; target under 10`,
    });
  }
  const { plan, progress } = largeCourse(sized(50_000, 400));
  const copies = [fresh(plan), fresh(plan)];
  const { audit: most } = await fastest(
    { audit: () => keep(audit(copies.pop() as typeof plan, { ...progress }, now).findings.length) },
    2,
  );
  rows.push({
    name: "Reach: the whole audit, 50,000 students",
    ours: most,
    against: [
      { name: "a hundred times that of 500", milliseconds: 100 * (each[0] as number), kind: "floor" },
      { name: "ten times that of 5,000", milliseconds: 10 * (each[1] as number), kind: "floor" },
    ],
    note: "best of two; target at most linear from 500",
  });
  return rows;
}
