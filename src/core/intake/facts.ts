/** What a row says about its person, and what of it is different from what is stored. Source: semantics.md section 2. */
import type { Person } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";
import type { RosterRow } from "./rows.ts";
import { lostZeros } from "./same-id.ts";

export interface FieldChange {
  field: string;
  from: string;
  to: string;
}

const personFields = ["username", "email", "givenName", "familyName"] as const;

export const noChanges: readonly FieldChange[] = Object.freeze([]);
/** Logins are compared without case, everything else after NFC. */
const comparable = (field: string, value: string) =>
  field === "username" || field === "email" ? fold(value) : value.normalize("NFC");
const differs = (field: string, from: string, to: string) =>
  to !== "" && from !== to && comparable(field, from) !== comparable(field, to);

/**
 * Fields that a row would change, from and to. A blank cell keeps what is stored. `renamed` where the row has
 * another id than the person.
 */
export function changesTo(person: Person, row: RosterRow, renamed: boolean): readonly FieldChange[] {
  // Most rows change nothing, which a row of a table can tell without a word being cut out of it.
  if (!renamed && row.saysOnly?.(person)) return noChanges;
  const changes: FieldChange[] = [];
  const compare = (field: string, from: string, to: string) => {
    if (differs(field, from, to)) changes.push({ field, from, to });
  };
  // An id that only lost its zeros is mended, and stays as the registrar writes it.
  if (!lostZeros(row.sourcedId, person.sourcedId)) compare("id", person.sourcedId, row.sourcedId);
  for (const field of personFields) compare(field, person[field] ?? "", row[field]);
  const { attributes } = row;
  for (const field in attributes) compare(field, person.attributes[field] ?? "", attributes[field] as string);
  return changes.length > 0 ? changes : noChanges;
}

/** Everything a row says about the person, as field and value; blank cells say nothing. */
function facts(row: RosterRow): [string, string][] {
  const named = personFields.map((field): [string, string] => [field, row[field]]);
  return [...named, ...Object.entries(row.attributes)].filter(([, value]) => value !== "");
}

/** Whether two rows say different things about one person. */
export function disagree(a: RosterRow, b: RosterRow): boolean {
  const said = new Map(facts(a));
  return facts(b).some(([field, value]) => {
    const other = said.get(field);
    return other !== undefined && comparable(field, other) !== comparable(field, value);
  });
}

/**
 * Whether some of several rows are in conflict: two say different things about one person, or two of one section do not
 * say exactly the same. Each row is held against what was said before it, not against each other row.
 */
export function anyConflict(rows: readonly RosterRow[]): boolean {
  const said = new Map<string, string>();
  const shapes = new Map<string, string>();
  for (const row of rows) {
    const all = facts(row);
    for (const [field, value] of all) {
      const own = comparable(field, value);
      if ((said.get(field) ?? own) !== own) return true;
      said.set(field, own);
    }
    const code = fold(row.sectionCode);
    const shape = JSON.stringify([row.role, ...all.map(([field]) => field).sort()]);
    if ((shapes.get(code) ?? shape) !== shape) return true;
    shapes.set(code, shape);
  }
  return false;
}
