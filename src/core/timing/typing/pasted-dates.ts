/** A block of dates and limits, pasted over the table of dates. Source: semantics.md section 6. */
import type { NewCommand } from "../../commands.ts";
import { lookup, targetName } from "../../plan/lookup.ts";
import type { DateField, DateFields, Plan, Target } from "../../plan/types.ts";
import { fieldTitle } from "../field-titles.ts";
import type { GivenValue } from "../resolving/resolve.ts";
import { readField, typedContext } from "./typed.ts";

type Dates = Partial<Record<DateField, GivenValue | null>>;

/** The command that sets fields for everyone, or for one target. */
export const setting = (itemIds: string[], target: Target | null, dates: Dates): NewCommand =>
  target
    ? { kind: "override.set", itemIds, target, dates: dates as Patch }
    : { kind: "dates.set", itemIds, dates: dates as Patch };
type Patch = Extract<NewCommand, { kind: "dates.set" }>["dates"];

export interface DatesBlock {
  /** The items whose dates these are: each gets the same. */
  itemIds: string[];
  /** The rows and columns of the table, from the cell onwards at which the block is pasted; null: everyone. */
  rows: readonly (Target | null)[];
  fields: readonly DateField[];
  /** The cells as they were pasted; an empty one changes nothing. */
  cells: readonly (readonly string[])[];
  /** The day on which one pastes, `2026-10-05`. */
  day: string;
}

/** What a block sets, a command a row; or every cell that cannot be read, with what is wrong: then nothing is set. */
export function pastedDates(plan: Plan, block: DatesBlock): NewCommand[] | { wrong: string[] } {
  const { rows, cells, itemIds } = block;
  const wrong: string[] = [];
  const commands = cells.flatMap((line, at): NewCommand[] => {
    const target = rows[at];
    if (target !== undefined) {
      const dates = readRow(plan, block, { target, line, wrong });
      return Object.keys(dates).length === 0 ? [] : [setting(itemIds, target, dates)];
    }
    if (line.some((text) => text.trim() !== "")) wrong.push(`Row ${at + 1} stands below the table.`);
    return [];
  });
  return wrong.length > 0 ? { wrong } : commands;
}

interface Row {
  target: Target | null;
  line: readonly string[];
  /** Takes what is wrong with a cell. */
  wrong: string[];
}
function readRow(plan: Plan, { itemIds, fields, day }: DatesBlock, { target, line, wrong }: Row): Dates {
  const dates: Dates = {};
  const kind = plan.items[itemIds[0] ?? ""]?.kind;
  const whom = target ? targetName(plan, target) : "everyone";
  for (const [column, text] of line.entries()) {
    if (text.trim() === "") continue;
    const field = fields[column];
    if (field === undefined) {
      wrong.push(`${whom}: "${text}" stands beside the table.`);
      continue;
    }
    const from = heldIn(plan, itemIds, target)?.[field];
    const read = readField(field, text, typedContext({ course: plan.course, day, field, kind, from }));
    if ("wrong" in read) wrong.push(`${whom}, ${fieldTitle(field, kind).toLowerCase()}: "${text}". ${read.wrong}`);
    else dates[field] = read.value;
  }
  return dates;
}

/** What "+1d" is counted from: what is set for the target, or else for everyone. */
function heldIn(plan: Plan, [itemId = ""]: string[], target: Target | null): DateFields | undefined {
  const item = plan.items[itemId];
  const theirs = (lookup(plan).overridesOfItem.get(itemId) ?? []).find(
    (one) => one.target.kind === target?.kind && one.target.id === target.id,
  );
  return item && { ...item.dates, ...theirs?.dates };
}
