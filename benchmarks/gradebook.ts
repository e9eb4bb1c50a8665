/**
 * The gradebook of 5,000 students and 120 columns: all states and totals, beside adding up as many numbers; one mark,
 * beside all of it; a filter of four terms beside a loop written by hand. Equal answers, checked.
 */

import { cellsOf } from "../src/core/gradebook/cells.ts";
import { isMistake, parseFilter } from "../src/core/gradebook/filter.ts";
import { matcher } from "../src/core/gradebook/match.ts";
import { type Sheet, sheetOf } from "../src/core/gradebook/sheet.ts";
import { ItemRows } from "../src/core/plan/item-rows.ts";
import {
  type Mark,
  type MarkChange,
  noProgress,
  type Progress,
  progressByItem,
  progressOf,
  withMarks,
} from "../src/core/plan/progress.ts";
import type { Plan } from "../src/core/plan/types.ts";
import { reachAt } from "../src/core/reach/reach.ts";
import { reachWithMarks } from "../src/core/reach/update.ts";
import { fastest, keep, type Row, sized } from "./measure.ts";
import { largeCourse, now } from "./reach.ts";

const columnCount = 120;

/** A large course with 120 columns in four categories, one dropping its lowest two; nine in ten cells are marked. */
export function markedCourse(students = sized(5000, 200)): { plan: Plan; progress: Progress } {
  const large = largeCourse(students).plan;
  const items = Object.values(large.items);
  const plan: Plan = { ...large, items: {} };
  const categories = [40, 30, 20, 10].map((weight, at) => ({
    id: `category ${at}`,
    name: `Category ${at}`,
    weight,
    dropLowest: at === 1 ? 2 : 0,
  }));
  plan.course = { ...plan.course, grading: { categories, missingIsZero: true, scale: [] } };
  let columns = 0;
  for (const item of items) {
    const marks = item.kind !== "folder" && columns < columnCount;
    plan.items[item.id] = marks
      ? {
          ...item,
          kind: item.kind === "quiz" || item.kind === "discussion" ? item.kind : "assignment",
          points: 20,
          categoryId: `category ${columns++ % 4}`,
          dates: { opens: "2026-10-01T09:00", due: `2026-11-${String(1 + (columns % 28)).padStart(2, "0")}T17:00` },
        }
      : { ...item, points: null };
  }
  const people = Object.keys(plan.people);
  const progress: Progress = { ...noProgress, marks: [], handIns: [] };
  Object.values(plan.items)
    .filter(({ points }) => points !== null)
    .forEach(({ id: itemId }, column) => {
      for (const [at, personId] of people.entries()) {
        const draw = (at * 31 + column * 17) % 100;
        if (draw < 95)
          progress.handIns.push({ id: `${at}/${column}`, personId, itemId, at: now - (1 + (draw % 40)) * 86_400_000 });
        if (draw < 90)
          progress.marks.push({
            personId,
            itemId,
            points: ((at * 7 + column * 3) % 41) / 2,
            excused: draw === 7,
            at: now,
          });
      }
    });
  return { plan, progress };
}

function everything(sheet: Sheet): number {
  let sum = 0;
  for (const item of sheet.columns) sum += sheet.column(item).states[7] as number;
  return sum + (sheet.percentages()[7] as number);
}

/** The same rows by item, as the application holds them, in new lists of which nothing is remembered. */
function anew(progress: Progress): Progress {
  const byItem = progressByItem(progress);
  const copied = <Row>(rows: ItemRows<Row>) => ItemRows.of([...rows].map(([id, list]) => [id, list.slice()] as const));
  return progressOf({
    marks: copied(byItem.marks),
    handIns: copied(byItem.handIns),
    openings: new ItemRows(),
    groupMarks: new ItemRows(),
  });
}
export const asked = 'section:S03 group:"Layer 1 group 2" status:missing total<60';

export async function gradebookRows(): Promise<Row[]> {
  const { plan, progress } = markedCourse();
  const first = reachAt(plan, progress, now);
  const index = first.indexOf;
  const students = first.students.length;
  const unread = Array.from({ length: 10 }, () => anew(progress));
  const best = await fastest({
    ours: () => keep(everything(sheetOf(reachAt(plan, unread.pop() as Progress, now)))),
    floor: () => {
      // Each student's points and hand-ins out of the same rows, held to the end as ours are.
      const sums = new Float64Array(students);
      const counts = new Float64Array(students);
      for (const { personId, points } of progress.marks) {
        const at = index.get(personId) as number;
        sums[at] = (sums[at] as number) + (points ?? 0);
      }
      for (const { personId, at: when } of progress.handIns) {
        const at = index.get(personId) as number;
        if (when <= now) counts[at] = (counts[at] as number) + 1;
      }
      keep((sums[7] as number) + (counts[7] as number));
    },
  });

  const sheet = sheetOf(first);
  everything(sheet);
  const [column, personId] = [sheet.columns[40], first.students[100]] as const;
  if (!column || !personId) throw new Error("The course has no columns.");
  const mark: Mark = { personId, itemId: column.id, points: 3.5, excused: false, at: now };
  const change: MarkChange[] = [{ itemId: column.id, personId, mark }];
  const carried = await fastest(
    {
      ours: () => {
        const next = withMarks(progress, change);
        keep(everything(sheetOf(reachWithMarks(first, next, change), sheet)));
      },
    },
    300,
  );
  const next = withMarks(progress, change);
  const [one, other] = [sheetOf(reachWithMarks(first, next, change), sheet), sheetOf(reachAt(plan, anew(next), now))];
  for (let at = 0; at < students; at++)
    if (Math.abs((one.percentages()[at] as number) - (other.percentages()[at] as number)) > 1e-9)
      throw new Error(`After one mark the total of student ${at} differs.`);
  const cells = cellsOf(first);
  for (let at = 0; at < students; at += 97)
    for (const item of sheet.columns)
      if (
        sheet.cell(item, first.students[at] as string)?.state !== cells.cell(item, first.students[at] as string)?.state
      )
        throw new Error(`${item.title} differs for student ${at}`);

  const filter = parseFilter(asked);
  if (isMistake(filter)) throw new Error(filter.says);
  const section = Object.values(plan.sections).find(({ code }) => code === "S03")?.id ?? "";
  const group = Object.values(plan.groups).find(({ name }) => name === "Layer 1 group 2")?.id ?? "";
  const [inSection, inGroup] = [new Set<string>(), new Set<string>()];
  for (const row of Object.values(plan.enrolments)) if (row.sectionId === section) inSection.add(row.personId);
  for (const row of Object.values(plan.placements)) if (row.groupId === group) inGroup.add(row.personId);
  const missing = 4;
  const [theirSection, theirGroup] = [inSection, inGroup].map((those) =>
    Uint8Array.from(first.students, (id) => Number(those.has(id))),
  ) as [Uint8Array, Uint8Array];
  const byHand = () => {
    const found: string[] = [];
    const totals = sheet.percentages();
    const states = sheet.columns.map((item) => sheet.column(item).states);
    for (let at = 0; at < students; at++) {
      if (theirSection[at] === 0 || theirGroup[at] === 0 || !((totals[at] as number) < 60)) continue;
      if (states.some((column_) => column_[at] === missing)) found.push(first.students[at] as string);
    }
    return found;
  };
  const ours = () => matcher(filter, sheet).rows();
  if (JSON.stringify(ours()) !== JSON.stringify(byHand())) throw new Error("The filter and the loop differ.");
  const filtered = await fastest({ ours: () => keep(ours().length), floor: () => keep(byHand().length) }, 60);
  return [
    {
      name: "Gradebook: all states and totals",
      ours: best.ours,
      against: [{ name: "adding up the same rows by student", milliseconds: best.floor, kind: "floor" }],
      note: "5,000 students, 120 columns, 540,000 marks, 570,000 hand-ins; target at most 3",
    },
    {
      name: "Gradebook: after one mark",
      ours: carried.ours,
      against: [{ name: "all of it", milliseconds: best.ours, kind: "floor" }],
      note: "the same course; target under 0.01",
    },
    {
      name: "Gradebook: a filter of four terms",
      ours: filtered.ours,
      against: [{ name: "a loop written by hand", milliseconds: filtered.floor, kind: "floor" }],
      note: `${asked}; target at most 2`,
    },
  ];
}
