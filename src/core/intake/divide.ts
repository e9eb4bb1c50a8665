/** One registrar's section that holds several classes becomes groups of a layer of its own. Source: semantics.md section 3. */
import type { NewCommand } from "../commands.ts";
import type { TypedGroup } from "../line/typed-groups.ts";
import { takeTyped } from "../placement/files/take-typed.ts";
import { freeName } from "../placement/groups/parts.ts";
import { compareText, holdsAt, lookup } from "../plan/lookup.ts";
import type { Plan, Section } from "../plan/types.ts";
import { studentsBySection } from "./section-history.ts";

export interface Division {
  /** The groups, with everybody who goes into them. */
  groups: TypedGroup[];
  /** Who is in the section and in none of them. */
  left: string[];
  /** Who was listed and is not in the section: they are left out. */
  notHere: string[];
}

/**
 * The classes of a section at t, as they were typed. Where just one of them lists nobody, whoever is left over goes into
 * it; nobody of another section goes into any.
 */
export function divisionOf(plan: Plan, section: Section, typed: TypedGroup[], t: number): Division {
  const students = (studentsBySection(plan).get(section.id) ?? [])
    .filter((row) => holdsAt(row, t))
    .map(({ personId }) => personId);
  const isHere = new Set(students);
  const listed = new Set(typed.flatMap(({ personIds }) => personIds));
  const open = typed.filter(({ personIds }) => personIds.length === 0);
  const left = students.filter((id) => !listed.has(id));
  const groups = typed.map((group) => {
    const personIds = group.personIds.filter((id) => isHere.has(id));
    return { ...group, personIds: open.length === 1 && open[0] === group ? left : personIds };
  });
  return {
    groups,
    left: open.length === 1 ? [] : left,
    notHere: [...listed].filter((id) => !isHere.has(id)),
  };
}

/** The one change that makes the groups of a division, in a layer called after the section. */
export function divide(plan: Plan, section: Section, { groups }: Division): NewCommand {
  const names = lookup(plan).layers.map(({ name }) => name);
  const usual = `${section.code} classes`;
  const layer = names.some((name) => compareText(name, usual) === 0) ? freeName(usual, names) : usual;
  return takeTyped({ name: layer, rule: "at most one" }, groups, `${section.code} divided`);
}
