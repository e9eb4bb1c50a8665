/** What a change of rows was, in words: from what to what. Source: semantics.md section 8, the journal. */

import { sayInstant, sayWall } from "../clock/local-time.ts";
import { nameOf } from "../intake/undo.ts";
import type { Row, RowChange } from "../plan/difference.ts";
import { same } from "../plan/difference.ts";
import { fullName, targetName } from "../plan/lookup.ts";
import type { Plan, Target } from "../plan/types.ts";
import { cut } from "../text/shorten.ts";

export interface RowWords {
  /** The row, as staff call it. */
  about: string;
  /** The field; empty where the row came or went as a whole. */
  field: string;
  from: string;
  to: string;
}

/** `readableAfterClose` as `readable after close`. */
const fieldWords = (name: string) => name.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);
const isTargets = (value: unknown): value is Target[] =>
  Array.isArray(value) &&
  value.length > 0 &&
  value.every((one) => typeof one === "object" && one && "kind" in one && "id" in one);

/** Fields that hold an instant as epoch milliseconds. */
const instants = new Set(["since", "until", "at", "archivedAt"]);

/** A value of a row as text that staff can read; ids become names. `name`: the field that it stands in. */
export function valueWords(plan: Plan, value: unknown, name = ""): string {
  // An end that is not there is no end.
  if (value === null && name === "until") return "no end";
  if (value === null || value === undefined || value === "") return "nothing";
  if (value === true) return "yes";
  if (value === false) return "no";
  if (typeof value === "number") return instants.has(name) ? sayInstant(value, plan.course.timeZone) : String(value);
  if (typeof value === "string") {
    if (/^\d{4}-\d\d-\d\dT\d\d:\d\d$/.test(value)) return sayWall(value);
    const person = plan.people[value];
    const named =
      plan.groups[value]?.name ??
      plan.items[value]?.title ??
      plan.layers[value]?.name ??
      plan.sections[value]?.code ??
      (person && fullName(person));
    return named ?? cut(value.replace(/<[^>]*>/g, " "), 200);
  }
  if (isTargets(value)) return value.map((target) => targetName(plan, target)).join(", ");
  if (Array.isArray(value)) {
    if (value.length === 0) return "nothing";
    const said = value.map((one) => valueWords(plan, one));
    return said.length > 8 ? `${said.slice(0, 8).join("; ")} and ${said.length - 8} more` : said.join("; ");
  }
  return Object.entries(value)
    .filter(([, one]) => one !== null && one !== undefined && !(Array.isArray(one) && one.length === 0))
    .map(([field, one]) => `${fieldWords(field)} ${valueWords(plan, one, field)}`)
    .join(", ");
}

/** A change of one row, a line a field; fields that only place it in a list are left out. */
export function rowWords(plan: Plan, { table, before, after }: RowChange): RowWords[] {
  const about = nameOf(plan, table, after ?? before);
  if (!before) return [{ about, field: "", from: "", to: "added" }];
  if (!after) return [{ about, field: "", from: "removed", to: "" }];
  const names = [...new Set([...Object.keys(before), ...Object.keys(after)])].filter((name) => name !== "position");
  return names
    .filter((name) => !same((before as Row)[name], (after as Row)[name]))
    .map((name) => ({
      about,
      field: fieldWords(name),
      from: valueWords(plan, before[name], name),
      to: valueWords(plan, after[name], name),
    }));
}
