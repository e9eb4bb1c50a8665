/** Groups and memberships as a file: out, in again, and judged row by row before anything is drafted. Source: semantics.md section 3. */

import { cellsOf, type TextTable } from "../../formats/text-table.ts";
import { compareNames, fullName, holdsAt, isEnrolledAt, lookup } from "../../plan/lookup.ts";
import type { Group, Layer, Person, Plan } from "../../plan/types.ts";
import { fold } from "../../text/caseless.ts";
import { isolated } from "../../text/names.ts";
import { groupsAt, placementsIn } from "../membership.ts";

export const groupFileHeader = ["Layer", "Group", "Label", "Student id", "Family name", "Given name", "Lead"];

/** Every membership of some layers at t, a row each; a group that nobody is in has a row without a student. */
export function groupFileRows(plan: Plan, layerIds: readonly string[], t: number): string[][] {
  return layerIds.flatMap((layerId) =>
    groupsAt(plan, layerId, t).flatMap((group) => {
      const own = [plan.layers[layerId]?.name ?? "", group.name, group.label];
      const people = placementsIn(plan, group.id, t)
        .map(({ personId }) => plan.people[personId] as Person)
        .sort(compareNames);
      if (people.length === 0) return [[...own, "", "", "", ""]];
      return people.map((one) => [
        ...own,
        one.sourcedId,
        one.familyName,
        one.givenName,
        group.leads.includes(one.id) ? "yes" : "",
      ]);
    }),
  );
}

const titles = {
  layer: /^(layer|set|grouping|division)( name)?$/,
  group: /^(group|team)( ?name)?$/,
  label: /^(label|shown|title)$/,
  id: /^((student|person|registrar'?s?|sourced) ?)?(id|no|number)$|^e-?mail$|^(user ?name|login)$/,
  lead: /^(lead|leader|role)$/,
};
type Field = keyof typeof titles;

export const placingVerdicts = ["unreadable", "duplicate", "moved", "new", "changed", "same"] as const;
export type PlacingVerdict = (typeof placingVerdicts)[number];
export interface PlacingRow {
  line: number;
  verdict: PlacingVerdict;
  says: string;
  cells: string[];
}
/** What a file asks for. New layers and groups have no id yet; they are known by their names. */
export interface GroupFile {
  header: string[];
  rows: PlacingRow[];
  counts: Record<PlacingVerdict, number>;
  layers: { name: string; id: string | null }[];
  groups: { layer: string; name: string; id: string | null; label: string | null; leads: string[] | null }[];
  into: { layer: string; group: string; personId: string }[];
  /** People in the layers named whom the file does not list: they leave, where the file is the whole of it. */
  unlisted: { layer: string; groupId: string; personId: string }[];
}

/** Whether a cell says that somebody leads the group of its row. */
export const saysLead = (text: string) => /^(yes|y|x|1|true|lead|leader|\*)$/i.test(text);
/** Whether a heading is of the column of groups. */
export const isGroupHeading = (title: string) => titles.group.test(title.toLowerCase());
const key = (...parts: string[]) => parts.map(fold).join("\n");

/** A person by id, otherwise by e-mail or username, as the course has them. */
function peopleBy(plan: Plan): Map<string, Person> {
  const found = new Map<string, Person>();
  const people = Object.values(plan.people);
  for (const person of people)
    for (const value of [person.username, person.email]) if (value) found.set(fold(value), person);
  for (const person of people) found.set(fold(person.sourcedId), person);
  return found;
}

/** Judges a file against the plan at t. `layerName` is for a file that names no layer. */
export function judgeGroupFile(
  plan: Plan,
  table: TextTable,
  layerName: string,
  t: number,
): GroupFile | { wrong: string } {
  const at = columnsOf(table);
  if (at.group < 0)
    return {
      wrong: `${table.name} has no column called Group. Name the column that holds it, and drop the file again.`,
    };
  if (at.id < 0)
    return { wrong: `${table.name} has no column of student ids. Name it Student id, and drop the file again.` };
  const judging = beginJudging(plan, t, at.lead >= 0);
  const cells = cellsOf(table);
  const rows = table.lines.map((line, row): PlacingRow => {
    const cell = (field: Field) => (at[field] < 0 ? "" : cells.cell(row, at[field]));
    const read = {
      line,
      layer: cell("layer") || layerName,
      group: cell("group"),
      label: cell("label"),
      id: cell("id"),
      lead: cell("lead"),
    };
    const [verdict, says] = judgeRow(judging, read, table.header[at.group] as string);
    return { line, verdict, says, cells: cells.row(row) };
  });
  const counts = Object.fromEntries(
    placingVerdicts.map((verdict) => [verdict, rows.filter((row) => row.verdict === verdict).length]),
  ) as GroupFile["counts"];
  const layers = [...judging.layers.values()];
  return {
    header: table.header,
    rows,
    counts,
    layers,
    groups: [...judging.groups.values()],
    into: judging.into,
    unlisted: unlistedIn(judging, layers),
  };
}

/** Where each field stands in the table; -1 where it has no column. */
function columnsOf(table: TextTable): Record<Field, number> {
  const plain = table.header.map((title) => title.toLowerCase().replace(/[_.]/g, " ").replace(/\s+/g, " ").trim());
  const fields = Object.keys(titles) as Field[];
  return Object.fromEntries(
    fields.map((field) => [field, plain.findIndex((title) => titles[field].test(title))]),
  ) as Record<Field, number>;
}

interface FileRow {
  line: number;
  layer: string;
  group: string;
  label: string;
  id: string;
  lead: string;
}

/** What the rows are judged by, and what they named so far. */
interface Judging {
  plan: Plan;
  t: number;
  /** Whether the file says who leads. */
  saysLeads: boolean;
  people: Map<string, Person>;
  layerBy: Map<string, Layer>;
  groupBy: Map<string, Group>;
  layers: Map<string, GroupFile["layers"][number]>;
  groups: Map<string, GroupFile["groups"][number]>;
  /** Where each person stands by the file, in each layer: to find who is in two. */
  listed: Map<string, { group: string; line: number }[]>;
  into: GroupFile["into"];
}

function beginJudging(plan: Plan, t: number, saysLeads: boolean): Judging {
  const { layers, groupsOfLayer } = lookup(plan);
  const groupBy = new Map<string, Group>();
  for (const layer of layers)
    for (const group of groupsOfLayer.get(layer.id) ?? []) groupBy.set(key(layer.name, group.name), group);
  return {
    plan,
    t,
    saysLeads,
    people: peopleBy(plan),
    layerBy: new Map(layers.map((layer) => [fold(layer.name), layer])),
    groupBy,
    layers: new Map(),
    groups: new Map(),
    listed: new Map(),
    into: [],
  };
}

type Verdict = [PlacingVerdict, string];

function judgeRow(judging: Judging, row: FileRow, groupTitle: string): Verdict {
  const { layer, group: name, label } = row;
  if (layer === "") return ["unreadable", "layer: none is named"];
  if (name === "") return ["unreadable", `${groupTitle}: no group is named`];
  if ([name, layer, label].some((text) => text.length > 200))
    return ["unreadable", "a name is longer than 200 characters"];
  const there = judging.layerBy.get(fold(layer)) ?? null;
  const group = judging.groupBy.get(key(layer, name)) ?? null;
  const named = nameGroup(judging, row, there, group);
  if (row.id === "") return [group ? "same" : "new", group ? "" : "a new group"];
  return judgePerson(judging, row, { named, layer: there, group });
}

/** The group of a row as the file names it: once for all of its rows. */
function nameGroup(judging: Judging, { layer, group: name, label }: FileRow, there: Layer | null, group: Group | null) {
  const layerName = there?.name ?? layer;
  if (!judging.layers.has(fold(layer))) judging.layers.set(fold(layer), { name: layerName, id: there?.id ?? null });
  let named = judging.groups.get(key(layer, name));
  if (!named) {
    named = { layer: layerName, name: group?.name ?? name, id: group?.id ?? null, label: null, leads: null };
    judging.groups.set(key(layer, name), named);
  }
  if (label !== "") named.label ??= label;
  return named;
}

interface RowGroup {
  named: GroupFile["groups"][number];
  layer: Layer | null;
  group: Group | null;
}

function judgePerson(judging: Judging, row: FileRow, where: RowGroup): Verdict {
  const { plan, t, listed, saysLeads } = judging;
  const { named, layer } = where;
  const person = judging.people.get(fold(row.id));
  if (!person) return ["unreadable", `${row.id}: nobody of this course`];
  if (!isEnrolledAt(plan, person.id, t)) return ["unreadable", `${row.id}: not enrolled now`];
  const mine = listed.get(key(named.layer, person.id)) ?? [];
  const again = mine.find((one) => one.group === fold(named.name));
  if (again) return ["duplicate", `the same as line ${again.line}`];
  if (mine.length > 0 && (layer?.rule ?? "at most one") !== "any number")
    return ["unreadable", `${isolated(fullName(person))} is in ${mine[0]?.group} on line ${mine[0]?.line} already`];
  listed.set(key(named.layer, person.id), [...mine, { group: fold(named.name), line: row.line }]);
  if (saysLeads) {
    named.leads ??= [];
    if (saysLead(row.lead)) named.leads.push(person.id);
  }
  return judgePlace(judging, person.id, saysLead(row.lead), where);
}

/** What it is to somebody to be in the group that a row names. */
function judgePlace(judging: Judging, personId: string, leads: boolean, { named, layer, group }: RowGroup): Verdict {
  const { plan, t, saysLeads } = judging;
  const open = (lookup(plan).placementsOfPerson.get(personId) ?? []).filter(
    (placement) => holdsAt(placement, t) && plan.groups[placement.groupId]?.layerId === layer?.id,
  );
  if (group && open.some(({ groupId }) => groupId === group.id)) {
    const led = group.leads.includes(personId);
    return saysLeads && led !== leads ? ["changed", leads ? "leads" : "leads no longer"] : ["same", ""];
  }
  judging.into.push({ layer: named.layer, group: named.name, personId });
  const from = layer?.rule === "any number" ? [] : open;
  if (from.length === 0) return ["new", `into ${named.name}`];
  return ["moved", `from ${from.map(({ groupId }) => plan.groups[groupId]?.name).join(" and ")}`];
}

/** Who is in a group of the layers named, and not in the file's rows for it. */
function unlistedIn({ plan, t, listed }: Judging, layers: GroupFile["layers"]): GroupFile["unlisted"] {
  return layers.flatMap(({ name, id }) => {
    const anyNumber = plan.layers[id ?? ""]?.rule === "any number";
    return (id ? groupsAt(plan, id, t) : []).flatMap((group) =>
      placementsIn(plan, group.id, t).flatMap(({ personId }) => {
        const mine = listed.get(key(name, personId)) ?? [];
        const isListed = anyNumber ? mine.some((one) => one.group === fold(group.name)) : mine.length > 0;
        return isListed ? [] : [{ layer: name, groupId: group.id, personId }];
      }),
    );
  });
}
