/**
 * The whole table of dates as rows of text, a row an item and a row for each who has dates of their own; and read back
 * after somebody edited it in a spreadsheet, with a verdict a row before anything changes. Source: semantics.md section 6.
 */

import type { NewCommand } from "../../commands.ts";
import { cellsOf, type TextTable } from "../../formats/text-table.ts";
import type { OutCell } from "../../formats/workbooks/out-table.ts";
import { fullName, lookup, outlineOrder, targetName } from "../../plan/lookup.ts";
import type { DateField, DateFields, Item, Plan, Target } from "../../plan/types.ts";
import { fieldTitles } from "../field-titles.ts";
import { dateFields, type GivenValue } from "../resolving/resolve.ts";
import { asTyped, type DayOrder, dayOrderOf } from "./spreadsheet-dates.ts";
import { readField, typedContext, writeField } from "./typed.ts";

/** What columns of tables that were saved earlier are called. */
const earlierTitles: Partial<Record<DateField, string>> = { accessWord: "Access word" };
export const datesHeader = [
  "Item id",
  "Item",
  "For",
  "Whom",
  "Whom id",
  ...dateFields.map((field) => fieldTitles[field]),
];

const kinds: Record<Target["kind"], string> = { group: "group", section: "section", person: "student", set: "set" };

/** The id by which people outside know a target: the registrar's of a student, otherwise its own. */
const idOf = (plan: Plan, { kind, id }: Target): string =>
  kind === "person" ? (plan.people[id]?.sourcedId ?? id) : id;

/** A moment as a day and counts as numbers, with which a spreadsheet can reckon; what is said in words stays text. */
const outCell = (field: DateField, written: string): OutCell =>
  /^\d{4}-\d{2}-\d{2} \d{2}:\d{2}$/.test(written)
    ? { day: written }
    : (field === "attempts" || field === "minutes") && /^\d+$/.test(written)
      ? Number(written)
      : written;

/** The table as it stands, in the order of the outline. */
export function datesRows(plan: Plan): OutCell[][] {
  const cells = (dates: DateFields) =>
    dateFields.map((field) => outCell(field, writeField((dates[field] as GivenValue) ?? null)));
  return outlineOrder(plan)
    .filter(({ item }) => item.kind !== "folder")
    .flatMap(({ item }) => [
      [item.id, item.title, "everyone", "", "", ...cells(item.dates)],
      ...(lookup(plan).overridesOfItem.get(item.id) ?? []).map(({ target, dates }) => [
        item.id,
        item.title,
        kinds[target.kind],
        targetName(plan, target),
        idOf(plan, target),
        ...cells(dates),
      ]),
    ]);
}

export interface DateChange {
  field: DateField;
  from: GivenValue | null;
  to: GivenValue | null;
}
export interface DatesRow {
  line: number;
  item: Item | null;
  target: Target | null;
  /** For whom, in words. */
  who: string;
  verdict: "same" | "changed" | "unreadable";
  changes: DateChange[];
  /** What is wrong, and with which cell. */
  wrong: string;
}
export interface DatesFile {
  rows: DatesRow[];
  /** Overrides that are there and that the file does not list: they stay. */
  unlisted: number;
  /** What is to be said of the file: hidden rows, sheets without dates. */
  notes: string[];
}

type Found<Value> = { value: Value } | { wrong: string };

function targetOf(plan: Plan, kind: string, name: string, id: string): Found<Target | null> {
  const word = kind.trim().toLowerCase();
  if (word === "" || word === "everyone") return { value: null };
  const named = Object.entries(kinds).find(([, said]) => said === word)?.[0] as Target["kind"] | undefined;
  if (!named) return { wrong: `"${kind}" is not everyone, group, section, set or student` };
  if (named === "person") {
    const person = Object.values(plan.people).find((one) => one.sourcedId === id);
    return person ? { value: { kind: named, id: person.id } } : { wrong: `there is no student with the id ${id}` };
  }
  const table = { group: plan.groups, section: plan.sections, set: plan.sets }[named];
  if (id !== "" && table[id]) return { value: { kind: named, id } };
  // A row that somebody typed has no id: the name will do where it is the only one.
  const same = Object.values(table).filter(
    (one) => targetName(plan, { kind: named, id: one.id }).toLowerCase() === name.trim().toLowerCase(),
  );
  const [only] = same;
  if (same.length === 1 && only) return { value: { kind: named, id: only.id } };
  return { wrong: same.length > 1 ? `there are ${same.length} called ${name}` : `there is no ${word} ${name || id}` };
}

function itemOf(plan: Plan, id: string, title: string): Found<Item> {
  const item = plan.items[id];
  if (item) return { value: item };
  const same = Object.values(plan.items).filter((one) => one.title.toLowerCase() === title.trim().toLowerCase());
  const [only] = same;
  if (id === "" && same.length === 1 && only) return { value: only };
  return {
    wrong:
      id === "" && same.length > 1 ? `${same.length} items are called ${title}` : `there is no item ${title || id}`,
  };
}

const sameValue = (a: GivenValue | null, b: GivenValue | null) => JSON.stringify(a) === JSON.stringify(b);

/** Where a table says what; null where it says no item or no date. */
function columnsIn(table: TextTable) {
  const at = (name: string) => table.header.findIndex((one) => one.trim().toLowerCase() === name.toLowerCase());
  const fields = dateFields
    .map((field) => ({ field, column: Math.max(at(fieldTitles[field]), at(earlierTitles[field] ?? "")) }))
    .filter(({ column }) => column >= 0);
  const found = {
    itemId: at("Item id"),
    title: at("Item"),
    kind: at("For"),
    whom: at("Whom"),
    whomId: at("Whom id"),
    fields,
  };
  return found.itemId < 0 && found.title < 0
    ? { wants: '"Item id" or "Item"' }
    : fields.length === 0
      ? { wants: '"Opens", "Due" or another date' }
      : found;
}
type Columns = Exclude<ReturnType<typeof columnsIn>, { wants: string }>;

interface Reading {
  plan: Plan;
  today: string;
  /** Whether the day or the month comes first in the file's dates. */
  order: DayOrder | null;
  /** Items and targets that were read, and overrides among them. */
  seen: Set<string>;
  listed: Set<string>;
}

interface RowOfFile {
  line: number;
  /** What stands in a column; nothing where the table has no such one. */
  cell(column: number): string;
}

/** One row's verdict. */
function readRow(reading: Reading, columns: Columns, { line, cell }: RowOfFile): DatesRow {
  const { plan, today, order, seen, listed } = reading;
  const blank = { line, item: null, target: null, who: cell(columns.whom) || "everyone", changes: [], wrong: "" };
  const unreadable = (wrong: string): DatesRow => ({ ...blank, verdict: "unreadable", wrong });
  const item = itemOf(plan, cell(columns.itemId), cell(columns.title));
  if ("wrong" in item) return unreadable(item.wrong);
  const target = targetOf(plan, cell(columns.kind), cell(columns.whom), cell(columns.whomId));
  if ("wrong" in target) return unreadable(target.wrong);
  const key = `${item.value.id}/${target.value ? `${target.value.kind} ${target.value.id}` : ""}`;
  if (seen.has(key)) return unreadable("it is in the file twice; the first stands");
  seen.add(key);
  const override =
    target.value &&
    (lookup(plan).overridesOfItem.get(item.value.id) ?? []).find(
      (one) => one.target.kind === target.value?.kind && one.target.id === target.value.id,
    );
  if (override) listed.add(override.id);
  const dates: DateFields = target.value ? (override?.dates ?? {}) : item.value.dates;
  const changes: DateChange[] = [];
  for (const { field, column } of columns.fields) {
    const from = (dates[field] as GivenValue | undefined) ?? null;
    const typed = field === "accessWord" ? { text: cell(column) } : asTyped(cell(column), order);
    const context = typedContext({ course: plan.course, day: today, field, kind: item.value.kind, from });
    const read = "wrong" in typed ? typed : readField(field, typed.text, context);
    if ("wrong" in read) return unreadable(`${fieldTitles[field]}: ${read.wrong}`);
    if (!sameValue(from, read.value)) changes.push({ field, from, to: read.value });
  }
  const who = target.value ? whoSay(plan, target.value) : "everyone";
  const about = { ...blank, who, item: item.value, target: target.value, changes };
  return { ...about, verdict: changes.length > 0 ? "changed" : "same" };
}

/**
 * Reads a file's tables back, every sheet that fits. Columns are found by their names, in any order; one that is
 * missing changes nothing.
 */
export function readDatesFile(plan: Plan, tables: readonly TextTable[], today: string): DatesFile | { wrong: string } {
  const found = tables.map((table) => ({ table, columns: columnsIn(table) }));
  const fitting = found.flatMap(({ table, columns }) => ("wants" in columns ? [] : [{ table, columns }]));
  const [first] = found;
  if (fitting.length === 0)
    return {
      wrong: `${first?.table.name ?? "The file"} has no columns ${first && "wants" in first.columns ? first.columns.wants : "of dates"}. Save the table of dates from here, and edit that.`,
    };
  const texts = fitting.map(({ table }) => {
    const cells = cellsOf(table);
    return table.lines.map((_, row) => (column: number) => (column < 0 ? "" : cells.cell(row, column)));
  });
  const order = dayOrderOf(
    fitting.flatMap(({ columns }, at) =>
      (texts[at] ?? []).flatMap((cell) => columns.fields.map(({ column }) => cell(column))),
    ),
  );
  const reading: Reading = { plan, today, order, seen: new Set(), listed: new Set() };
  const rows = fitting.flatMap(({ table, columns }, at) =>
    (texts[at] ?? []).map((cell, row) => readRow(reading, columns, { line: table.lines[row] as number, cell })),
  );
  const left = found.filter(({ columns }) => "wants" in columns).map(({ table }) => table.sheet ?? table.name);
  return {
    rows,
    unlisted: Object.keys(plan.overrides).filter((id) => !reading.listed.has(id)).length,
    notes: [
      ...fitting.flatMap(({ table }) => table.notes ?? []),
      ...(left.length > 0 ? [`Not read, since no dates stand there: ${left.join(", ")}.`] : []),
    ],
  };
}

const whoSay = (plan: Plan, target: Target): string => {
  const person = target.kind === "person" ? plan.people[target.id] : undefined;
  return person ? fullName(person) : targetName(plan, target);
};

/** The commands that take the rows that changed: one an item and target. */
export const datesCommands = (rows: DatesRow[]): NewCommand[] =>
  rows
    .filter(({ verdict }) => verdict === "changed")
    .map(({ item, target, changes }): NewCommand => {
      const dates = Object.fromEntries(changes.map(({ field, to }) => [field, to]));
      const itemIds = [(item as Item).id];
      return target ? { kind: "override.set", itemIds, target, dates } : { kind: "dates.set", itemIds, dates };
    });
