/** What a draft does to the marks that students read: which, in what state, and what they make together. Section 7 and 8. */
import { columnsOf } from "../gradebook/cells.ts";
import { code, type SheetColumn } from "../gradebook/column.ts";
import { type Sheet, sheetOf } from "../gradebook/sheet.ts";
import { told } from "../gradebook/student-marks.ts";
import { type Total, totalOf } from "../gradebook/totals.ts";
import type { Item } from "../plan/types.ts";
import { type Bits, eachBit, emptyBits, hasBit, isEmpty, setBit } from "../sets/bits.ts";
import type { Impact } from "./impact.ts";
import { sides, type World } from "./world.ts";

/** A total as it is read: without the rows that it was made of. */
export const shownTotal = ({ percent, word, categories, apart }: Total): unknown => ({
  percent,
  word,
  categories: categories.map(({ category, cells, earned, possible, percent: part, share }) => ({
    name: category?.name ?? null,
    cells: cells.map(({ item, points, possible: most, dropped, why }) => [item.id, points, most, dropped, why]),
    earned,
    possible,
    percent: part,
    share,
  })),
  apart: apart.map(({ id }) => id),
});

/** What the marks page says of the cells of one column, by the places of its sheet. */
interface Says {
  item: Item;
  column: SheetColumn;
  open: Bits;
}
function saysOf(sheet: Sheet, item: Item | undefined): Says | null {
  if (!item || item.points === null || item.kind === "folder") return null;
  return { item, column: sheet.column(item), open: sheet.reach.sees(item) };
}
const toldCodes = new Set([...told].map((state) => code[state]));
/** Whether the page tells of a cell at all. */
function isTold({ column, open }: Says, place: number): boolean {
  const state = column.states[place] as number;
  return state !== code["not theirs"] && (hasBit(open, place) || toldCodes.has(state));
}
/** Whether two cells read alike. */
function readsAlike(was: Says, a: number, is: Says, b: number): boolean {
  return (
    was.item.title === is.item.title &&
    was.item.points === is.item.points &&
    hasBit(was.open, a) === hasBit(is.open, b) &&
    was.column.states[a] === is.column.states[b] &&
    Object.is(was.column.points[a], is.column.points[b]) &&
    (was.column.late?.[a] ?? 0) === (is.column.late?.[b] ?? 0)
  );
}

/** The columns that a draft may touch, by the moments at which they are asked. */
function columnsAt(world: World, impact: Impact): Map<number, Set<string>> {
  const columns = new Map<number, Set<string>>();
  const touched = sides.flatMap((side) => columnsOf(world.plans[side]).filter(({ id }) => impact.items.has(id)));
  for (const item of touched)
    for (const moment of world.momentsOf(item))
      if (world.counts(moment)) columns.set(moment, (columns.get(moment) ?? new Set()).add(item.id));
  return columns;
}

/** Of some students those whose marks page says something otherwise of a column, at one of its moments. */
export function compareCells(world: World, impact: Impact, among: Bits): Bits {
  const changed = emptyBits(world.students.length);
  if (isEmpty(among)) return changed;
  for (const [moment, itemIds] of columnsAt(world, impact)) {
    const [before, after] = sides.map((side) => sheetOf(world.reach(side, moment))) as [Sheet, Sheet];
    for (const itemId of itemIds) {
      const was = saysOf(before, world.plans.before.items[itemId]);
      const is = saysOf(after, world.plans.after.items[itemId]);
      eachBit(among, (index) => {
        const personId = world.students[index] as string;
        const [a, b] = [before.reach.indexOf.get(personId), after.reach.indexOf.get(personId)];
        const tells = was !== null && a !== undefined && isTold(was, a);
        const tellsNow = is !== null && b !== undefined && isTold(is, b);
        if (tells !== tellsNow || (tells && tellsNow && !readsAlike(was, a, is, b))) setBit(changed, index);
      });
    }
  }
  return changed;
}

/** The total of a student as the marks page shows it: over what it tells of alone. */
function totalSays(sheet: Sheet, columns: Says[], personId: string): string {
  const place = sheet.reach.indexOf.get(personId);
  if (place === undefined) return "";
  const shown = columns.flatMap((says) => {
    const cell = isTold(says, place) ? sheet.cell(says.item, personId) : null;
    return cell ? [{ item: says.item, cell }] : [];
  });
  return JSON.stringify([
    shown.map(({ item }) => item.id),
    shownTotal(totalOf(sheet.reach.plan.course.grading, shown)),
  ]);
}

/** Totals, where the way changes in which marks make them. */
export function compareTotals(world: World, impact: Impact): Bits {
  const changed = emptyBits(world.students.length);
  if (!impact.grading) return changed;
  for (const moment of world.membershipMoments.filter(world.counts)) {
    const [before, after] = sides.map((side) => {
      const sheet = sheetOf(world.reach(side, moment));
      const columns = sheet.columns.flatMap((item) => saysOf(sheet, item) ?? []);
      return (personId: string) => totalSays(sheet, columns, personId);
    }) as [(personId: string) => string, (personId: string) => string];
    world.students.forEach((personId, index) => {
      if (before(personId) !== after(personId)) setBit(changed, index);
    });
  }
  return changed;
}
