import { makeLargeCourse } from "../demo/large.ts";
import { studentsAt } from "../src/core/plan/lookup.ts";
import { membershipsAt, resolveDates } from "../src/core/timing/resolve.ts";
import { fastest, keep, type Row } from "./measure.ts";

/** All fields of all items for all students, beside writing as many numbers. */
export async function timingRows(): Promise<Row[]> {
  const now = Date.UTC(2026, 10, 25, 10);
  const { plan } = makeLargeCourse(
    { students: 500, items: 400, layers: 20, sections: 40 },
    now,
    "6f0e3a52-4a53-4c5c-9a52-0f7f3a1d2b4c",
  );
  const items = Object.values(plan.items);
  const students = studentsAt(plan, now).map((personId) => membershipsAt(plan, personId, now));
  const numbers = new Float64Array(items.length * students.length * 6);
  const best = await fastest({
    ours: () => {
      for (const item of items)
        for (const memberships of students) keep(resolveDates(plan, item, memberships).due.value === null ? 0 : 1);
    },
    floor: () => {
      for (let at = 0; at < numbers.length; at++) numbers[at] = at;
      keep(numbers.length);
    },
  });
  return [
    {
      name: "Dates: every field of every student and item",
      ours: best.ours,
      against: [{ name: "writing as many numbers", milliseconds: best.floor, kind: "floor" }],
      note: "500 students, 400 items",
    },
  ];
}
