/**
 * Groups typed or pasted as people have them: a name a line, "Reeds: Ada Lovelace (lead), 00240012", or rows of a
 * spreadsheet with a group, a person and perhaps a lead in any order. Source: semantics.md section 3.
 */
import { isGroupHeading, saysLead } from "../placement/files/group-file.ts";
import { readTargets, type Unclear } from "../plan/typed-targets.ts";
import type { MeetingSlot, Plan } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";
import { readPattern } from "../timing/meetings.ts";

export interface TypedGroup {
  name: string;
  personIds: string[];
  leads: string[];
  /** When it meets, where that is written behind its name: "Morning (Mon Wed 09:00-10:15)". */
  pattern: MeetingSlot[];
}
export interface TypedGroups {
  /** Each once by its name, in the order of the text. */
  groups: TypedGroup[];
  /** Who was named and fits nobody, or several. */
  unclear: Unclear[];
}
interface Nameable {
  plan: Plan;
  /** Who can be meant. The same list for as long as the plan is the same. */
  personIds: readonly string[];
}

const isHeading = (cells: string[]): boolean => cells.length > 1 && cells.some(isGroupHeading);
const everyMark = /\s*(?:\((?:lead|leader)\)|\*)/gi;
/** A name, up to the comma before it, that is marked as a lead's. */
const markedName = /([^,;]+?)\s*(?:\((?:lead|leader)\)|\*)/gi;

export function readTypedGroups(names: Nameable, text: string): TypedGroups {
  const found: TypedGroups = { groups: [], unclear: [] };
  const groupNamed = (name: string): TypedGroup => {
    const there = found.groups.find((one) => fold(one.name) === fold(name));
    if (there) return there;
    const made: TypedGroup = { name, personIds: [], leads: [], pattern: [] };
    found.groups.push(made);
    return made;
  };
  const peopleNamed = (typed: string): string[] => {
    const { targets, unclear } = readTargets(names, typed);
    found.unclear.push(...unclear);
    return targets.flatMap(({ kind, id }) => (kind === "person" ? [id] : []));
  };
  const put = (group: TypedGroup, personIds: string[], leads: boolean) => {
    for (const id of personIds) {
      if (!group.personIds.includes(id)) group.personIds.push(id);
      if (leads && !group.leads.includes(id)) group.leads.push(id);
    }
  };
  /** A row out of a spreadsheet: one cell names the group, the others say who. */
  const readRow = (cells: string[], groupAt: number) => {
    const who = cells.filter((cell, at) => at !== groupAt && cell !== "" && !saysLead(cell));
    const group = groupNamed(cells[groupAt] as string);
    if (who.length > 0) put(group, peopleNamed(who.join("\t")), cells.some(saysLead));
  };
  const readLine = (line: string) => {
    const [, met = "", meets = "", rest = ""] = /^(.+?)\s*\(([^()]+)\)\s*(?::\s*(.*))?$/.exec(line) ?? [];
    const pattern = meets === "" ? null : readPattern(meets);
    // What stands in brackets may also belong to the name.
    const [, name = line, who = ""] = pattern ? ["", met, rest] : (/^(.+?):\s*(.*)$/.exec(line) ?? []);
    const group = groupNamed(name.trim());
    if (pattern) group.pattern = pattern;
    if (who === "") return;
    put(group, peopleNamed(who.replace(everyMark, "")), false);
    for (const [, marked = ""] of who.matchAll(markedName)) {
      const { targets } = readTargets(names, marked);
      const [first] = targets.filter(({ kind, id }) => kind === "person" && group.personIds.includes(id));
      if (first) put(group, [first.id], true);
    }
  };

  const lines = text.split(/\r\n|\r|\n/).filter((line) => line.trim() !== "");
  const rows = lines.map((line) => line.split("\t").map((cell) => cell.trim()));
  const heading = rows[0] && isHeading(rows[0]) ? rows[0] : null;
  const groupAt = heading ? heading.findIndex(isGroupHeading) : groupColumn(names, rows);
  rows.forEach((cells, at) => {
    if (heading && at === 0) return;
    if (cells.length > 1 && cells[groupAt]) readRow(cells, groupAt);
    else readLine((lines[at] as string).trim());
  });
  return found;
}

/** Of rows without headings the column that names no person and is no mark of a lead. */
function groupColumn(names: Nameable, rows: string[][]): number {
  const row = rows.find((cells) => cells.length > 1);
  if (!row) return 0;
  const isPerson = (cell: string) => readTargets(names, cell).targets.some(({ kind }) => kind === "person");
  return Math.max(
    0,
    row.findIndex((cell) => cell !== "" && !saysLead(cell) && !isPerson(cell)),
  );
}
