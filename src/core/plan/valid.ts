/**
 * What no row of a plan may say, wherever it comes from: a command, a file, a change that is led back. A plan without such
 * faults can be shown, computed and published. Source: semantics.md sections 1, 2 and 5.
 */
import { daysBetween, longestTerm } from "../clock/local-time.ts";
import { foldCode } from "../text/codes.ts";
import { type Refusal, refuse } from "./command.ts";
import { difference, type Row, type RowChange } from "./difference.ts";
import { referencesOf } from "./references.ts";
import { rowIn } from "./tables.ts";
import { type Entrance, type Group, type Item, type Plan, type TableName, tableNames } from "./types.ts";

export interface Fault {
  table: TableName | "course";
  id: string;
  /** What is wrong, as the rest of a sentence about the row. */
  says: string;
}
type Changed = Pick<RowChange, "table" | "id" | "before" | "after">;

const rowsIn = (plan: Plan, table: TableName): Record<string, Row> => plan[table] as unknown as Record<string, Row>;

/**
 * What a row names that is not there, and did not name before. A condition may ask about an item that was removed: it then
 * holds for nobody, which the audit says, and commands refuse to ask about one that is not there.
 */
function missingIn(plan: Plan, { table, before, after }: Changed): string[] {
  if (!after) return [];
  const mayBeGone = (id: string) => table === "items" && id !== after.parentId;
  const named = new Set(before ? referencesOf(table, before).map((one) => `${one.table}/${one.id}`) : []);
  const missing = referencesOf(table, after).filter(
    (one) =>
      rowIn(plan, one.table, one.id) === null &&
      !named.has(`${one.table}/${one.id}`) &&
      !(one.table === "items" && mayBeGone(one.id)),
  );
  return [...new Set(missing.map((one) => `it names ${one.id} of the ${one.table}, which is not there`))];
}

/** Why an item cannot stand where it stands: under a page, or within itself. */
function placeOf(plan: Plan, item: Item): string | null {
  const parent = item.parentId === null ? null : plan.items[item.parentId];
  if (parent && parent.kind !== "folder") return `it stands under ${parent.title}, which is no folder`;
  const seen = new Set<string>([item.id]);
  for (let at = parent; at; at = at.parentId === null ? null : plan.items[at.parentId]) {
    if (seen.has(at.id)) return "it stands within itself";
    seen.add(at.id);
  }
  return null;
}

function itemFaults(plan: Plan, { before, after }: Changed): string[] {
  const [was, item] = [before as Item | null, after as unknown as Item];
  const faults: string[] = [];
  const place = was?.parentId === item.parentId ? null : placeOf(plan, item);
  if (place) faults.push(place);
  if (was?.kind === "folder" && item.kind !== "folder") {
    const child = Object.values(plan.items).find(({ parentId }) => parentId === item.id);
    if (child) faults.push(`it holds ${child.title}, and only a folder can`);
  }
  const known = plan.course.grading.categories.some(({ id }) => id === item.categoryId);
  if (item.categoryId !== null && item.categoryId !== was?.categoryId && !known)
    faults.push(`it is in a category of the gradebook (${item.categoryId}) that is not there`);
  return faults;
}

/** Codes that somebody types, as they are compared; those of groups and the visitors' one. */
function codeTaken(plan: Plan, code: string, ofGroup: string | null): string | null {
  if (ofGroup !== null && plan.course.visitorCode !== null && foldCode(plan.course.visitorCode) === foldCode(code))
    return "the visitors' code is the same";
  const other = Object.values(plan.groups).find(
    (one) => one.id !== ofGroup && one.code !== null && foldCode(one.code) === foldCode(code),
  );
  return other ? `${other.name} has the same code, as codes are compared` : null;
}

function courseFaults(plan: Plan, { before }: Changed): string[] {
  const { course } = plan;
  const was = before as unknown as Plan["course"] | null;
  const faults: string[] = [];
  if (course.termEnd < course.termStart) faults.push("its term ends before it begins");
  if (daysBetween(course.termStart, course.termEnd) >= longestTerm) faults.push("its term is longer than two years");
  const taken =
    course.visitorCode === null || course.visitorCode === was?.visitorCode
      ? null
      : codeTaken(plan, course.visitorCode, null);
  if (taken) faults.push(taken);
  const ids = course.grading.categories.map(({ id }) => id);
  if (new Set(ids).size < ids.length) faults.push("two categories of its gradebook have one id");
  return faults;
}

function groupFaults(plan: Plan, { before, after }: Changed): string[] {
  const { code, id } = after as unknown as Group;
  const taken = code === null || code === before?.code ? null : codeTaken(plan, code, id);
  return taken ? [taken] : [];
}

function entranceFaults(plan: Plan, { after }: Changed): string[] {
  const folder = plan.items[(after as unknown as Entrance).folderId ?? ""];
  return folder && folder.kind !== "folder" ? [`it leads into ${folder.title}, which is no folder`] : [];
}

function timeFaults(_: Plan, { after }: Changed): string[] {
  const { since, until } = after as unknown as { since: number; until: number | null };
  return until !== null && until < since ? ["it ends before it begins"] : [];
}

/** What else a changed row may not say, by its table. */
const ownFaults: Partial<Record<Fault["table"], (plan: Plan, change: Changed) => string[]>> = {
  course: courseFaults,
  items: itemFaults,
  groups: groupFaults,
  entrances: entranceFaults,
  enrolments: timeFaults,
  placements: timeFaults,
};

/** The faults of some changed rows, of the plan that they led to: only what they do not have from before. */
export const faultsOf = (plan: Plan, changes: readonly Changed[]): Fault[] =>
  changes.flatMap((change) =>
    [...missingIn(plan, change), ...(change.after ? (ownFaults[change.table]?.(plan, change) ?? []) : [])].map(
      (says) => ({
        table: change.table,
        id: change.id,
        says,
      }),
    ),
  );

/** Every fault of a plan, in the order of its tables and rows. */
export function faultsIn(plan: Plan): Fault[] {
  const rows = tableNames.flatMap((table) =>
    Object.values(rowsIn(plan, table)).map((after): Changed => ({ table, id: after.id, before: null, after })),
  );
  return faultsOf(plan, [{ table: "course", id: plan.course.id, before: null, after: plan.course as Row }, ...rows]);
}

/** What a row is called in a sentence: its title or name where it has one. */
export function calledRow(plan: Plan, { table, id }: Pick<Fault, "table" | "id">): string {
  if (table === "course") return "The course";
  const row = rowIn(plan, table, id) as { title?: unknown; name?: unknown; code?: unknown } | null;
  const name = [row?.title, row?.name, row?.code].find((one) => typeof one === "string" && one !== "");
  return name === undefined ? `A row of the ${table}` : String(name);
}

/** A refusal of what led from one plan to another where it left a fault; null where it left none. */
export function faultRefusal(before: Plan, after: Plan): Refusal | null {
  if (before === after) return null;
  const [fault] = faultsOf(after, difference(before, after));
  return fault
    ? refuse("plan.fault", `${calledRow(after, fault)} cannot be so: ${fault.says}. Nothing was changed.`)
    : null;
}
